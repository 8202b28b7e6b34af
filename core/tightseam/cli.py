"""`tightseam`: the core from the command line, for pipelines and for tests without a browser.

Results go to standard output (JSON with --json), messages to standard error.
Exit status: 0 fine, 1 findings over the limit (measure) or faults (checkin) or cut lids (eyes), 2 bad input.
"""

from __future__ import annotations

import argparse
import json
import os
import sys
from collections.abc import Callable, Sequence
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest, TightSeamError
from tightseam.document.model import Character

if TYPE_CHECKING:
    from tightseam.landmarks.seats import EyeSeat

MOST_BYTES = 600 * 1024 * 1024


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        status = int(options.run(options))
        sys.stdout.flush()
        return status
    except TightSeamError as error:
        print(f"tightseam: {error}", file=sys.stderr)
    except BrokenPipeError:  # whoever reads has read enough, as `head` does
        os.dup2(os.open(os.devnull, os.O_WRONLY), sys.stdout.fileno())
        return 0
    except OSError as error:
        print(f"tightseam: {error.filename or 'file'}: {error.strerror}", file=sys.stderr)
    return 2


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(prog="tightseam", description="Measure, edit and convert facial rigs.")
    commands = parser.add_subparsers(dest="command", required=True)

    def command(name: str, run: Callable[[argparse.Namespace], int], help: str) -> argparse.ArgumentParser:
        sub = commands.add_parser(name, help=help)
        sub.set_defaults(run=run)
        return sub

    cast = command("cast", _cast, "write a character of the demo cast")
    cast.add_argument("name", nargs="?")
    cast.add_argument("--out", metavar="FILE.seam")
    cast.add_argument("--list", action="store_true", help="who there is, and what is planted in them")
    cast.add_argument("--clean", action="store_true", help="without the planted faults")
    info = command("info", _info, "what is in a character file")
    info.add_argument("file")
    info.add_argument("--json", action="store_true")
    measure = command("measure", _measure, "measure every seam; exit status 1 where one is over its limit")
    measure.add_argument("file")
    _posed(measure)
    measure.add_argument("--json", action="store_true")
    points = command("points", _points, "posed points of a part in cm")
    points.add_argument("file")
    points.add_argument("--part", required=True)
    _posed(points)
    points.add_argument("--out", required=True, metavar="FILE.npy")
    edit = command("edit", _edit, "replay a recipe")
    edit.add_argument("file")
    edit.add_argument("--recipe", required=True, metavar="R.json")
    edit.add_argument("--out", required=True, metavar="FILE.seam")
    export = command("export", _export, "write GLB, OBJ or USD")
    export.add_argument("file")
    for ending in ("glb", "obj", "usd"):
        export.add_argument(f"--{ending}", metavar=f"OUT.{ending}")
    bring = command("import", _import, "make a character of delivered files (OBJ, GLB, glTF, USD, zip)")
    bring.add_argument("files", nargs="+", metavar="FILE")
    bring.add_argument("--out", required=True, metavar="FILE.seam")
    eyes = command("eyes", _eyes, "how the eyes sit and what they touch as they look about; exit status 1 where one cuts its lids")
    eyes.add_argument("file")
    eyes.add_argument("--json", action="store_true")
    check = command("checkin", _checkin, "is a head fit to be rigged? Any format; exit status 1 where a fault was found")
    check.add_argument("file")
    check.add_argument("--json", action="store_true")
    check.add_argument("--twin", metavar="FILE", help="a second file of the same head, to compare the vertex order with")
    check.add_argument("--note", metavar="OUT.html", help="write the note to the modeller")
    return parser


def _posed(parser: argparse.ArgumentParser) -> None:
    pose = parser.add_mutually_exclusive_group()
    pose.add_argument("--pose", metavar="NAME")
    pose.add_argument("--set", nargs="+", action="extend", metavar="control=value", default=[])


def _cast(options: argparse.Namespace) -> int:
    from tightseam.demo.cast import ABOUT, cast
    from tightseam.demo.directory import planted_in

    if options.list:
        for name, about in ABOUT.items():
            print(f"{name:<7}{about}")
            for line in planted_in(name):
                print(f"         {line}")
        return 0
    if not options.name or not options.out:
        raise BadRequest("Say who and where to: tightseam cast NAME --out FILE.seam. Who there is: tightseam cast --list.")
    store = MemoryStore()
    _write_character(cast(options.name, store, options.clean), store, options.out)
    return 0


def _info(options: argparse.Namespace) -> int:
    character, store = _open(options.file)
    found = describe(character, store)
    if options.json:
        print(json.dumps(found))
        return 0
    print(f"{found['name']}: {len(found['parts'])} parts, {len(found['bones'])} bones, {len(found['shapes'])} shapes")
    for part in found["parts"]:
        print(f"  {part['name']:<14} {part['kind']:<12} {part['vertices']:>6} vertices {part['polygons']:>6} polygons")
    return 0


def describe(character: Character, store: MemoryStore) -> dict[str, Any]:
    """What `info --json` prints."""
    return {
        "name": character.about.name,
        "story": character.about.story,
        "parts": [
            {"name": p.name, "kind": p.kind, "side": p.side, "vertices": p.vertex_count, "polygons": p.polygon_count}
            for p in character.parts
        ],
        "bones": [{"name": b.name, "parent": b.parent, "role": b.role} for b in character.bones],
        "shapes": [{"name": s.name, "parts": [d.part for d in s.deltas]} for s in character.shapes],
        "controls": [{"name": c.name, "low": c.low, "high": c.high, "rest": c.rest, "unit": c.unit} for c in character.controls],
        "seams": [{"name": s.name, "label": s.label, "kind": s.kind} for s in character.seams],
        "poses": [{"name": p.name, "values": p.values} for p in character.poses],
    }


def _measure(options: argparse.Namespace) -> int:
    from tightseam.deform.evaluator import Evaluator
    from tightseam.seams.meter import SeamMeter
    from tightseam.seams.report import pose_report

    character, store = _open(options.file)
    evaluator = Evaluator(character, store)
    meter = SeamMeter(character, store, evaluator)
    if options.set:
        from tightseam.deform.skeleton import checked_values

        readings = {"set": meter.measure(checked_values(character, _assignments(options.set)))}
    else:
        from tightseam.document.lookup import pose as find_pose

        poses = [find_pose(character, options.pose)] if options.pose else character.poses
        readings = {p.name: meter.measure_pose(p) for p in poses}
    report = pose_report(character, store, evaluator, readings)
    if options.json:
        print(json.dumps(report))
    else:
        _print_report(report)
    return 0 if report["within"] else 1


def _print_report(report: dict[str, Any]) -> None:
    """A line a seam with its worst values over the measured poses in mm, then the findings."""
    worst: dict[str, tuple[str, dict[str, Any]]] = {}
    for row in report["poses"]:
        for seam in row["seams"]:
            if seam["seam"] not in worst or seam["excess"] > worst[seam["seam"]][1]["excess"]:
                worst[seam["seam"]] = (row["pose"], seam)
    for name, (pose, seam) in worst.items():
        values = "  ".join(f"{kind} {seam[kind]:6.2f}" for kind in ("overlap", "gap", "lag") if seam[kind] is not None)
        print(f"{name:<22}{values:<32}{'within' if seam['within'] else 'OVER':<8}{pose}")
    for finding in report["findings"]:
        print(f"{finding['title']}: {finding['text']}")


def _points(options: argparse.Namespace) -> int:
    import numpy as np

    from tightseam.deform.evaluator import Evaluator
    from tightseam.deform.skeleton import checked_values
    from tightseam.document.lookup import part as find_part
    from tightseam.document.lookup import pose as find_pose

    character, store = _open(options.file)
    find_part(character, options.part)
    wanted = find_pose(character, options.pose).values if options.pose else _assignments(options.set)
    evaluator = Evaluator(character, store)
    posed = evaluator.points(checked_values(character, wanted))[evaluator.meshes.rows(options.part)]
    with Path(options.out).open("wb") as out:
        np.save(out, posed.astype(np.float64))
    return 0


def _edit(options: argparse.Namespace) -> int:
    from tightseam.edits.registry import apply_recipe, parse_recipe

    character, store = _open(options.file)
    steps = parse_recipe(_read(options.recipe))
    changed = apply_recipe(character, store, steps)
    for step in steps:
        print(step.params.describe(changed), file=sys.stderr)
    _write_character(changed, store, options.out)
    return 0


def _export(options: argparse.Namespace) -> int:
    if not (options.glb or options.obj or options.usd):
        raise BadRequest("Say what to write: --glb, --obj or --usd with a file name.")
    character, store = _open(options.file)
    if options.glb:
        from tightseam.exchange.glb_write import write_glb

        Path(options.glb).write_bytes(write_glb(character, store))
    if options.obj:
        from tightseam.exchange.obj_write import write_obj

        Path(options.obj).write_bytes(write_obj(character, store))
    if options.usd:
        from tightseam.exchange.usd_write import write_usd

        Path(options.usd).write_bytes(write_usd(character, store))
    return 0


def _import(options: argparse.Namespace) -> int:
    store = MemoryStore()
    character, notes = _taken_in(options.files, store)
    for note in notes:
        print(note, file=sys.stderr)
    for part in character.parts:
        sure = part.delivered.sure if part.delivered else 1.0
        print(f"{part.name:<20} {part.kind:<12} {sure:>4.0%} sure {part.vertex_count:>7} vertices", file=sys.stderr)
    _write_character(character, store, options.out)
    return 0


def _taken_in(paths: Sequence[str], store: MemoryStore) -> tuple[Character, tuple[str, ...]]:
    """A character from files, which may refer to their neighbours (buffers, layers)."""
    from tightseam.intake.take_in import take_in

    found = {Path(p).name: _read(p) for p in paths}
    taken = take_in(found, store)
    return taken.character, taken.notes


def _checkin(options: argparse.Namespace) -> int:
    from datetime import date

    from tightseam.checkin.note import write_note
    from tightseam.checkin.report import check_in
    from tightseam.checkin.twin import delivered_points, twin_check

    store = MemoryStore()
    character, _ = _taken_in([options.file], store)
    report = check_in(character, store)
    if options.twin:
        other = MemoryStore()
        report = report.with_check(twin_check(character, store, delivered_points(_taken_in([options.twin], other)[0], other)))
    if options.note:
        Path(options.note).write_text(write_note(character, store, report, date.today().isoformat()).html, encoding="utf-8")
    if options.json:
        counts = {"faults": report.count("fault"), "looks": report.count("look")}
        checks = [asdict(c) for c in report.checks]
        print(json.dumps({"name": character.about.name, **counts, "limits": report.limits, "checks": checks}))
    else:
        for check in report.checks:
            print(f"{'waived' if check.waived else check.verdict:<7}{check.label:<36}{check.said}")
    return 1 if report.count("fault") else 0


def _eyes(options: argparse.Namespace) -> int:
    from tightseam.landmarks.found import FoundHead
    from tightseam.landmarks.seats import find_seats

    store = MemoryStore()
    character, _ = _taken_in([options.file], store)
    seats = find_seats(FoundHead(character, store))
    if options.json:
        print(json.dumps({"name": character.about.name, "eyes": [_seat(s) for s in seats]}))
    else:
        for seat in seats:
            worst = seat.sweep.worst
            pivot = f"pivot {seat.pivot_error:.2f} mm off the centre" if seat.own_pivot else "no pivot of its own"
            print(f"{seat.part}: radius {seat.ball.radius * 10:.2f} mm, out of round by {seat.ball.roundness:.2f} mm, {pivot}")
            print(f"  worst contact {worst.depth:+.2f} mm at {worst.across:+.0f}° across, {worst.height:+.0f}° up, vertex {worst.vertex}")
    return 1 if any(s.sweep.worst.depth > 0 for s in seats) else 0


def _seat(seat: EyeSeat) -> dict[str, object]:
    contacts = [{"across": c.across, "height": c.height, "depth_mm": c.depth, "vertex": c.vertex} for c in seat.sweep.contacts]
    return {
        "part": seat.part, "side": seat.side, "centre_cm": seat.ball.centre.tolist(), "radius_mm": seat.ball.radius * 10,
        "roundness_mm": seat.ball.roundness, "pivot_error_mm": seat.pivot_error if seat.own_pivot else None, "contacts": contacts,
    }  # fmt: skip


def _open(path: str) -> tuple[Character, MemoryStore]:
    from tightseam.exchange.character_file import read_character

    store = MemoryStore()
    return read_character(_read(path), store), store


def _read(path: str) -> bytes:
    size = Path(path).stat().st_size
    if size > MOST_BYTES:
        raise BadRequest(f"{path} has {size / 1e6:.0f} MB; {MOST_BYTES / 1e6:.0f} MB are the most.")
    return Path(path).read_bytes()


def _write_character(character: Character, store: MemoryStore, path: str) -> None:
    from tightseam.exchange.character_file import write_character

    Path(path).write_bytes(write_character(character, store))


def _assignments(texts: Sequence[str]) -> dict[str, float]:
    values = {}
    for text in texts:
        name, equals, value = text.partition("=")
        try:
            values[name] = float(value)
        except ValueError:
            raise BadRequest(f"“{text}” is not of the form control=value.") from None
        if not equals:
            raise BadRequest(f"“{text}” is not of the form control=value.")
    return values


if __name__ == "__main__":
    sys.exit(main())
