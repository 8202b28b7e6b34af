"""The command that tries edits: what they would do, before they are done."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict

from tightseam.cli.command import Command
from tightseam.cli.files import read_file, taken_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.labels import part_label
from tightseam.tryout.tried import Tried


def add_commands(command: Command) -> None:
    trying = command(
        "try", _try, "what the edits of a recipe would do to findings and to all test poses; exit status 1 where one makes a seam worse"
    )
    trying.add_argument("file")
    trying.add_argument("--recipe", required=True, help="a list of edits as JSON; each is tried on what those before it make")
    trying.add_argument("--json", action="store_true")


def _try(options: argparse.Namespace) -> int:
    from tightseam.edits.registry import parse_recipe
    from tightseam.tryout.tried import tried

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    found = []
    for step in parse_recipe(read_file(options.recipe)):
        found.append(tried(character, store, step))
        character = step.params.apply(character, store)
    if options.json:
        print(json.dumps([asdict(t) for t in found]))
    for t in () if options.json else found:
        shows = t.shows
        moves = (
            f"Moves by up to {shows.millimetres:.2f} mm, most {shows.label}." if shows else "Moves nothing in any pose that was looked at."
        )
        print(f"{t.text}: {moves} Findings of {t.station} {t.before} -> {t.after}. {t.effects.said}{_stretched(t)}")
    return 1 if any(t.effects.worse for t in found) else 0


def _stretched(tried: Tried) -> str:
    return "".join(f" {part_label(s.part)} is stretched to {s.after:.2f} times, {s.before:.2f} before." for s in tried.stretched)
