"""Commands of the Landmarks station: eye seats, landmarks, bones."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict
from typing import TYPE_CHECKING

from pydantic import TypeAdapter, ValidationError

from tightseam.cli.command import Command
from tightseam.cli.files import read_file, taken_in, write_character
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character, Skeleton
from tightseam.document.units import CM_TO_MM

COUNTS = ("neck", "tongue", "brows", "lids", "lips")

if TYPE_CHECKING:
    from tightseam.landmarks.seats import EyeSeat


def add_commands(command: Command) -> None:
    eyes = command("eyes", _eyes, "how the eyes sit and what they touch as they look about; exit status 1 where one cuts its lids")
    eyes.add_argument("file")
    eyes.add_argument("--json", action="store_true")
    marks = command(
        "landmarks",
        _landmarks,
        "where the landmarks are, or with --suggest where they are found; exit status 1 where one is missing or doubtful",
    )
    marks.add_argument("file")
    marks.add_argument("--suggest", action="store_true", help="find them on the meshes instead of reading what is placed")
    marks.add_argument("--json", action="store_true")
    bones = command("bones", _bones, "the bones and what is wrong with them; exit status 1 where something is")
    bones.add_argument("file")
    bones.add_argument("--build", action="store_true", help="from the landmarks; those that are missing are suggested first")
    bones.add_argument("--bind", action="store_true", help="give parts that nothing carries their first carriers")
    bones.add_argument("--face", choices=("bones", "shapes", "both"), default="shapes")
    counted = TypeAdapter(Skeleton).json_schema()["properties"]
    for name in COUNTS:
        bones.add_argument(f"--{name}", type=int, metavar="N", help=f"how many, up to {counted[name]['maximum']}")
    for name in ("cheeks", "nose", "ears"):
        bones.add_argument(f"--{name}", action=argparse.BooleanOptionalAction)
    bones.add_argument("--names", metavar="TABLE.csv", help="lines of bone,name: what bones are called in exported files")
    bones.add_argument("--out", metavar="FILE.seam")
    bones.add_argument("--json", action="store_true")


def _eyes(options: argparse.Namespace) -> int:
    from tightseam.head.found import found_head
    from tightseam.landmarks.seats import find_seats

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    seats = find_seats(found_head(character, store))
    if options.json:
        print(json.dumps({"name": character.about.name, "eyes": [_seat(s) for s in seats]}))
    else:
        for seat in seats:
            worst = seat.sweep.worst
            pivot = f"pivot {seat.pivot_error:.2f} mm off the centre" if seat.own_pivot else "no pivot of its own"
            print(f"{seat.part}: radius {seat.ball.radius * CM_TO_MM:.2f} mm, out of round by {seat.ball.roundness:.2f} mm, {pivot}")
            print(f"  worst contact {worst.depth:+.2f} mm at {worst.across:+.0f}° across, {worst.height:+.0f}° up, vertex {worst.vertex}")
    return 1 if any(s.sweep.worst.depth > 0 for s in seats) else 0


def _seat(seat: EyeSeat) -> dict[str, object]:
    contacts = [{"across": c.across, "height": c.height, "depth_mm": c.depth, "vertex": c.vertex} for c in seat.sweep.contacts]
    return {
        "part": seat.part, "side": seat.side, "centre_cm": seat.ball.centre.tolist(), "radius_mm": seat.ball.radius * CM_TO_MM,
        "roundness_mm": seat.ball.roundness, "pivot_error_mm": seat.pivot_error if seat.own_pivot else None, "contacts": contacts,
    }  # fmt: skip


def _landmarks(options: argparse.Namespace) -> int:
    from tightseam.head.found import found_head
    from tightseam.head.landmark_catalogue import CATALOGUE, label_of
    from tightseam.landmarks.suggest.found_mark import DOUBTFUL
    from tightseam.landmarks.suggest.suggest import suggest

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    if options.suggest:
        found = {name: (m.point.tolist(), m.sure) for name, m in suggest(found_head(character, store)).items()}
    else:
        found = {m.name: (list(m.point), m.sure) for m in character.landmarks}
    names = [name for entry in CATALOGUE for name in entry.names]
    missing = [name for name in names if name not in found]
    doubtful = [name for name in names if name in found and found[name][1] < DOUBTFUL]
    if options.json:
        marks = [{"name": n, "point_cm": p, "sure": sure} for n, (p, sure) in found.items()]
        print(json.dumps({"name": character.about.name, "landmarks": marks, "missing": missing, "doubtful": doubtful}))
    else:
        for name, (point, sure) in found.items():
            place = " ".join(f"{x:8.2f}" for x in point)
            print(f"{label_of(name):<20} {place} cm  {sure:4.0%} sure{'  DOUBTFUL' if name in doubtful else ''}")
        for name in missing:
            print(f"{label_of(name):<20} missing")
    return 1 if missing or doubtful else 0


def _bones(options: argparse.Namespace) -> int:
    from tightseam.head.found import found_head
    from tightseam.landmarks.bones.checks import bone_findings

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    if options.build:
        character = _built(character, store, options)
    if options.names:
        character = _named(character, store, options.names)
    findings = bone_findings(found_head(character, store), character)
    if options.json:
        bones = [{"name": b.name, "export": b.export or b.name, "parent": b.parent, "role": b.role, "side": b.side, "region": b.region,
                  "base_cm": b.base, "tip_cm": b.tip, "axes": b.axes} for b in character.bones]  # fmt: skip
        print(json.dumps({"name": character.about.name, "bones": bones, "findings": [asdict(f) for f in findings]}))
    else:
        for bone in character.bones:
            print(f"{bone.name:<18} {bone.role:<8} {bone.region:<8} on {bone.parent or '-'}")
        for finding in findings:
            print(f"{finding.title}: {finding.text}")
    if options.out:
        write_character(character, store, options.out)
    return 1 if findings else 0


def _built(character: Character, store: MemoryStore, options: argparse.Namespace) -> Character:
    from tightseam.edits.build_edits import BuildBones
    from tightseam.edits.landmark_edits import SuggestLandmarks
    from tightseam.edits.registry import explain

    given = {name: getattr(options, name) for name in (*COUNTS, "cheeks", "nose", "ears") if getattr(options, name) is not None}
    try:
        build = BuildBones.model_validate({"choices": {"face": options.face, **given}, "bind": options.bind})
    except ValidationError as error:
        raise BadRequest(explain(error, "The build setting")) from None
    return build.apply(SuggestLandmarks().apply(character, store), store)


def _named(character: Character, store: MemoryStore, table: str) -> Character:
    """The character with the export names of a table; BadRequest says which line is not right."""
    from tightseam.edits.skeleton_edits import SetExportNames

    names = {}
    for number, line in enumerate(read_file(table).decode("utf-8", "replace").splitlines(), 1):
        bone, comma, name = (part.strip() for part in line.partition(","))
        if line.strip() and not (bone and comma and name):
            raise BadRequest(f"Line {number} of {table} is not of the form bone,name.")
        if line.strip():
            names[bone] = name
    return SetExportNames(names=names).apply(character, store)
