"""The command of the Lids station: the board as numbers."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict

from tightseam.cli.command import Command
from tightseam.cli.files import taken_in
from tightseam.document.arrays import MemoryStore


def add_commands(command: Command) -> None:
    lids = command("lids", _lids, "every closing of the lids against every gaze; exit status 1 where one is over its limits")
    lids.add_argument("file")
    lids.add_argument("--json", action="store_true")


def _lids(options: argparse.Namespace) -> int:
    from tightseam.deform.evaluator import Evaluator
    from tightseam.document.poses import rest_values
    from tightseam.lids.board import LidBoard

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    board = LidBoard(character, store, Evaluator(character, store)).measure(rest_values(character))
    over = [c for c in board.cells if not c.within]
    if options.json:
        cells = [asdict(c) | {"within": c.within} for c in board.cells]
        print(
            json.dumps({"name": character.about.name, "over": len(over), "closings": board.closings, "gazes": board.gazes, "cells": cells})
        )
    else:
        for c in board.cells:
            slit = "" if c.slit is None else f"  slit {c.slit:5.2f}"
            print(
                f"{'over' if not c.within else 'fine':<5}eye {c.side}  closed {c.closing:4.0%}  up {c.height:4g}°  out {c.outward:4g}°"
                f"  overlap {c.overlap:5.2f}  gap {c.gap:5.2f}{slit} mm"
            )
    return 1 if over else 0
