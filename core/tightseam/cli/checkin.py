"""The command of the Check-in station."""

from __future__ import annotations

import argparse
import json
from dataclasses import asdict
from pathlib import Path

from tightseam.cli.command import Command
from tightseam.cli.files import taken_in
from tightseam.document.arrays import MemoryStore


def add_commands(command: Command) -> None:
    check = command("checkin", _checkin, "is a head fit to be rigged? Any format; exit status 1 where a fault was found")
    check.add_argument("file")
    check.add_argument("--json", action="store_true")
    check.add_argument("--twin", metavar="FILE", help="a second file of the same head, to compare the vertex order with")
    check.add_argument("--note", metavar="OUT.html", help="write the note to the modeller")


def _checkin(options: argparse.Namespace) -> int:
    from datetime import date

    from tightseam.checkin.note import write_note
    from tightseam.checkin.report import check_in
    from tightseam.checkin.twin import delivered_points, twin_check

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    report = check_in(character, store)
    if options.twin:
        other = MemoryStore()
        report = report.with_check(twin_check(character, store, delivered_points(taken_in([options.twin], other)[0], other)))
    if options.note:
        Path(options.note).write_text(write_note(character, store, report, date.today().isoformat()).html, encoding="utf-8")
    if options.json:
        counts = {"faults": report.count("fault"), "looks": report.count("look")}
        checks = [asdict(c) for c in report.checks]
        print(json.dumps({"name": character.about.name, **counts, "limits": report.limits, "checks": checks}))
    else:
        for check in report.checks:
            print(f"{'intended' if check.waived else check.verdict:<9}{check.label:<36}{check.said}")
    return 1 if report.count("fault") else 0
