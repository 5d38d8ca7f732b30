"""the swing record: one document; values, verdicts and findings in rows; blocks apart; what a closed lesson keeps"""

from __future__ import annotations

import json
from collections.abc import Mapping
from typing import Any
from uuid import UUID, uuid4

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import mysql

from finearc.catalogue import library, schemas
from finearc.catalogue.rule_set import RuleSet, compose
from finearc.services.judging.judge import findings_of
from finearc.services.lesson.setup_answer import setup_answer
from finearc.services.record import legacy
from finearc.services.record.codec import pack_record
from finearc.services.record.judgements import pack_judgement

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None

MOMENT = mysql.DATETIME(fsp=6)
BLOB = sa.LargeBinary().with_variant(mysql.LONGBLOB(), "mysql", "mariadb")
TEXT = sa.Text().with_variant(mysql.LONGTEXT(), "mysql", "mariadb")
BAYS = ("Bay 1", "Bay 2", "Bay 3")
OLD = ("events_detected", "result", "traces", "figure", "ground", "measured")


def _swing_key() -> sa.Column[Any]:
    return sa.Column("swing_id", sa.Uuid(), sa.ForeignKey("swing.id", ondelete="CASCADE"), primary_key=True)


def _owner() -> sa.Column[Any]:
    return sa.Column("academy_id", sa.Uuid(), nullable=False)


def _text(name: str, size: int, *, key: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.String(size), primary_key=key, nullable=False)


def _double(name: str, *, nullable: bool = False) -> sa.Column[Any]:
    return sa.Column(name, sa.Double(), nullable=nullable)


def _academy() -> sa.Column[Any]:
    return sa.Column(
        "academy_id", sa.Uuid(), sa.ForeignKey("academy.id", ondelete="CASCADE"), nullable=False, index=True
    )


def _new_tables() -> None:
    op.create_table(
        "bay",
        sa.Column("id", sa.Uuid(), primary_key=True),
        _academy(),
        _text("name", 60),
        sa.Column("place", sa.Integer(), nullable=False),
        sa.UniqueConstraint("academy_id", "name", name="uq_bay_academy_id_name"),
    )
    op.create_table(
        "own_rules",
        sa.Column("id", sa.Uuid(), primary_key=True),
        _academy(),
        sa.Column("revision", sa.Integer(), nullable=False),
        sa.Column("findings", sa.JSON(), nullable=False),
        sa.Column("drills", sa.JSON(), nullable=False),
        sa.Column("saved_at", MOMENT, nullable=False),
        sa.UniqueConstraint("academy_id", "revision", name="uq_own_rules_academy_id_revision"),
    )
    for name in ("swing_record", "swing_judgement"):
        op.create_table(name, _swing_key(), _owner(), sa.Column("document", BLOB, nullable=False))
    op.create_table(
        "swing_block", _swing_key(), _text("kind", 20, key=True), _owner(), sa.Column("content", BLOB, nullable=False)
    )
    op.create_table(
        "swing_value",
        _swing_key(),
        _text("metric", 60, key=True),
        _text("moment", 60, key=True),
        _owner(),
        sa.Column("player_id", sa.Uuid(), nullable=False),
        _text("club", 30),
        sa.Column("captured_at", MOMENT, nullable=False),
        _double("value"),
        _double("uncertainty"),
        _double("calibration_part"),
        _text("source", 40),
    )
    op.create_index("ix_swing_value_course", "swing_value", ["player_id", "metric", "moment", "club", "captured_at"])
    op.create_table(
        "swing_verdict",
        _swing_key(),
        _text("metric", 60, key=True),
        _text("moment", 60, key=True),
        _owner(),
        _text("verdict", 20),
        _text("range_id", 60),
        _double("low", nullable=True),
        _double("high", nullable=True),
    )
    op.create_table(
        "swing_finding",
        _swing_key(),
        _text("finding", 60, key=True),
        _owner(),
        sa.Column("player_id", sa.Uuid(), nullable=False),
        _text("club", 30),
        sa.Column("captured_at", MOMENT, nullable=False),
        _double("severity"),
        _double("confidence"),
        _text("role", 20),
        sa.Column("explained_by", sa.String(60)),
    )
    op.create_index("ix_swing_finding_course", "swing_finding", ["player_id", "finding", "captured_at"])
    op.create_table(
        "lesson_summary",
        sa.Column("lesson_id", sa.Uuid(), sa.ForeignKey("lesson.id", ondelete="CASCADE"), primary_key=True),
        _text("club", 30, key=True),
        _owner(),
        sa.Column("document", TEXT, nullable=False),
    )


def _column(table: str, column: sa.Column[Any], default: str) -> None:
    """A column that is not null, filled for the rows that are there."""
    column.server_default = sa.DefaultClause(sa.text(default))
    op.add_column(table, column)
    op.alter_column(table, column.name, existing_type=column.type, existing_nullable=False, server_default=None)


def upgrade() -> None:
    _new_tables()
    _column("academy", sa.Column("time_zone", sa.String(60), nullable=False), "'UTC'")
    _column("swing", sa.Column("measuring", sa.Integer(), nullable=False), "1")
    op.add_column("lesson", sa.Column("schools", sa.JSON(), nullable=True))
    op.add_column("lesson", sa.Column("rules_revision", sa.Integer(), nullable=True))
    op.add_column("recording", sa.Column("setup", sa.JSON(), nullable=True))
    op.add_column("swing", sa.Column("player_id", sa.Uuid(), nullable=True))
    op.execute("UPDATE swing JOIN lesson ON lesson.id = swing.lesson_id SET swing.player_id = lesson.player_id")
    op.execute("ALTER TABLE swing RENAME COLUMN events_corrected TO checkpoints_corrected")
    op.alter_column("swing", "player_id", existing_type=sa.Uuid(), nullable=False)
    op.create_foreign_key("fk_swing_player_id", "swing", "player", ["player_id"], ["id"], ondelete="CASCADE")
    op.create_index("ix_swing_player_id", "swing", ["player_id"])
    op.create_index("ix_swing_player_time", "swing", ["player_id", "club", "captured_at"])
    op.create_index("ix_swing_club", "swing", ["academy_id", "club", "captured_at"])
    op.create_index("ix_lesson_diary", "lesson", ["academy_id", "starts_at"])
    op.create_index("ix_lesson_player", "lesson", ["player_id", "starts_at"])
    _Data(op.get_bind()).move()
    for name in OLD:
        op.drop_column("swing", name)


def downgrade() -> None:
    """Back to the old shape. What was measured is not carried back: version 1 cannot hold it; swings are measured
    again from their raw streams."""
    empty = {"events_detected": "'{}'", "result": "'{}'"}
    for name in OLD:
        kind = sa.JSON() if name in empty else BLOB
        op.add_column("swing", sa.Column(name, kind, nullable=False, server_default=sa.text(empty.get(name, "''"))))
        op.alter_column("swing", name, existing_type=kind, existing_nullable=False, server_default=None)
    op.execute("ALTER TABLE swing RENAME COLUMN checkpoints_corrected TO events_corrected")
    op.drop_constraint("fk_swing_player_id", "swing", type_="foreignkey")
    for index in ("ix_swing_player_time", "ix_swing_player_id", "ix_swing_club"):
        op.drop_index(index, "swing")
    for table, names in (
        ("swing", ("player_id", "measuring")),
        ("lesson", ("schools", "rules_revision")),
        ("recording", ("setup",)),
        ("academy", ("time_zone",)),
    ):
        for name in names:
            op.drop_column(table, name)
    op.execute("ALTER TABLE lesson DROP FOREIGN KEY fk_lesson_player_id")
    op.drop_index("ix_lesson_player", "lesson")
    op.create_foreign_key("fk_lesson_player_id", "lesson", "player", ["player_id"], ["id"], ondelete="CASCADE")
    op.execute("ALTER TABLE lesson DROP FOREIGN KEY fk_lesson_academy_id")
    op.drop_index("ix_lesson_diary", "lesson")
    op.create_foreign_key("fk_lesson_academy_id", "lesson", "academy", ["academy_id"], ["id"], ondelete="CASCADE")
    for table in (
        "lesson_summary",
        "swing_finding",
        "swing_verdict",
        "swing_value",
        "swing_block",
        "swing_judgement",
        "swing_record",
        "own_rules",
        "bay",
    ):
        op.drop_table(table)


class _Data:
    """Moves the rows of earlier releases, academy by academy and swing by swing, with nothing but SQL and the reader of
    version 1."""

    def __init__(self, bind: sa.Connection) -> None:
        self.bind = bind
        meta = sa.MetaData()
        meta.reflect(bind)
        self.t = meta.tables
        self.sets: dict[tuple[bytes, str], RuleSet] = {}

    def rows(self, query: str, **values: Any) -> list[Mapping[str, Any]]:
        return [dict(row) for row in self.bind.execute(sa.text(query), values).mappings()]

    def put(self, table: str, rows: list[dict[str, Any]]) -> None:
        if rows:
            self.bind.execute(sa.insert(self.t[table]), rows)

    def move(self) -> None:
        for academy in self.rows("SELECT id FROM academy"):
            self._academy(academy["id"])
        self._renamed_changes()

    def _academy(self, key: Any) -> None:
        used = [r["bay"] for r in self.rows("SELECT DISTINCT bay FROM lesson WHERE academy_id = :a", a=key)]
        names = list(dict.fromkeys((*BAYS, *sorted(b for b in used if b))))
        for place, name in enumerate(names, 1):
            self.bind.execute(
                sa.text("INSERT INTO bay (id, academy_id, name, place) VALUES (:i, :a, :n, :p)"),
                {"i": str(uuid4()), "a": key, "n": name, "p": place},
            )
        kept = self.rows("SELECT schools, findings, drills, revision FROM academy_rules WHERE academy_id = :a", a=key)
        own = {k: json.loads(kept[0][k]) for k in ("schools", "findings", "drills")} if kept else {}
        current = kept[0]["revision"] if kept else 0
        if current:
            self.bind.execute(
                sa.text(
                    "INSERT INTO own_rules (id, academy_id, revision, findings, drills, saved_at) "
                    "VALUES (:i, :a, :r, :f, :d, UTC_TIMESTAMP(6))"
                ),
                {
                    "i": str(uuid4()),
                    "a": key,
                    "r": current,
                    "f": json.dumps(own["findings"]),
                    "d": json.dumps(own["drills"]),
                },
            )
        self._recordings(key, own)
        lessons = self.rows(
            "SELECT lesson.id, status, benchmarks, population, player.schools FROM lesson "
            "JOIN player ON player.id = player_id WHERE lesson.academy_id = :a",
            a=key,
        )
        for lesson in lessons:
            held = {**library.default_schools(), **own.get("schools", {}), **json.loads(lesson["schools"])}
            judged_in = self._lesson(key, lesson, own, current, held)
            if lesson["status"] == "closed":
                self.bind.execute(
                    sa.text("UPDATE lesson SET schools = :s, rules_revision = :r, benchmarks = :b WHERE id = :i"),
                    {
                        "s": json.dumps(judged_in),
                        "r": current,
                        "b": lesson["benchmarks"] or library.ranges().version,
                        "i": lesson["id"],
                    },
                )

    def _rule_set(self, academy: Any, label: str, own: Mapping[str, Any]) -> RuleSet:
        if (academy, label) not in self.sets:
            ranges = library.ranges()
            name, _, number = label.rpartition(" ")
            if label and label != ranges.version:
                found = self.rows(
                    "SELECT entries FROM benchmark_version WHERE academy_id = :a AND name = :n AND number = :k",
                    a=academy,
                    n=name,
                    k=int(number) if number.isdigit() else -1,
                )
                if found:
                    entries = [schemas.RangeEntry(**e) for e in json.loads(found[0]["entries"])]
                    ranges = library.range_library(schemas.RangeFile(version=label, range=entries), label)
            file = schemas.AcademyRulesFile.model_validate(
                {"finding": own.get("findings", []), "drill": own.get("drills", [])}
            )
            self.sets[academy, label] = compose(ranges, file)
        return self.sets[academy, label]

    def _recordings(self, academy: Any, own: Mapping[str, Any]) -> None:
        """The setup answer leaves the calibration, where it stood as values."""
        rule_set = self._rule_set(academy, "", own)
        found = self.rows(
            "SELECT id, calibration, warnings FROM recording WHERE academy_id = :a AND calibration IS NOT NULL",
            a=academy,
        )
        for r in found:
            calibration = json.loads(r["calibration"]) or {}
            setup = calibration.pop("setup", None)
            answer = None
            if setup:
                judged = legacy.judged_entries(setup, rule_set.ranges)
                answer = setup_answer(judged, rule_set, json.loads(r["warnings"]))
            self.bind.execute(
                sa.text("UPDATE recording SET calibration = :c, setup = :s WHERE id = :i"),
                {
                    "c": json.dumps(calibration),
                    "s": None if answer is None else answer.model_dump_json(),
                    "i": r["id"],
                },
            )

    def _lesson(
        self, academy: Any, lesson: Mapping[str, Any], own: Mapping[str, Any], revision: int, held: Mapping[str, str]
    ) -> Mapping[str, str]:
        """The lesson's swings; returns the schools they were judged in."""
        schools: Mapping[str, str] = held
        for s in self.rows("SELECT id FROM swing WHERE lesson_id = :l ORDER BY number", l=lesson["id"]):
            row = self.rows(
                "SELECT swing.*, recording.warnings FROM swing JOIN recording ON recording.id = recording_id "
                "WHERE swing.id = :i",
                i=s["id"],
            )[0]
            result = json.loads(row["result"])
            if result:
                schools = {**held, **result.get("schools", {})}
                rule_set = self._rule_set(academy, result.get("benchmarks", ""), own)
                self._swing(row, result, rule_set, revision, schools, lesson["population"])
        return schools

    def _swing(
        self,
        row: Mapping[str, Any],
        result: Mapping[str, Any],
        rule_set: RuleSet,
        revision: int,
        schools: Mapping[str, str],
        population: str,
    ) -> None:
        warnings = json.loads(row["warnings"])
        traces, columns = legacy.traces_of(row["traces"])
        traced = [k for k in columns if k != "time_s"]
        doubt = warnings[0] if warnings else ""
        record = legacy.record_of(
            result, json.loads(row["events_detected"]), row["measured"], traced, bool(row["sensor_moved"]), doubt
        )
        club = (row["club"], row["shot"], population)
        judgement = legacy.judgement_of(result, record, rule_set, revision, schools, club, columns)
        owner = {"swing_id": _uuid(row["id"]), "academy_id": _uuid(row["academy_id"])}
        self.put("swing_record", [{**owner, "document": pack_record(record)}])
        self.put("swing_judgement", [{**owner, "document": pack_judgement(judgement)}])
        blocks = {"traces": traces, "figure": row["figure"], "ground": row["ground"]}
        self.put("swing_block", [{**owner, "kind": k, "content": b} for k, b in blocks.items() if b])
        course = {
            **owner,
            "player_id": _uuid(row["player_id"]),
            "club": row["club"],
            "captured_at": row["captured_at"],
        }
        self.put(
            "swing_value",
            [
                {
                    **course,
                    "metric": metric,
                    "moment": moment,
                    "value": v.value,
                    "uncertainty": v.uncertainty,
                    "calibration_part": v.calibration_part,
                    "source": v.source.value,
                }
                for (metric, moment), v in record.values.items()
            ],
        )
        self.put(
            "swing_verdict",
            [
                {
                    **owner,
                    "metric": metric,
                    "moment": moment,
                    "verdict": j.verdict.value,
                    "range_id": j.range.id,
                    "low": j.low,
                    "high": j.high,
                }
                for (metric, moment), j in judgement.judged.items()
                if j.range is not None
            ],
        )
        self.put(
            "swing_finding",
            [
                {
                    **course,
                    "finding": f.rule.id,
                    "severity": f.severity,
                    "confidence": f.confidence,
                    "role": f.role,
                    "explained_by": f.explained_by,
                }
                for f in findings_of(judgement, rule_set)[0]
            ],
        )

    def _renamed_changes(self) -> None:
        for row in self.rows("SELECT id, `before`, `after` FROM change_entry WHERE entity = 'swing'"):
            texts = {k: row[k].replace('"events_corrected"', '"checkpoints_corrected"') for k in ("before", "after")}
            if texts["before"] != row["before"] or texts["after"] != row["after"]:
                self.bind.execute(
                    sa.text("UPDATE change_entry SET `before` = :b, `after` = :a WHERE id = :i"),
                    {"b": texts["before"], "a": texts["after"], "i": row["id"]},
                )


def _uuid(value: Any) -> Any:
    return value if isinstance(value, UUID) else UUID(str(value))
