"""The note that goes back to the modeller: what is wrong, where, why, and what is asked for."""

from __future__ import annotations

from dataclasses import dataclass
from html import escape
from itertools import groupby

import numpy as np

from tightseam.checkin.check import Check, Patch
from tightseam.checkin.picture import picture
from tightseam.checkin.report import Report
from tightseam.document.arrays import ArrayStore
from tightseam.document.labels import part_label
from tightseam.document.model import Character

MOST_RANGES = 60
STYLE = """
body{font:15px/1.5 "Hanken Grotesk",system-ui,sans-serif;color:#22302E;background:#FFFCF6;max-width:820px;margin:32px auto;padding:0 20px}
h1,h2{font-family:Fraunces,Georgia,serif;font-weight:600}h1{margin-bottom:0}
article{display:grid;grid-template-columns:300px 1fr;gap:20px;border-top:1px dashed #6B7673;padding:18px 0;break-inside:avoid}
article.plain{grid-template-columns:1fr}svg{width:300px;height:300px;border-radius:6px}h2{margin:0 0 4px;font-size:19px}
.fault{color:#A63A2C}.look{color:#8C6A1E}.quiet{color:#66726E}code{font:13px/1.5 "Spline Sans Mono",monospace;overflow-wrap:anywhere}
@media print{body{margin:0}}
"""


@dataclass(frozen=True)
class Note:
    """The note as one printable page, and as Markdown with pictures (name -> SVG) beside it."""

    html: str
    markdown: str
    pictures: dict[str, str]


def write_note(character: Character, store: ArrayStore, report: Report, date: str) -> Note:
    """Faults first, then what should be looked at; waived checks are left out. Vertex numbers are those of the delivered file."""
    listed = [c for c in report.checks if c.waived is None and c.verdict != "fine"]
    pages, lines, pictures = [], [], {}
    for check in listed:
        drawn = picture(character, store, check)
        where = [(_delivered_name(character, p), _ranges(_delivered_numbers(character, store, p))) for p in check.places]
        pages.append(_article(check, drawn, where))
        name = f"{check.key}.svg"
        if drawn:
            pictures[name] = drawn
        lines += _section(check, name if drawn else None, where)
    faults, looks = report.count("fault"), report.count("look")
    summary = f"{faults} to mend, {looks} worth a look" if listed else "Nothing to mend: fit to be rigged"
    title = f"{character.about.name}: notes from check-in"
    html = (
        f'<!doctype html><html lang="en"><meta charset="utf-8"><title>{escape(title)}</title><style>{STYLE}</style>'
        f'<h1>{escape(title)}</h1><p class="quiet">{escape(date)} · {summary}. Vertex numbers count from 0, in the order of your file.</p>'
        f"{''.join(pages)}</html>"
    )
    head = [f"# {title}", "", f"{date} · {summary}. Vertex numbers count from 0, in the order of your file.", ""]
    return Note(html, "\n".join([*head, *lines]), pictures)


def _article(check: Check, drawn: str | None, where: list[tuple[str, str]]) -> str:
    numbers = "".join(f"<p>{escape(part)}: <code>{numbers}</code></p>" for part, numbers in where)
    text = (
        f'<div><h2 class="{check.verdict}">{escape(check.label)}</h2><p><b>{escape(check.said)}</b></p>'
        f'<p>{escape(check.why)}</p><p>{escape(check.what)}</p><div class="quiet">{numbers}</div></div>'
    )
    return f"<article>{drawn}{text}</article>" if drawn else f'<article class="plain">{text}</article>'


def _section(check: Check, name: str | None, where: list[tuple[str, str]]) -> list[str]:
    lines = [f"## {check.label}", "", f"**{check.said}**", ""]
    if name:
        lines += [f"![{check.label}](pictures/{name})", ""]
    return [*lines, check.why, "", check.what, "", *(f"- {part}: `{numbers}`" for part, numbers in where), ""]


def _delivered_name(character: Character, place: Patch) -> str:
    part = next(p for p in character.parts if p.name == place.part)
    came = part.delivered
    return f"{part_label(part.name)} (“{came.name}” in {came.file})" if came and came.name != part.name else part_label(part.name)


def _delivered_numbers(character: Character, store: ArrayStore, place: Patch) -> list[int]:
    part = next(p for p in character.parts if p.name == place.part)
    own = np.array(place.vertices)
    if part.source is None:
        return list(own.tolist())
    source = np.asarray(store.get(part.source))[own]
    return sorted(source[source >= 0].tolist())


def _ranges(numbers: list[int]) -> str:
    """ "3, 7–9": runs of following numbers as ranges."""
    runs = []
    for _, run in groupby(enumerate(numbers), key=lambda pair: pair[1] - pair[0]):
        found = [n for _, n in run]
        runs.append(str(found[0]) if len(found) == 1 else f"{found[0]}–{found[-1]}")
    rest = len(runs) - MOST_RANGES
    return ", ".join(runs[:MOST_RANGES]) + (f" … and {rest} more runs" if rest > 0 else "")
