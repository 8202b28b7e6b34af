"""Cells and findings of a mix in words."""

from __future__ import annotations

from collections.abc import Mapping

from tightseam.document.model import Character
from tightseam.findings.sizes import said_size
from tightseam.mix.cell import Cell
from tightseam.mix.ends import End
from tightseam.mix.finding import MixFinding, MixKind
from tightseam.surfaces.words import DOES

ON_THE_SKIN: dict[MixKind, str] = {"self": "The skin runs into itself"}
ON_THE_SKIN.update(DOES.items())
OF_A_SEAM: Mapping[MixKind, str] = {"clash": "overlap", "gape": "gape", "off": "leaves the eye", "lag": "lags", "drift": "drifts"}
MOST_TOLD = 2  # of what expressions do alone


def said_cell(cell: Cell, ends: Mapping[str, End]) -> str:
    """What is dialled in: Jaw open × Smile at 50%."""
    said = [ends[d.end].label + ("" if d.strength == 1.0 else f" at {d.strength:.0%}") for d in cell.dialled]
    return " × ".join(said)


def title(finding: MixFinding, character: Character) -> str:
    """What is wrong, and where."""
    on_the_skin = ON_THE_SKIN.get(finding.kind)
    if on_the_skin is not None:
        return f"{on_the_skin}: {finding.place}"
    label = next((s.label for s in character.seams if s.name == finding.about), finding.about)
    return f"{label} {OF_A_SEAM[finding.kind]}"


def said(finding: MixFinding, character: Character) -> str:
    """What is wrong, where and how much, in one line."""
    return f"{title(finding, character)}: {text(finding)}"


def text(finding: MixFinding, by_itself: bool = False) -> str:
    """How much, against the limit and against what its expressions do alone: of three those are all that leave one of them out, unless
    each was measured `by_itself`."""
    size, limit = said_size(finding.size, finding.unit), said_size(finding.limit, finding.unit)
    if not finding.alone:
        return f"{size}; {limit} are allowed."
    if finding.kind == "hollow":
        return f"{size}; {limit} are allowed beyond {said_size(sum(finding.alone), finding.unit)}, what all do alone added up."
    if len(finding.alone) > MOST_TOLD:
        least = "By themselves" if by_itself else "With one of them left out"
        return f"{size}; {limit} are allowed. {least} at most {said_size(max(finding.alone), finding.unit)}."
    each = " and ".join(said_size(a, finding.unit) for a in finding.alone)
    return f"{size}; {limit} are allowed. Alone {each}."
