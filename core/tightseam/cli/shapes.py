"""The command of the Shapes station: the sheet as numbers, what is wrong, and how names stand to a list."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict
from pathlib import Path

from tightseam.cli.command import Command
from tightseam.cli.files import read_file, taken_in
from tightseam.document.arrays import MemoryStore


def add_commands(command: Command) -> None:
    shapes = command("shapes", _shapes, "what each shape covers and how far it goes, and what is wrong; exit status 1 where something is")
    shapes.add_argument("file")
    shapes.add_argument("--names", help="a name list to match: action_units, lantern_post, or a JSON or CSV file")
    shapes.add_argument("--json", action="store_true")


def _shapes(options: argparse.Namespace) -> int:
    from tightseam.shapes.checks import shape_findings
    from tightseam.shapes.name_list import SHIPPED, matched, read_names, shipped_list
    from tightseam.shapes.sheet import shape_rows

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    rows, found = shape_rows(character, store), shape_findings(character, store)
    names = None
    if options.names:
        shipped = options.names in SHIPPED
        wanted = shipped_list(options.names) if shipped else read_names(read_file(options.names), Path(options.names).name)
        names = matched([s.name for s in character.shapes], wanted)
    if options.json:
        said = {"name": character.about.name, "shapes": [asdict(r) for r in rows], "findings": [asdict(f) for f in found]}
        print(json.dumps(said | ({"names": asdict(names)} if names else {})))
        return 1 if found else 0
    for r in rows:
        parts = ", ".join(f"{part} {count}" for part, count in r.parts.items()) or "nothing"
        print(f"{r.name:<24}{r.size:6.2f} mm  {parts}")
    for f in found:
        print(f"{f.title}: {f.text}")
    if names:
        print(f"{len(names.same)} names as wanted, {len(names.near)} near, {len(names.missing)} missing, {len(names.extra)} extra")
        for ours, theirs in names.near:
            print(f"near: {ours} → {theirs}")
    return 1 if found else 0
