"""The command of the Lids station: the board as numbers, and what is wrong."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict

from tightseam.cli.command import Command
from tightseam.cli.files import taken_in
from tightseam.document.arrays import MemoryStore


def add_commands(command: Command) -> None:
    lids = command("lids", _lids, "every closing of the lids against every gaze, and what is wrong; exit status 1 where something is")
    lids.add_argument("file")
    lids.add_argument("--json", action="store_true")


def _lids(options: argparse.Namespace) -> int:
    from tightseam.deform.evaluator import Evaluator
    from tightseam.document.poses import rest_values
    from tightseam.lids.board import LidBoard
    from tightseam.lids.findings import lid_findings

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    evaluator = Evaluator(character, store)
    lids = LidBoard(character, store, evaluator)
    board = lids.measure(rest_values(character), exact=True)
    found = lid_findings(character, store)
    over = [c for c in board.cells if not c.within]
    if options.json:
        said = {"name": character.about.name, "over": len(over), "closings": board.closings, "gazes": board.gazes}
        cells = [asdict(c) | {"within": c.within} for c in board.cells]
        print(json.dumps(said | {"cells": cells, "findings": [asdict(f) for f in found]}))
        return 1 if over or found else 0
    for c in board.cells:
        slit = "" if c.slit is None else f"  slit {c.slit:5.2f}"
        print(
            f"{'over' if not c.within else 'fine':<5}eye {c.side}  closed {c.closing:4.0%}  up {c.height:4g}°  out {c.outward:4g}°"
            f"  overlap {c.overlap:5.2f}  gap {c.gap:5.2f}{slit} mm"
        )
    for f in found:
        print(f"{f.title}: {f.text}")
    return 1 if over or found else 0
