"""Ways to keep expressions from where they go wrong: how far one goes, and what it is only used with."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import replace

from tightseam.document.labels import control_label
from tightseam.document.lookup import control as find_control
from tightseam.edits.registry import make_step
from tightseam.mending.proposal import Proposal
from tightseam.mending.swept import Swept, fault_of
from tightseam.mix.cell import Cell, Dialled
from tightseam.mix.report import BoardCause, BoardEnd, BoardFinding

GOES = (0.9, 0.8, 0.7, 0.6, 0.5)  # of its way that an expression keeps
NEEDED = (0.5, 1.0)  # of another that it is only used with
MOST_NEEDED = 2  # others that are tried for one expression
DIGITS = 3  # of a value that somebody reads


def limited(swept: Swept, cause: BoardCause) -> Iterator[Proposal]:
    """Each expression of the worst finding of a cause only used with another one that heals it, or going less far."""
    worst = swept.worst_of(cause)
    ends = {e.name: e for e in swept.report.ends}
    controls = {c.name for c in swept.character.controls}
    own = [ends[name] for name in worst.ends if ends[name].control in controls]
    healing = _healing(swept, worst, [e for e in ends.values() if e.control not in worst.values and not e.asleep])
    for end in own:
        yield from _needs(swept, end, healing)
    for end in own:
        yield from _ranges(swept, end)


def _healing(swept: Swept, worst: BoardFinding, others: Sequence[BoardEnd]) -> list[BoardEnd]:
    """The expressions with which a finding is within its limit, at its place, those with least of it first."""
    found = next(f for f in swept.cells[swept.cell_of(worst)].findings if (fault_of(f), f.vertex) == (fault_of(worst), worst.vertex))

    def size_with(other: BoardEnd) -> float:
        cell = Cell((*found.cell.dialled, Dialled(other.name)))
        return swept.sweeper.meter.size_of(replace(found, cell=cell))

    sizes = {other.name: size_with(other) for other in others}
    healing = [other for other in others if sizes[other.name] <= found.limit]
    return sorted(healing, key=lambda other: (sizes[other.name], other.name))[:MOST_NEEDED]


def _needs(swept: Swept, end: BoardEnd, healing: Sequence[BoardEnd]) -> Iterator[Proposal]:
    """One expression only used with another, first at half."""
    for other in healing:
        for share in NEEDED:
            value = round(other.rest + share * (other.value - other.rest), DIGITS)
            step = make_step("mix.set_need", {"control": end.control, "other": other.control, "value": value})
            text = f"{_label(swept, end)} is only used with {_label(swept, other)} from {value:g}{_unit(swept, other)} on"
            yield Proposal("needs", text, step, f"{end.control} with {other.name}")


def _ranges(swept: Swept, end: BoardEnd) -> Iterator[Proposal]:
    control = find_control(swept.character, end.control)
    for share in GOES:
        value = round(end.rest + share * (end.value - end.rest), DIGITS)
        span = {"low": control.low, "high": control.high, "rest": control.rest, ("high" if end.way == "high" else "low"): value}
        step = make_step("control.set_range", {"control": control.name, **span})
        yield Proposal("range", f"{control.label} goes only to {value:g}{control.unit}", step, f"range {end.name}")


def _label(swept: Swept, end: BoardEnd) -> str:
    return control_label(swept.character, end.control)


def _unit(swept: Swept, end: BoardEnd) -> str:
    return next((c.unit for c in swept.character.controls if c.name == end.control), "")
