"""The report of a sweep as one page that can be printed: figures, the board, the causes with pictures, and what has changed since."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from datetime import UTC, datetime
from html import escape
from math import log

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.mix_model import Intended
from tightseam.document.model import Character
from tightseam.document.poses import rest_values
from tightseam.geometry.types import Floats
from tightseam.mix.compare import MixChange, changes
from tightseam.mix.report import BoardCause, BoardFinding, MixReport
from tightseam.pictures.place_picture import place_picture

MOST_PICTURES = 24
MOST_CHANGES = 40
CELL = 9  # px
STYLE = """
body{font:15px/1.5 "Hanken Grotesk",system-ui,sans-serif;color:#22302E;background:#FFFCF6;max-width:920px;margin:32px auto;padding:0 20px}
h1,h2{font-family:Fraunces,Georgia,serif;font-weight:600}h1{margin-bottom:0}h2{margin:28px 0 4px;font-size:20px}h3{margin:0;font-size:16px}
article{display:grid;grid-template-columns:260px 1fr;gap:20px;border-top:1px dashed #6B7673;padding:14px 0;break-inside:avoid}
article svg{width:260px;height:260px;border-radius:6px}.board{max-width:100%}p{margin:3px 0}
table{border-collapse:collapse;font-size:13.5px}td,th{text-align:left;padding:2px 12px 2px 0;border-bottom:1px solid #DED5C4}
.quiet{color:#5E6A66}.over{color:#A63A2C}.fine{color:#1F5B52}.num{font-family:"Spline Sans Mono",monospace}
.beside{display:grid;grid-template-columns:1fr 1fr;gap:24px}
@media print{body{margin:0}}
"""


def today() -> str:
    """The moment, as pages tell it."""
    return datetime.now(UTC).strftime("%-d %B %Y, %H:%M UTC")


def mix_page(character: Character, store: ArrayStore, report: MixReport, date: str, before: MixReport | None = None) -> str:
    """HTML that needs nothing beside it. With an earlier report, what is new, worse, better and gone since."""
    title = f"{character.about.name}: every expression on every other"
    drawn = _Pictures(character, store)
    body = [
        f'<h1>{escape(title)}</h1><p class="quiet">{escape(date)}</p>{_figures(report)}',
        _beside(before, report) if before is not None else "",
        f"<h2>The board</h2>{_board(report)}" if report.ends and before is None else "",
        "<h2>Causes</h2>" if report.open_causes else "",
        *(_cause(report, cause, drawn if k < MOST_PICTURES else None) for k, cause in enumerate(report.open_causes)),
        _intended(report, character.intended),
        _based(report),
        _apart(report),
    ]
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>{escape(title)}</title><style>{STYLE}</style>{"".join(body)}</html>'
    )


def _figures(report: MixReport) -> str:
    missing = "".join(f"<p>Not measured: {escape(text)}</p>" for text in report.not_measured)
    asleep = [e.label for e in report.ends if e.asleep]
    if asleep:
        missing += f"<p>Not measured, for nothing makes them do anything: {escape(', '.join(asleep))}.</p>"
    if report.counting:
        verdict = f'<p class="over"><b>{len(report.counting)} findings of {len(report.open_causes)} causes.</b></p>'
    elif report.state == "within":
        verdict = '<p class="fine"><b>All within.</b></p>'
    elif report.at_rest:
        verdict = "<p><b>No expression makes anything worse than it is at rest.</b></p>"
    else:
        verdict = "<p><b>Nothing over its limit in what was measured.</b></p>"
    missing += "".join(f'<p class="over">At rest already: {escape(text)}</p>' for text in report.at_rest)
    return f"{verdict}<p>{report.alone} expressions alone, {report.pairs} pairs and {report.triples} triples measured.</p>{missing}"


def _beside(before: MixReport, report: MixReport) -> str:
    """An earlier report and this one side by side, and what has changed."""
    sides = "".join(
        f"<div><h2>{name}</h2>{_figures(r)}{_board(r, labelled=False)}</div>" for name, r in (("Before", before), ("Now", report))
    )
    return f'<section class="beside">{sides}</section>{_changed(changes(before, report))}'


def _changed(found: Sequence[MixChange]) -> str:
    if not found:
        return "<h2>What has changed</h2><p>Nothing.</p>"
    rows = "".join(map(_change, found[:MOST_CHANGES]))
    more = f"<p>… and {len(found) - MOST_CHANGES} more</p>" if len(found) > MOST_CHANGES else ""
    return f"<h2>What has changed</h2><table><tr><th></th><th></th><th></th><th>before</th><th>now</th></tr>{rows}</table>{more}"


def _change(change: MixChange) -> str:
    before = "" if change.before is None else f"{change.before:.2f}"
    now = "" if change.how == "gone" else f"{change.finding.size:.2f}"
    told = "".join(f"<td>{escape(text)}</td>" for text in (change.how, change.finding.title, change.finding.moment))
    return f'<tr>{told}<td class="num">{before}</td><td class="num">{now}</td></tr>'


def _board(report: MixReport, labelled: bool = True) -> str:
    """The triangle of all ends against all, as SVG: the darker the farther beyond its limit."""
    at = {e.name: k for k, e in enumerate(report.ends)}
    worst: dict[tuple[int, int], BoardFinding] = {}
    for f in report.counting:  # worst first
        for a in f.ends:
            for b in f.ends:
                if at[a] > at[b] or len(f.ends) == 1:
                    worst.setdefault((at[a], at[b]), f)
    count, margin = len(report.ends), 150 if labelled else 0
    squares = "".join(
        f'<rect x="{margin + j * CELL}" y="{i * CELL}" width="{CELL - 1}" height="{CELL - 1}" fill="{_shade(worst.get((i, j)))}"/>'
        for i in range(count)
        for j in range(i + 1)
    )
    labels = "".join(
        f'<text x="{margin - 4}" y="{k * CELL + CELL - 2}" text-anchor="end" font-size="{CELL - 1}">{escape(e.label)}</text>'
        for k, e in enumerate(report.ends)
        if labelled
    )
    wide, high = margin + count * CELL, count * CELL
    frame = f'class="board" viewBox="0 0 {wide} {high}" width="{wide}" xmlns="http://www.w3.org/2000/svg" role="img"'
    return f"<svg {frame}>{squares}{labels}</svg>"


def _shade(worst: BoardFinding | None) -> str:
    if worst is None:
        return "#E4EAE4"
    bad = min(1.0, log(max(worst.excess, 1.0)) / log(8))
    return "#" + "".join(f"{round(a + bad * (b - a)):02x}" for a, b in zip((224, 178, 94), (150, 40, 28), strict=True))


def _cause(report: MixReport, cause: BoardCause, drawn: _Pictures | None) -> str:
    worst = report.findings[cause.findings[0]]
    label = {e.name: e.label for e in report.ends}
    cells = len({report.findings[k].moment for k in cause.findings})
    rows = ((n.said, f"{n.share:.0%}") for n in cause.links[:5])
    links = "".join(f'<tr><td>{escape(link)}</td><td class="num">{share}</td></tr>' for link, share in rows)
    others = ", ".join(label[name] for name in cause.others[:6])
    who = f"{label[cause.end]} with {others}" if others else f"{label[cause.end]} alone"
    told = (
        f"<div><h3>{escape(worst.title)}{' and on the other side' if len(cause.sides) == 2 else ''}</h3>"
        f"<p>{escape(worst.moment)}: {escape(worst.text)}</p>"
        f'<p class="quiet">{escape(who)}, in {cells} {"cell" if cells == 1 else "cells"}</p><table>{links}</table></div>'
    )
    return f"<article>{(drawn.of(worst) if drawn else None) or '<span></span>'}{told}</article>"


def _intended(report: MixReport, intended: Sequence[Intended]) -> str:
    rows = []
    for cause in report.causes:
        if cause.intended is not None:
            worst = report.findings[cause.findings[0]]
            told = (f"{worst.title} {worst.moment}: {worst.text}", intended[cause.intended].reason)
            rows.append("".join(f"<td>{escape(text)}</td>" for text in told))
    return _table("Intended", rows)


def _based(report: MixReport) -> str:
    return _table("Swept only with another", [f"<td>{escape(e.label)}</td><td>{escape(e.base)}</td>" for e in report.ends if e.base])


def _apart(report: MixReport) -> str:
    label = {e.name: e.label for e in report.ends}
    told = ((" × ".join(label[name] for name in a.ends), a.said) for a in report.apart)
    return _table("Not swept together", [f"<td>{escape(pair)}</td><td>{escape(why)}</td>" for pair, why in told])


def _table(title: str, rows: Sequence[str]) -> str:
    body = "".join(f"<tr>{row}</tr>" for row in rows)
    return f"<h2>{title}</h2><table>{body}</table>" if rows else ""


class _Pictures:
    """Draws findings in their poses."""

    def __init__(self, character: Character, store: ArrayStore) -> None:
        self._character, self._store = character, store
        self._evaluator = Evaluator(character, store)

    def of(self, finding: BoardFinding) -> str | None:
        places = {finding.part: np.array(finding.vertices or (finding.vertex,))}
        return place_picture(self._character.parts, self._store, self._posed(finding.values), places)

    def _posed(self, values: Mapping[str, float]) -> Mapping[str, Floats]:
        return self._evaluator.meshes.by_part(self._evaluator.in_head(rest_values(self._character) | dict(values)))


def _rows(reports: Mapping[str, MixReport | str], news: Mapping[str, Sequence[MixChange] | None]) -> Iterator[str]:
    """A row of a table for each head of a night: its report, or what kept it from having one."""
    for name, report in reports.items():
        link = f'<a href="{escape(name)}.html">{escape(name)}</a>'
        if isinstance(report, str):
            yield f'<tr><td>{escape(name)}</td><td colspan="3" class="over">{escape(report)}</td></tr>'
            continue
        found = news.get(name)
        since = "first night" if found is None else _counted(found) or "as before"
        counts = f"{len(report.open_causes)} causes of {len(report.counting)} findings"
        yield f"<tr><td>{link}</td><td>{report.state}</td><td>{counts}</td><td>{since}</td></tr>"


def _counted(found: Sequence[MixChange]) -> str:
    counts = ((how, sum(c.how == how for c in found)) for how in ("new", "worse", "better", "gone"))
    return ", ".join(f"{count} {how}" for how, count in counts if count)


def night_page(reports: Mapping[str, MixReport | str], news: Mapping[str, Sequence[MixChange] | None], date: str) -> str:
    """All heads of a folder on one page, with links to the page of each."""
    rows = "".join(_rows(reports, news))
    return (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>The night</title><style>{STYLE}</style>'
        f'<h1>The night</h1><p class="quiet">{escape(date)}</p><table>{rows}</table></html>'
    )
