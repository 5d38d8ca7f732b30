"""``finearc``: analyse, simulate and convert without a database or a server.

Nothing is imported before it is known what was asked for: ``finearc --version`` starts as quickly as Python does."""

from __future__ import annotations

import argparse
import json
import sys
import traceback
from collections.abc import Sequence
from pathlib import Path
from typing import TYPE_CHECKING

from finearc import __version__

if TYPE_CHECKING:
    from pydantic import BaseModel

    from finearc.core.judging.ranges import Judged
    from finearc.services.judging.analysis import Analysis, Options

UNUSABLE = 2


def _options(args: argparse.Namespace) -> Options:
    from finearc.catalogue import library
    from finearc.catalogue.rule_set import built_in, with_ranges
    from finearc.catalogue.toml_file import DataFileError
    from finearc.services.judging.analysis import Options

    chosen = {}
    for item in args.school or []:
        axis, separator, option = item.partition("=")
        if not separator:
            raise DataFileError("--school", f'"{item}" should read axis=option, as lead_wrist=flat')
        library.known_school(axis, option)
        chosen[axis] = option
    rule_set = with_ranges(library.ranges(Path(args.benchmarks))) if args.benchmarks else built_in()
    return Options(chosen, rule_set)


def _analyze(args: argparse.Namespace) -> int:
    from finearc.formats.bundle import read_bundle
    from finearc.services.judging.analysis import analyse

    options = _options(args)
    return _print(analyse(read_bundle(Path(args.bundle)), options), args)


def _print(analysis: Analysis, args: argparse.Namespace) -> int:
    """As JSON, or as the table for people."""
    from finearc.services.record.result import result_of

    if args.json:
        import orjson

        result = result_of(analysis, traces=args.traces).model_dump(mode="json", exclude_none=False)
        if not args.traces:
            for swing in result["swings"]:
                del swing["traces"]
        sys.stdout.write(orjson.dumps(result, option=orjson.OPT_INDENT_2).decode() + "\n")
    else:
        print(report(analysis))
    return 0


def _live(args: argparse.Namespace) -> int:
    from finearc.catalogue.toml_file import DataFileError
    from finearc.cli.playing import with_shown
    from finearc.devices.played import Faults, play_live
    from finearc.formats.bundle import read_bundle

    if not 0.0 <= args.loss <= 0.9 or args.burst_ms <= 0 or args.late_ms < 0:
        raise DataFileError("--loss, --burst-ms, --late-ms", "loss is 0 to 0.9, the others are milliseconds from 0 on")
    faults = Faults(args.loss, args.burst_ms, args.late_ms, args.seed)
    analysis, shown = play_live(read_bundle(Path(args.bundle)), faults, _options(args))
    return _print(with_shown(analysis, shown) if args.traces else analysis, args)


def _compare(args: argparse.Namespace) -> int:
    from finearc.cli.comparing import compare_bundles

    return compare_bundles(args, _options(args))


def _change(args: argparse.Namespace) -> int:
    from finearc.cli.comparing import change

    return change(args, _options(args))


def _round(args: argparse.Namespace) -> int:
    from finearc.cli.rounds import print_round

    return print_round(args)


def _devices(args: argparse.Namespace) -> int:
    from finearc.cli.standing_in import run_devices

    return run_devices(args)


def _bridge(args: argparse.Namespace) -> int:
    from finearc.cli.standing_in import run_lab_streaming

    return run_lab_streaming(args)


def report(analysis: Analysis) -> str:
    """The table for people."""
    from finearc.core.judging.ranges import Verdict
    from finearc.core.judging.words import evidence_sentence
    from finearc.core.metrics.registry import ALL

    lines = [f"engine {__version__} · ranges {analysis.options.rule_set.ranges.version}"]
    if analysis.calibration:
        lines.append(
            f"calibration {100 * analysis.calibration.quality.score:.0f} % · " + " ".join(analysis.calibration.notes)
        )
    lines += list(analysis.reading.notes)
    lines += [f"! {w}" for w in analysis.reading.warnings]
    for number, swing in enumerate(analysis.swings, 1):
        pattern = f" · {swing.pattern.pattern.value.replace('_', ' ')}" if swing.pattern else ""
        lines.append(f"\nswing {number} · {swing.reading.start_s:.2f} to {swing.reading.end_s:.2f} s{pattern}")
        lines += [f"  ! {w}" for w in swing.reading.warnings]
        lines += [_row(j) for j in swing.judged if j.verdict is not Verdict.NOT_JUDGED or not j.range]
        lines += [f"  {k.replace('_', ' '):22} absent: {why}" for k, why in swing.reading.absent.items()]
    lines.append("\nfindings")
    if not analysis.findings:
        lines.append("  nothing to change")
    for f in analysis.findings:
        cause = f" (fits with {f.explained_by})" if f.explained_by else ""
        lines.append(
            f"  {f.rule.label}: {f.status}, {f.shown} of {f.assessed} swings, severity {f.severity:.2f}, "
            f"confidence {f.confidence:.2f}{cause}"
        )
        lines += [f"      {evidence_sentence(e)}" for e in f.evidence]
    missing = max((len(s.missing) for s in analysis.swings), default=0)
    lines.append(f"\nnot measured: {missing} of {len(ALL)} metrics need other sources or checkpoints (see --json)")
    return "\n".join(lines)


def _row(judged: Judged) -> str:
    from finearc.core.judging.ranges import Verdict
    from finearc.core.metrics.words import change_in_words, in_words

    m = judged.measured
    say = change_in_words if m.moment.is_change else in_words
    verdict = "" if judged.verdict is Verdict.NOT_JUDGED else judged.verdict.value.replace("_", " ")
    where = m.moment.key.replace("_", " ")
    value, spread = say(m.metric, m.value), m.metric.at_edge(m.uncertainty)
    return f"  {m.metric.label:30} {where:32} {value:28} ± {spread:<6.1f} {verdict}"


def _simulate(args: argparse.Namespace) -> int:
    from finearc.catalogue import library
    from finearc.catalogue.toml_file import DataFileError
    from finearc.core.frames.handedness import Hand
    from finearc.formats.bundle import write_bundle
    from finearc.formats.simulated import putting_truth_json, truth_json
    from finearc.golfer.putting.scenarios import PUTTING, SENSORS as PUTTING_SENSORS, play_putting
    from finearc.golfer.scenarios import SENSORS, play
    from finearc.services.modelled import capture_of, putting_capture_of

    if args.club not in library.clubs():
        raise DataFileError("--club", f'there is no club "{args.club}"; known: {", ".join(library.clubs())}')
    from finearc.golfer.course.round import STORIES

    sources = [s.strip() for s in args.sources.split(",") if s.strip()]
    known = PUTTING_SENSORS if args.scenario in PUTTING else SENSORS
    unknown = [s for s in sources if s not in known]
    if unknown or not sources:
        names = ", ".join(known)
        raise DataFileError(
            "--sources", f'"{", ".join(unknown) or "none"}" cannot be simulated in this version; known: {names}'
        )
    out = Path(args.out)
    if args.scenario in STORIES:
        return _simulate_round(args.scenario, args.seed, out)
    if args.scenario in PUTTING:
        session = play_putting(PUTTING[args.scenario], args.seed, sources=sources, hand=Hand(args.hand))
        write_bundle(putting_capture_of(session), out, {"truth.json": putting_truth_json(session)})
        print(f"{out}: {args.scenario}, {len(session.swings)} putts, seed {args.seed}", file=sys.stderr)
        return 0
    recording = play(args.scenario, args.seed, sources=sources, hand=Hand(args.hand), height_m=args.height)
    write_bundle(
        capture_of(recording, club=args.club, height_m=args.height), out, {"truth.json": truth_json(recording)}
    )
    print(f"{out}: {args.scenario}, {len(recording.swings)} swings, seed {args.seed}", file=sys.stderr)
    return 0


def _simulate_round(story: str, seed: int, out: Path) -> int:
    from finearc.formats.bundle import write_files
    from finearc.formats.round_bundle import round_files
    from finearc.formats.simulated import round_truth_json
    from finearc.golfer.course.round import play_round
    from finearc.services.modelled import round_of

    played = play_round(story, seed)
    write_files(round_files(round_of(played), {"truth.json": round_truth_json(played)}), out)
    print(f"{out}: {story}, {len(played.card)} shots, seed {seed}", file=sys.stderr)
    return 0


def _convert(args: argparse.Namespace) -> int:
    from finearc.formats.bundle import read_bundle
    from finearc.formats.tables import convert

    convert(read_bundle(Path(args.bundle)), Path(args.out))
    return 0


def _schema(args: argparse.Namespace) -> int:
    from finearc.formats.manifest import manifest_type
    from finearc.formats.round_bundle import RoundManifest
    from finearc.services.course.round_result import RoundResult
    from finearc.services.record.result import Result

    shapes: dict[str, type[BaseModel]] = {
        "manifest": manifest_type(),
        "result": Result,
        "round": RoundResult,
        "round-manifest": RoundManifest,
    }
    print(json.dumps(shapes[args.what].model_json_schema(), indent=2))
    return 0


def _measure_again(args: argparse.Namespace) -> int:
    from finearc.cli.measuring import measure_again

    return measure_again(_url(args), "accept" if args.accept else "dismiss" if args.dismiss else "")


def _backup(args: argparse.Namespace) -> int:
    from finearc.cli.keeping import make_backup

    return make_backup(args)


def _restore(args: argparse.Namespace) -> int:
    from finearc.cli.keeping import bring_back

    return bring_back(args)


def _url(args: argparse.Namespace) -> str:
    """The database that is named, else the one that ./start runs on a data folder."""
    from finearc.launch.mariadb import MariaDb

    return args.url or f"{MariaDb(args.data, args.db_port).url}/finearc?charset=utf8mb4"


def _academy(args: argparse.Namespace) -> int:
    from getpass import getpass

    from finearc.cli.academies import new_academy

    password = getpass("Password: ") if sys.stdin.isatty() else sys.stdin.readline().rstrip("\n")
    return new_academy(_url(args), args.academy, args.person, args.email, password)


def _of_bundle(command: argparse.ArgumentParser) -> None:
    """Options of a command that measures a bundle."""
    command.add_argument("bundle", metavar="BUNDLE", help="folder or .zip with capture.json")
    _measuring(command)
    command.add_argument("--traces", action="store_true", help="with --json: include the traces")


def _measuring(command: argparse.ArgumentParser) -> None:
    command.add_argument("--school", action="append", metavar="AXIS=OPTION", help="e.g. lead_wrist=flat")
    command.add_argument("--benchmarks", metavar="FILE", help="a TOML file of ranges")
    command.add_argument("--json", action="store_true", help="print the result as JSON")


def _on_database(command: argparse.ArgumentParser) -> None:
    """Options of a command on a running database."""
    from finearc.launch.options import DATA, DB_PORT

    command.add_argument("--data", type=Path, default=DATA, help="data folder of ./start (default: %(default)s)")
    command.add_argument("--db-port", type=int, default=DB_PORT, help="its database's port (default: %(default)s)")
    command.add_argument("--url", default="", metavar="URL", help="another database's address instead")


def _of_backup(command: argparse.ArgumentParser) -> None:
    """Options of a command on a folder of backups."""
    from finearc.launch.options import DATA, DB_PORT

    command.add_argument("folder", metavar="FOLDER", type=Path, help="of backups")
    command.add_argument("--data", type=Path, default=DATA, help="data folder of ./start (default: %(default)s)")
    command.add_argument("--db-port", type=int, default=DB_PORT, help="its database's port (default: %(default)s)")
    command.add_argument("--passphrase-file", type=Path, metavar="FILE", help="encrypt, or open what is encrypted")


def parser() -> argparse.ArgumentParser:
    """The command line."""
    main_parser = argparse.ArgumentParser(prog="finearc", description="Measures golf swings from sensor recordings.")
    main_parser.add_argument("--version", action="version", version=f"finearc {__version__}")
    commands = main_parser.add_subparsers(dest="command", required=True)

    analyze = commands.add_parser("analyze", help="measure and judge a capture bundle")
    _of_bundle(analyze)
    analyze.set_defaults(run=_analyze)

    live = commands.add_parser("live", help="send a bundle through the live path, frame by frame, and print the same")
    _of_bundle(live)
    live.add_argument("--loss", type=float, default=0.0, metavar="SHARE", help="share of samples lost, in bursts")
    live.add_argument("--burst-ms", type=float, default=40.0, metavar="MS", help="length of a burst of lost samples")
    live.add_argument("--late-ms", type=float, default=0.0, metavar="MS", help="frames come up to so much late")
    live.add_argument("--seed", type=int, default=0, help="repeats the same faults")
    live.set_defaults(run=_live)

    compare = commands.add_parser("compare", help="lay two captures, or a swing of each, over each other")
    compare.add_argument("first", metavar="A", help="a bundle")
    compare.add_argument("second", metavar="B", help="another, or the same")
    compare.add_argument("--swing-a", type=int, metavar="N", help="of A this swing alone, counted from 1")
    compare.add_argument("--swing-b", type=int, metavar="N", help="of B this swing alone")
    compare.add_argument("--metric", action="append", metavar="M", help="these measures alone")
    _measuring(compare)
    compare.set_defaults(run=_compare)

    change = commands.add_parser("change", help="whether a measure really changed between two captures")
    change.add_argument("first", metavar="A", help="the bundle before, or a JSON file of cases")
    change.add_argument("second", metavar="B", nargs="?", help="the bundle after")
    change.add_argument("--metric", metavar="M", help="the measure, as in the result of analyze")
    change.add_argument("--event", metavar="E", help="where it is read, e.g. top or address..top")
    _measuring(change)
    change.set_defaults(run=_change)

    rounds = commands.add_parser("round", help="find shots, practice swings and putts in the clips' log of a round")
    rounds.add_argument("bundle", metavar="BUNDLE", help='folder or .zip whose capture.json says "shot": "round"')
    rounds.add_argument("--json", action="store_true", help="print the result as JSON")
    rounds.set_defaults(run=_round)

    simulate = commands.add_parser("simulate", help="make a bundle with the golfer model")
    simulate.add_argument("--scenario", default="hold-then-flex")
    simulate.add_argument("--sources", default="wrist", help="wrist, club, body, markers")
    simulate.add_argument("--seed", type=int, default=1)
    simulate.add_argument("--hand", choices=["right", "left"], default="right")
    simulate.add_argument("--height", type=float, default=1.78, metavar="M", help="body height, m")
    simulate.add_argument("--club", default="7-iron", metavar="CLUB")
    simulate.add_argument("out", metavar="OUT", help="folder, or a name ending in .zip")
    simulate.set_defaults(run=_simulate)

    devices = commands.add_parser("devices", help="simulated devices that send into a bay like real ones")
    devices.add_argument("--url", required=True, metavar="URL", help="of the application, e.g. http://127.0.0.1:8420")
    devices.add_argument("--token", default="", help="of the bay, made on its screen")
    devices.add_argument("--rigs", metavar="FILE", help="a token a line instead: one player with devices for each")
    devices.add_argument("--kit", default="wrist", help="wrist, upper-arm, club, body, markers, mat")
    devices.add_argument(
        "--scenario", default="hold-then-flex", help="how the player swings, or a round that a dock hands over"
    )
    devices.add_argument("--seed", type=int, default=1)
    devices.add_argument("--hand", choices=["right", "left"], default="right")
    devices.add_argument("--faults", nargs="*", default=[], metavar="NAME=SIZE", help="what goes wrong, e.g. loss=0.05")
    devices.add_argument("--pace", type=float, default=1.0, help="how much faster than real time")
    devices.add_argument("--every", type=float, default=0.0, metavar="S", help="swing so often while armed")
    devices.add_argument("--plays", type=Path, metavar="FOLDER", help="where recordings are kept between runs")
    devices.set_defaults(run=_devices)

    bridge = commands.add_parser("bridge", help="send a Lab Streaming Layer stream of a sensor on into a bay")
    bridge.add_argument("stream", metavar="STREAM", help="its name")
    bridge.add_argument("--segment", required=True, help="what the sensor is worn on, e.g. pelvis")
    bridge.add_argument("--url", required=True, metavar="URL", help="of the application, e.g. http://127.0.0.1:8420")
    bridge.add_argument("--token", required=True, help="of the bay, made on its screen")
    bridge.add_argument("--acc-unit", choices=["m/s2", "g"], default="m/s2")
    bridge.add_argument("--gyr-unit", choices=["rad/s", "deg/s"], default="rad/s")
    bridge.set_defaults(run=_bridge)

    convert = commands.add_parser("convert", help="write markers as C3D or TRC, angles as MOT, CSV or Parquet")
    convert.add_argument("bundle", metavar="BUNDLE")
    convert.add_argument("out", metavar="OUT")
    convert.set_defaults(run=_convert)

    again = commands.add_parser(
        "measure-again", help="measure everything that is kept again, beside what is kept, on a running database"
    )
    _on_database(again)
    decision = again.add_mutually_exclusive_group()
    decision.add_argument("--accept", action="store_true", help="let the new values take the place of the old")
    decision.add_argument("--dismiss", action="store_true", help="leave everything as it is")
    again.set_defaults(run=_measure_again)

    academy = commands.add_parser("academy", help="make an academy with its first instructor; asks for a password")
    academy.add_argument("academy", metavar="ACADEMY", help="its name")
    academy.add_argument("person", metavar="PERSON", help="the instructor's name")
    academy.add_argument("email", metavar="E-MAIL", help="with which the instructor signs in")
    _on_database(academy)
    academy.set_defaults(run=_academy)

    backup = commands.add_parser("backup", help="add a backup of a data folder to a folder, while the application runs")
    _of_backup(backup)
    backup.add_argument("--verify", action="store_true", help="restore it into a folder that goes again, and compare")
    backup.add_argument("--keep-days", type=int, metavar="N", help="drop backups that are older, but for the newest")
    backup.add_argument("--nightly", default="", metavar="HH:MM", help="every night then, verified, until told to stop")
    backup.add_argument("--list", action="store_true", help="only say which backups there are")
    backup.set_defaults(run=_backup)

    restore = commands.add_parser("restore", help="make a new data folder of a backup, and verify it")
    _of_backup(restore)
    restore.add_argument("--at", default="", metavar="TIME", help="the newest made by then, as 2026-12-01T18:00 (UTC)")
    restore.set_defaults(run=_restore)

    schema = commands.add_parser("schema", help="print a JSON Schema")
    schema.add_argument("what", choices=["manifest", "result", "round", "round-manifest"])
    schema.set_defaults(run=_schema)
    return main_parser


def main(argv: Sequence[str] | None = None) -> int:
    """Exit 0; 2 with one clear line on standard error for unusable input."""
    args = parser().parse_args(argv)
    from finearc.core.errors import FineArcError

    try:
        code: int = args.run(args)
    except FineArcError as error:
        print(f"finearc: {error}", file=sys.stderr)
        return UNUSABLE
    except BrokenPipeError:
        return 0
    except OSError as error:
        print(f"finearc: {error.filename or 'file'}: {error.strerror}", file=sys.stderr)
        return UNUSABLE
    except MemoryError:
        print("finearc: the recording needs more memory than there is. Split the session.", file=sys.stderr)
        return UNUSABLE
    except Exception as error:  # nobody foresaw it; the person at the terminal is told where, without a stack trace
        at = traceback.extract_tb(error.__traceback__)[-1]
        where = f"{Path(at.filename).name}, line {at.lineno}"
        print(f"finearc: something in this input was not foreseen ({type(error).__name__}, {where}).", file=sys.stderr)
        return UNUSABLE
    return code


if __name__ == "__main__":
    sys.exit(main())
