"""The commands of the Mix station: every expression on every other, of one head or of a folder of them."""

from __future__ import annotations

import argparse
import json
import os
import sys
from dataclasses import asdict
from pathlib import Path

from pydantic import ValidationError

from tightseam.cli.command import Command
from tightseam.cli.files import taken_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest, TightSeamError
from tightseam.document.model import Character
from tightseam.document.progress import heard_by
from tightseam.mix.compare import MixChange, changes
from tightseam.mix.report import REPORT, BoardCause, MixReport

MOST_JOBS = 64
STATUS = {"within": 0, "over": 1, "not measured": 3}


def add_commands(command: Command) -> None:
    sweep = command(
        "sweep", _sweep, "measure every expression on every other; exit status 1 where something is over, 3 where not all could be measured"
    )
    sweep.add_argument("file")
    sweep.add_argument("--bones", action="store_true", help="with what bones do by themselves, where no control moves them")
    sweep.add_argument("--json", action="store_true")
    sweep.add_argument("--report", metavar="DIR", help="write the report as a page and as JSON, against the one that is there")
    night = command("night", _night, "sweep every character file of a folder, and say what has changed since the last night")
    night.add_argument("folder")
    night.add_argument("--report", metavar="DIR", required=True)
    for sub in (sweep, night):
        sub.add_argument("--jobs", type=int, default=1, metavar="N", help="processes that measure at once")
        sub.add_argument(
            "--cluster", metavar="ADDRESS", default=os.environ.get("TIGHT_SEAM_CLUSTER"), help="a dask scheduler to measure on"
        )


def _sweep(options: argparse.Namespace) -> int:
    store = MemoryStore()
    character, _ = taken_in([options.file], store)
    report = _measured(character, store, options, options.bones or None)
    if options.report:
        _write(character, store, report, Path(options.report), Path(options.file).stem)
    if options.json:
        print(json.dumps(asdict(report) | {"within": report.state == "within"}))
    else:
        _print(report)
    return STATUS[report.state]


def _night(options: argparse.Namespace) -> int:
    """One head that cannot be swept keeps no other from it."""
    from tightseam.mix.page import night_page, today

    files = sorted(Path(options.folder).glob("*.seam"))
    if not files:
        raise BadRequest(f"There is no character file (.seam) in {options.folder}.")
    out, statuses = Path(options.report), []
    reports: dict[str, MixReport | str] = {}
    news: dict[str, list[MixChange] | None] = {}
    for file in files:
        store = MemoryStore()
        try:
            character, _ = taken_in([str(file)], store)
            report = _measured(character, store, options, None)
            news[file.stem] = _write(character, store, report, out, file.stem)
            reports[file.stem], status = report, STATUS[report.state]
        except TightSeamError as error:
            reports[file.stem], status = str(error), STATUS["not measured"]
        statuses.append(status)
        print(f"{file.stem}: {_over(report) if file.stem in news else reports[file.stem]}")
    (out / "index.html").write_text(night_page(reports, news, today()))
    return STATUS["over"] if STATUS["over"] in statuses else max(statuses)


def _measured(character: Character, store: MemoryStore, options: argparse.Namespace, own: bool | None) -> MixReport:
    from tightseam.deform.backend import load_compiled
    from tightseam.mix.intended import with_intended
    from tightseam.mix.report import mix_report

    load_compiled()
    processes = max(1, min(options.jobs, os.cpu_count() or 1, MOST_JOBS))
    with heard_by(_said if sys.stderr.isatty() else _unsaid):
        report = mix_report(character, store, processes=processes, cluster=options.cluster or None, own=own)
    return with_intended(report, character.intended)


def _write(character: Character, store: MemoryStore, report: MixReport, folder: Path, name: str) -> list[MixChange] | None:
    """The page and the JSON, against the JSON that was there; what has changed since, None where nothing was there."""
    from tightseam.mix.page import mix_page, today

    folder.mkdir(parents=True, exist_ok=True)
    kept = folder / f"{name}.json"
    before = None
    if kept.exists():
        try:
            before = REPORT.validate_json(kept.read_bytes())
        except ValidationError:
            print(f"{kept} is no report of a sweep, so there is nothing to compare with.", file=sys.stderr)
    (folder / f"{name}.html").write_text(mix_page(character, store, report, today(), before))
    kept.write_bytes(REPORT.dump_json(report))
    return None if before is None else changes(before, report)


def _said(share: float, text: str) -> None:
    print(f"\r{share:4.0%} {text:<40}", end="", file=sys.stderr, flush=True)


def _unsaid(share: float, text: str) -> None: ...


def _print(report: MixReport) -> None:
    """How much was measured, what could not be, and a line for each cause with its worst finding."""
    print(f"{report.alone} expressions alone, {report.pairs} pairs, {report.triples} triples: {_over(report)}")
    for missing in report.not_measured:
        print(f"not measured: {missing}")
    for fault in report.at_rest:
        print(f"at rest already: {fault}")
    for cause in report.open_causes:
        worst = report.findings[cause.findings[0]]
        print(f"{worst.title}: {worst.text} {_cells(report, cause)}, worst {worst.moment}. {_links(cause)}")


def _over(report: MixReport) -> str:
    meant = len(report.findings) - len(report.counting)
    more = f" {meant} intended." if meant else ""
    if not report.counting:
        return ("all within." if report.state == "within" else "nothing over its limit.") + more
    return f"{len(report.counting)} findings of {len(report.open_causes)} causes.{more}"


def _cells(report: MixReport, cause: BoardCause) -> str:
    cells = len({report.findings[k].moment for k in cause.findings})
    return "In 1 cell" if cells == 1 else f"In {cells} cells"


def _links(cause: BoardCause) -> str:
    return ", ".join(f"{link.control} → {link.target} {link.share:.0%}" for link in cause.links[:3])
