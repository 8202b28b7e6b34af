"""The command of the Mix station: every expression on every other."""

from __future__ import annotations

import argparse
import json
import os
import sys
from dataclasses import asdict

from tightseam.cli.command import Command
from tightseam.cli.files import taken_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.progress import heard_by
from tightseam.mix.report import BoardCause, MixReport

MOST_JOBS = 64


def add_commands(command: Command) -> None:
    sweep = command(
        "sweep", _sweep, "measure every expression on every other; exit status 1 where something is over, 3 where not all could be measured"
    )
    sweep.add_argument("file")
    sweep.add_argument("--jobs", type=int, default=1, metavar="N", help="processes that measure at once")
    sweep.add_argument("--bones", action="store_true", help="with what bones do by themselves, where no control moves them")
    sweep.add_argument("--json", action="store_true")


def _sweep(options: argparse.Namespace) -> int:
    from tightseam.deform.backend import load_compiled
    from tightseam.mix.report import mix_report

    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    load_compiled()
    jobs = max(1, min(options.jobs, os.cpu_count() or 1, MOST_JOBS))
    with heard_by(_said if sys.stderr.isatty() else _unsaid):
        report = mix_report(character, store, processes=jobs, own=options.bones or None)
    if options.json:
        print(json.dumps(asdict(report) | {"within": report.within}))
    else:
        _print(report)
    return 1 if report.findings else 3 if report.not_measured or not report.pairs else 0


def _said(share: float, text: str) -> None:
    print(f"\r{share:4.0%} {text:<40}", end="", file=sys.stderr, flush=True)


def _unsaid(share: float, text: str) -> None: ...


def _print(report: MixReport) -> None:
    """How much was measured, what could not be, and a line for each cause with its worst finding."""
    print(f"{report.alone} expressions alone, {report.pairs} pairs, {report.triples} triples: {_over(report)}")
    for missing in report.not_measured:
        print(f"not measured: {missing}")
    for cause in report.causes:
        worst = report.findings[cause.findings[0]]
        print(f"{worst.title}: {worst.text} {_cells(report, cause)}, worst {worst.moment}. {_links(cause)}")


def _over(report: MixReport) -> str:
    if not report.findings:
        return "all within."
    return f"{len(report.findings)} findings of {len(report.causes)} causes."


def _cells(report: MixReport, cause: BoardCause) -> str:
    cells = len({(report.findings[k].ends, report.findings[k].strengths) for k in cause.findings})
    return "In 1 cell" if cells == 1 else f"In {cells} cells"


def _links(cause: BoardCause) -> str:
    return ", ".join(f"{link.control} → {link.target} {link.share:.0%}" for link in cause.links[:3])
