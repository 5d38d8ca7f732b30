"""What is kept of a swing comes back as it was, to the bit; what is not known is refused in words."""

from __future__ import annotations

import struct
from dataclasses import replace

import numpy as np
import pytest

from finearc.catalogue import library
from finearc.catalogue.rule_set import built_in
from finearc.core.events.model import Checkpoint
from finearc.core.judging.ranges import Verdict
from finearc.golfer.scenarios import play
from finearc.services.judging import analysis as an
from finearc.services.judging.judge import judge_record, outside_of
from finearc.services.judging.terms import Terms
from finearc.services.modelled import capture_of
from finearc.services.record import blocks, framing
from finearc.services.record.codec import pack_record, unpack_record, unpack_to_judge, unpack_values
from finearc.services.record.framing import UnknownDocument
from finearc.services.record.judgements import (
    changed_verdicts,
    pack_judgement,
    sides,
    told,
    unpack_judgement,
    with_outside,
)
from finearc.services.record.making import Surroundings, record_of


@pytest.fixture(scope="module", params=[("wrist", "club"), ("markers", "pressure"), ("wrist", "markers")], ids="+".join)
def made(request):
    data = capture_of(play("over-extended", 4, sources=request.param))
    reading = an.read(data)
    return record_of(reading.swings[1], Surroundings.of(reading, 1.78))


@pytest.fixture(scope="module")
def terms():
    return Terms(built_in(), library.default_schools(), "adult")


def test_a_record_comes_back_to_the_bit(made):
    back = unpack_record(pack_record(made.record))
    assert replace(back, values={}) == replace(made.record, values={})
    assert list(back.values) == list(made.record.values)
    for key, m in made.record.values.items():
        b = back.values[key]
        assert (b.value, b.uncertainty, b.calibration_part) == (m.value, m.uncertainty, m.calibration_part)
        assert (b.source, b.note, b.not_judged_reason) == (m.source, m.note, m.not_judged_reason)
        assert [(o.source, o.value, o.uncertainty) for o in b.others] == [
            (o.source, o.value, o.uncertainty) for o in m.others
        ]
    assert pack_record(back) == pack_record(made.record)


def test_what_judging_reads_is_the_same_as_the_whole_document(made, terms):
    block = pack_record(made.record)
    stored = unpack_to_judge(block, terms.wanted)
    assert set(stored.values) == set(made.record.values) & terms.wanted
    assert {k: m.value for k, m in stored.values.items()} == {k: made.record.values[k].value for k in stored.values}
    assert stored.times == {k: e.time_s for k, e in made.record.checkpoints.items()}
    assert (stored.missing, stored.traced, stored.doubt) == (
        made.record.missing,
        made.record.traced,
        made.record.doubt,
    )
    only = frozenset([("tempo", "swing")])
    assert set(unpack_values(block, only)[0]) <= only


def test_a_judgement_comes_back_with_the_ranges_it_was_judged_by(made, terms):
    judgement = judge_record(made.record, terms, "7-iron", "full")
    back = unpack_judgement(pack_judgement(judgement), terms.rule_set.ranges)
    assert {k: (j.verdict, j.low, j.high, j.range, j.reason) for k, j in back.judged.items()} == {
        k: (j.verdict, j.low, j.high, j.range, j.reason) for k, j in judgement.judged.items()
    }
    assert {k: (o.fires, o.severity, o.probability, o.reason) for k, o in back.outcomes.items()} == {
        k: (o.fires, o.severity, o.probability, o.reason) for k, o in judgement.outcomes.items()
    }
    for rule, outcome in judgement.outcomes.items():
        assert [e.measured.moment for e in back.outcomes[rule].evidence] == [
            e.measured.moment for e in outcome.evidence
        ]
    assert (back.bands, back.matched, back.pattern, back.instants) == (
        judgement.bands,
        judgement.matched,
        judgement.pattern,
        judgement.instants,
    )


def test_judging_again_gives_the_same_bytes(made, terms):
    first = pack_judgement(judge_record(made.record, terms, "7-iron", "full"))
    again = judge_record(unpack_record(pack_record(made.record)), terms, "7-iron", "full")
    assert pack_judgement(again) == first
    assert sides(told(first))


@pytest.mark.parametrize("other", ["school", "club", "nothing judged", "the same"])
def test_only_rows_that_differ_are_written_and_they_make_the_others_whole(made, terms, other):
    now = judge_record(made.record, terms, "7-iron", "full")
    schooled = terms.with_schools({"lead_wrist": "hold" if terms.schools["lead_wrist"] != "hold" else "flat"})
    then = {
        "school": lambda: judge_record(made.record, schooled, "7-iron", "full"),
        "club": lambda: judge_record(made.record, terms, "driver", "full"),
        "nothing judged": lambda: judge_record(replace(made.record, doubt="no samples"), terms, "7-iron", "full"),
        "the same": lambda: now,
    }[other]()
    before, after = (told(pack_judgement(j)) for j in (now, then))
    kept = {row.key: row for row in changed_verdicts(before, None)[0]}
    changed, gone = changed_verdicts(after, before)
    assert all(kept.get(row.key) != row for row in changed)
    for row in changed:
        kept[row.key] = row
    for key in gone:
        del kept[key]
    assert kept == {row.key: row for row in changed_verdicts(after, None)[0]}
    assert bool(changed or gone) == (other != "the same")
    judged = {k: j for k, j in then.judged.items() if j.range is not None}
    assert {k: (r.range_id, r.verdict, r.low, r.high) for k, r in kept.items()} == {
        k: (j.range.id, j.verdict, j.low, j.high) for k, j in judged.items()
    }


def test_stretches_outside_the_band_can_be_added_without_touching_a_verdict(made, terms):
    judgement = judge_record(made.record, terms, "7-iron", "full")
    assert all(spans is None for spans in judgement.outside.values())
    outside = outside_of(judgement.bands, blocks.unpack_traces(made.blocks[blocks.TRACES]))
    assert set(outside) == set(judgement.bands)
    block = pack_judgement(judgement)
    later = with_outside(block, dict(outside))
    assert told(later).table == told(block).table
    back = unpack_judgement(later, terms.rule_set.ranges)
    assert back.outside == outside
    for metric, spans in outside.items():
        low_end, high_end = judgement.bands[metric][0][0], judgement.bands[metric][-1][0]
        assert all(low_end <= a < b <= high_end for a, b in spans)


def test_a_value_of_another_club_is_not_judged_and_says_why(made, terms):
    judged = judge_record(made.record, terms, "driver", "full").judged
    with_reason = [j for j in judged.values() if j.verdict is Verdict.NOT_JUDGED and "club" in j.reason]
    assert with_reason


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda b: b.replace(b"FAS2", b"FAS9"), "FAS9"),
        (lambda b: _with_head(b, b'"version":2', b'"version":7'), "version is 7"),
        (lambda b: _with_head(b, b'"warnings"', b'"warmings"'), "warnings"),
    ],
)
def test_a_document_of_another_version_is_refused_in_words(made, spoil, says):
    with pytest.raises(UnknownDocument) as refused:
        unpack_record(spoil(pack_record(made.record)))
    assert says in str(refused.value)
    assert "Update Fine Arc" in str(refused.value)


def _with_head(block, old, new):
    at = block.index(b"FAS2") + 4
    (size,) = struct.unpack_from("<I", block, at)
    head = block[at + 4 : at + 4 + size].replace(old, new)
    return block[:at] + struct.pack("<I", len(head)) + head + block[at + 4 + size :]


def test_detected_checkpoints_stand_beside_the_moved_ones():
    data = capture_of(play("flat", 2))
    prepared = an.read_and_prepare(data)[1]
    top = an.read(data).swings[0].events[Checkpoint.TOP].time_s
    reading = an.read(data, {0: {Checkpoint.TOP: top - 0.1}})
    record = record_of(reading.swings[0], Surroundings.of(reading, None)).record
    assert record.checkpoints[Checkpoint.TOP].method == "instructor"
    assert record.checkpoints[Checkpoint.TOP].time_s == pytest.approx(top - 0.1, abs=0.006)
    assert len(prepared.states) == len(prepared.spans) + 1, "before each swing, and after the last"
    assert np.isfinite([m.value for m in record.values.values()]).all()


@pytest.mark.parametrize("cut", [0, 3, 4, 6, 8, 9])
def test_a_document_that_ends_in_its_head_says_so(cut):
    """Head and table come back whole; cut anywhere in the head it is said, and never read as something else."""
    whole = framing.document(b"FAJ2", b"{}", b"table")
    assert framing.parts(b"FAJ2", whole) == (b"{}", b"table")
    with pytest.raises(framing.UnknownDocument, match=r"begins with|ends after"):
        framing.parts(b"FAJ2", whole[:cut])
