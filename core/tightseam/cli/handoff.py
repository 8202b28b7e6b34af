"""The command of the Hand-off station: what offends the limits of who is to receive a rig."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict
from pathlib import Path

from tightseam.cli.command import Command
from tightseam.cli.files import read_file, taken_in
from tightseam.document.arrays import MemoryStore


def add_commands(command: Command) -> None:
    offences = command(
        "offences", _offences, "what a receiver would drop, refuse or set in its own way; exit status 1 where there is something"
    )
    offences.add_argument("file")
    offences.add_argument("--profile", default="lean", help="generous, lean, film, or a JSON file (docs/handoff.md)")
    offences.add_argument("--json", action="store_true")


def _offences(options: argparse.Namespace) -> int:
    from tightseam.handoff.offences import offences
    from tightseam.handoff.profile import SHIPPED, read_profile, shipped_profile

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    shipped = options.profile in SHIPPED
    profile = shipped_profile(options.profile) if shipped else read_profile(read_file(options.profile), Path(options.profile).name)
    found = offences(character, store, profile)
    if options.json:
        print(json.dumps({"name": character.about.name, "profile": profile.name, "offences": [asdict(f) for f in found]}))
    else:
        for f in found:
            print(f"{f.title}: {f.text}")
    return 1 if found else 0
