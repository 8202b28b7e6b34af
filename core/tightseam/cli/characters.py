"""Commands on characters: the cast, what is in them, measuring, posing, editing, files out and in."""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import TYPE_CHECKING, Any

from tightseam.cli.command import Command
from tightseam.cli.files import assignments, open_character, read_file, taken_in, write_character
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.model import Character
from tightseam.document.poses import pose_values, shown_poses
from tightseam.document.units import CM_TO_MM

if TYPE_CHECKING:
    from tightseam.bake.strip import BakedStrip

MOST_TOLD = 3  # poses that a file leaves something out of


def add_commands(command: Command) -> None:
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
    posed_options(measure)
    measure.add_argument("--json", action="store_true")
    points = command("points", _points, "posed points of a part in cm")
    points.add_argument("file")
    points.add_argument("--part", required=True)
    posed_options(points)
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


def posed_options(parser: argparse.ArgumentParser) -> None:
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
    write_character(cast(options.name, store, options.clean), store, options.out)
    return 0


def _info(options: argparse.Namespace) -> int:
    character, store = open_character(options.file)
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
    from tightseam.head.found import found_head
    from tightseam.seams.asymmetry import mirror_gauge
    from tightseam.seams.meter import SeamMeter
    from tightseam.seams.report import pose_report

    character, store = open_character(options.file)
    evaluator = Evaluator(character, store)
    meter = SeamMeter(character, store, evaluator)
    poses: dict[str, tuple[dict[str, float], tuple[str, ...]]]  # values of controls, and what they claim to close
    if options.set:
        from tightseam.deform.skeleton import checked_values

        poses = {"set": (checked_values(character, assignments(options.set)), ())}
    else:
        from tightseam.document.lookup import pose as find_pose

        wanted = [find_pose(character, options.pose)] if options.pose else shown_poses(character)
        poses = {p.name: (pose_values(character, p), p.closes) for p in wanted}
    readings = {name: meter.measure(values, closes) for name, (values, closes) in poses.items()}
    mirror = mirror_gauge(found_head(character, store), evaluator, meter)
    uneven = {name: mirror.read(values, readings[name]) for name, (values, _) in poses.items()}
    report = pose_report(character, store, evaluator, readings, uneven)
    if options.json:
        print(json.dumps(report))
    else:
        _print_report(report)
    return 0 if report["within"] else 1


def _print_report(report: dict[str, Any]) -> None:
    """A line a seam with its worst values over the measured poses in mm, then how far left and right disagree, then the findings."""
    for name, pose, seam in _worst(report, "seams", "seam", "excess"):
        values = "  ".join(f"{kind} {seam[kind]:6.2f}" for kind in ("overlap", "gap", "lag", "drift") if seam[kind] is not None)
        print(f"{name:<22}{values:<32}{'within' if seam['within'] else 'OVER':<8}{pose}")
    for region, pose, sides in _worst(report, "uneven", "region", "millimetres"):
        apart = f"apart   {sides['millimetres']:6.2f}"
        print(f"{'left and right, ' + region:<22}{apart:<40}{pose}")
    for finding in report["findings"]:
        print(f"{finding['title']}: {finding['text']}")


def _worst(report: dict[str, Any], rows: str, name: str, size: str) -> list[tuple[str, str, dict[str, Any]]]:
    """Of the rows of all poses the one of each name that is largest: the name, the pose and the row, in the order of their first."""
    worst: dict[str, tuple[str, dict[str, Any]]] = {}
    for pose in report["poses"]:
        for row in pose[rows] or ():
            if row[name] not in worst or row[size] > worst[row[name]][1][size]:
                worst[row[name]] = pose["pose"], row
    return [(key, pose, row) for key, (pose, row) in worst.items()]


def _points(options: argparse.Namespace) -> int:
    import numpy as np

    from tightseam.deform.evaluator import Evaluator
    from tightseam.deform.skeleton import checked_values
    from tightseam.document.lookup import part as find_part
    from tightseam.document.lookup import pose as find_pose

    character, store = open_character(options.file)
    find_part(character, options.part)
    wanted = find_pose(character, options.pose).values if options.pose else assignments(options.set)
    evaluator = Evaluator(character, store)
    posed = evaluator.points(checked_values(character, wanted))[evaluator.meshes.rows(options.part)]
    with Path(options.out).open("wb") as out:
        np.save(out, posed.astype(np.float64))
    return 0


def _edit(options: argparse.Namespace) -> int:
    from tightseam.edits.registry import apply_recipe, parse_recipe

    character, store = open_character(options.file)
    steps = parse_recipe(read_file(options.recipe))
    changed = apply_recipe(character, store, steps)
    for step in steps:
        print(step.params.describe(changed), file=sys.stderr)
    write_character(changed, store, options.out)
    return 0


def _export(options: argparse.Namespace) -> int:
    if not (options.glb or options.obj or options.usd):
        raise BadRequest("Say what to write: --glb, --obj or --usd with a file name.")
    character, store = open_character(options.file)
    if options.glb:
        from tightseam.exchange.glb_write import glb_of, glb_strip

        strip = glb_strip(character, store)
        Path(options.glb).write_bytes(glb_of(strip))
        _tell_left_out("GLB", strip)
    if options.obj:
        from tightseam.exchange.obj_write import write_obj

        Path(options.obj).write_bytes(write_obj(character, store))
    if options.usd:
        from tightseam.exchange.usd_write import usd_of, usd_strip

        strip = usd_strip(character, store)
        Path(options.usd).write_bytes(usd_of(strip))
        _tell_left_out("USD", strip)
    return 0


def _tell_left_out(kind: str, strip: BakedStrip) -> None:
    """What the format has no words for, where it is worst: who moves controls of his own will not get that."""
    found = strip.left_out()
    if found:
        said = "; ".join(f"{x.pose.label} {CM_TO_MM * x.cm:.2f} mm on {part_label(x.part)}" for x in found[:MOST_TOLD])
        more = f"; {len(found) - MOST_TOLD} more" if len(found) > MOST_TOLD else ""
        print(f"{kind}: bones and shapes alone are off by: {said}{more}. Test poses have a target of their own for it.", file=sys.stderr)


def _import(options: argparse.Namespace) -> int:
    store = MemoryStore()
    character, notes = taken_in(options.files, store)
    for note in notes:
        print(note, file=sys.stderr)
    for part in character.parts:
        sure = part.delivered.sure if part.delivered else 1.0
        print(f"{part.name:<20} {part.kind:<12} {sure:>4.0%} sure {part.vertex_count:>7} vertices", file=sys.stderr)
    write_character(character, store, options.out)
    return 0
