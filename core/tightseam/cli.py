"""`tightseam`: the core from the command line, for pipelines and for tests without a browser.

Results go to standard output (JSON with --json), messages to standard error.
Exit status: 0 fine, 1 findings over the limit (measure), 2 bad input.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable, Sequence
from pathlib import Path
from typing import Any

from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest, TightSeamError
from tightseam.document.model import Character

MOST_BYTES = 600 * 1024 * 1024


def main(arguments: Sequence[str] | None = None) -> int:
    options = _parser().parse_args(arguments)
    try:
        return int(options.run(options))
    except TightSeamError as error:
        print(f"tightseam: {error}", file=sys.stderr)
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
    cast.add_argument("name")
    cast.add_argument("--out", required=True, metavar="FILE.seam")
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
    export = command("export", _export, "write a GLB")
    export.add_argument("file")
    export.add_argument("--glb", required=True, metavar="OUT.glb")
    bring = command("import", _import, "read a GLB as a character")
    bring.add_argument("file")
    bring.add_argument("--out", required=True, metavar="FILE.seam")
    return parser


def _posed(parser: argparse.ArgumentParser) -> None:
    pose = parser.add_mutually_exclusive_group()
    pose.add_argument("--pose", metavar="NAME")
    pose.add_argument("--set", nargs="+", action="extend", metavar="control=value", default=[])


def _cast(options: argparse.Namespace) -> int:
    from tightseam.demo.cast import cast

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
    from tightseam.exchange.glb_write import write_glb

    character, store = _open(options.file)
    Path(options.glb).write_bytes(write_glb(character, store))
    return 0


def _import(options: argparse.Namespace) -> int:
    from tightseam.exchange.glb_read import read_glb

    store = MemoryStore()
    _write_character(read_glb(_read(options.file), store), store, options.out)
    return 0


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
