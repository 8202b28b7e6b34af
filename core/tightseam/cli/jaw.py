"""The command of the Jaw station: what the lower face does over the opening, as numbers, and what is wrong."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict

from tightseam.cli.command import Command
from tightseam.cli.files import taken_in
from tightseam.document.arrays import MemoryStore


def add_commands(command: Command) -> None:
    jaw = command(
        "jaw", _jaw, "hollow, volume and lip gap over the opening of the jaw, and what is wrong; exit status 1 where something is"
    )
    jaw.add_argument("file")
    jaw.add_argument("--json", action="store_true")


def _jaw(options: argparse.Namespace) -> int:
    from tightseam.bake.mouth import bake_errors
    from tightseam.deform.evaluator import Evaluator
    from tightseam.document.poses import rest_values
    from tightseam.jaw.curves import JawMeter
    from tightseam.jaw.face import LowerFace
    from tightseam.jaw.findings import jaw_findings
    from tightseam.jaw.movement import movement_of
    from tightseam.jaw.neck import neck_meter
    from tightseam.jaw.teeth import teeth_gap
    from tightseam.surfaces.patches import REGIONS

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    evaluator = Evaluator(character, store)
    face = LowerFace(character, store)
    meter, neck = JawMeter(face, evaluator), neck_meter(face, store, evaluator)
    curves, found = meter.measure(rest_values(character)), jaw_findings(character, store, meter, neck)
    if options.json:
        print(
            json.dumps(
                {
                    "name": character.about.name,
                    "movement": asdict(movement_of(character)),
                    "teeth_gap": teeth_gap(character, store),
                    "openings": list(curves.openings),
                    "hollow": {name: row.tolist() for name, row in curves.hollow.items()},
                    "asked": {name: row.tolist() for name, row in curves.asked.items()},
                    "volume": curves.volume.tolist(),
                    "lip_gap": {"places": curves.places.tolist(), "gap": curves.gap.tolist()},
                    "chin": curves.chin.tolist(),
                    "tooth": None if curves.tooth is None else curves.tooth.tolist(),
                    "neck": asdict(neck.measure()) if neck else None,
                    "baked": [asdict(e) for e in bake_errors(character, store)],
                    "findings": [asdict(f) for f in found],
                }
            )
        )
        return 1 if found else 0
    for k, share in enumerate(curves.openings):
        sunk = "  ".join(f"{REGIONS[name]} {row[k]:4.1f}" for name, row in curves.hollow.items())
        print(f"open {share:4.0%}  {sunk} mm  lower face {curves.volume[k]:5.1f} %  lips apart {curves.gap[k].max():5.1f} mm")
    for f in found:
        print(f"{f.title}: {f.text}")
    return 1 if found else 0
