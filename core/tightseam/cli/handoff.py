"""The commands of the Hand-off station: what offends the limits of who is to receive a rig, and the package that goes there."""

from __future__ import annotations

import argparse
import json
import sys
from dataclasses import asdict
from pathlib import Path
from typing import TYPE_CHECKING

from tightseam.cli.command import Command
from tightseam.cli.files import read_file, taken_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest

if TYPE_CHECKING:
    from tightseam.handoff.profile import Profile

MOST_SAMPLES = 100_000


def add_commands(command: Command) -> None:
    offences = command(
        "offences", _offences, "what a receiver would drop, refuse or set in its own way; exit status 1 where there is something"
    )
    offences.add_argument("file")
    offences.add_argument("--profile", default="lean", help="generous, lean, film, or a JSON file (docs/handoff.md)")
    offences.add_argument("--json", action="store_true")

    package = command("package", _package, "the files for a receiver, with how far off they arrive; exit status 1 where something offends")
    package.add_argument("file")
    package.add_argument("--profile", default="generous", help="generous, lean, film, or a JSON file (docs/handoff.md)")
    package.add_argument("--out", required=True, help="a folder, made where it is missing")
    for kind in ("parts", "bones", "shapes"):
        package.add_argument(f"--without-{kind}", default="", help=f"names of {kind} that stay at home, with commas")
    package.add_argument("--samples", type=int, default=200, help="random poses that are measured")
    replay = command("replay", _replay, "make the edits of a recipe again on characters; exit status 1 where one of them could not be made")
    replay.add_argument("recipe", help="a recipe, or a list of edits as JSON")
    replay.add_argument("files", nargs="+", metavar="file")
    replay.add_argument("--out", required=True, help="a folder for the changed characters, made where it is missing")
    body = command("body", _join, "put a head on a body with a skeleton")
    body.add_argument("file")
    body.add_argument("--on", required=True, metavar="BODY", help="GLB, USD or a character file")
    body.add_argument("--out", required=True, metavar="FILE.seam")


def _profile(options: argparse.Namespace) -> Profile:
    from tightseam.handoff.profile import SHIPPED, read_profile, shipped_profile

    if options.profile in SHIPPED:
        return shipped_profile(options.profile)
    return read_profile(read_file(options.profile), Path(options.profile).name)


def _package(options: argparse.Namespace) -> int:
    from tightseam.deform.backend import load_compiled
    from tightseam.packing.leave_out import LeaveOut
    from tightseam.packing.package import package

    if not 0 < options.samples <= MOST_SAMPLES:
        raise BadRequest(f"--samples goes from 1 to {MOST_SAMPLES}.")
    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    load_compiled()
    less = (tuple(filter(None, getattr(options, f"without_{kind}").split(","))) for kind in ("parts", "bones", "shapes"))
    made = package(character, store, _profile(options), LeaveOut(*less), options.samples)
    for name, data in made.files.items():
        place = Path(options.out) / name
        place.parent.mkdir(parents=True, exist_ok=True)
        place.write_bytes(data)
        print(f"{place}  {len(data):,} bytes")
    for off in made.errors:
        print(f"{off.what}: {off.mm:.2f} mm off at most over {off.poses} poses, {off.typical:.2f} mm typically", file=sys.stderr)
    for line in (*made.missed, *(f"{f.title}: {f.text}" for f in made.offences)):
        print(line, file=sys.stderr)
    return 1 if made.offences else 0


def _join(options: argparse.Namespace) -> int:
    from tightseam.body.join import body_for
    from tightseam.edits.body_edits import JoinBody
    from tightseam.exchange.character_file import write_character

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    body, _ = taken_in([options.on], store)
    found = body_for(character, body, store)
    edit = JoinBody(parts=list(found.parts), bones=list(found.bones), bindings=list(found.bindings), under=found.under, shift=found.shift)
    Path(options.out).write_bytes(write_character(edit.apply(character, store), store))
    for note in found.notes:
        print(note, file=sys.stderr)
    return 0


def _replay(options: argparse.Namespace) -> int:
    from tightseam.exchange.character_file import write_character
    from tightseam.recipes.recipe import read_recipe
    from tightseam.recipes.replay import replay

    recipe = read_recipe(read_file(options.recipe), Path(options.recipe).name)
    folder, complete = Path(options.out), True
    folder.mkdir(parents=True, exist_ok=True)
    for file in options.files:
        store = MemoryStore()
        character, _ = taken_in([file], store)
        found = replay(character, store, recipe)
        for outcome in found.outcomes:
            print(f"{Path(file).name}: {outcome.number + 1} {outcome.edit}: {outcome.done}: {outcome.text}")
            complete = complete and outcome.done != "not done"
        (folder / Path(file).with_suffix(".seam").name).write_bytes(write_character(found.character, store))
    return 0 if complete else 1


def _offences(options: argparse.Namespace) -> int:
    from tightseam.handoff.offences import offences

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    profile = _profile(options)
    found = offences(character, store, profile)
    if options.json:
        print(json.dumps({"name": character.about.name, "profile": profile.name, "offences": [asdict(f) for f in found]}))
    else:
        for f in found:
            print(f"{f.title}: {f.text}")
    return 1 if found else 0
