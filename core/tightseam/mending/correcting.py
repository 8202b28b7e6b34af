"""Correctives for a cause of the mix, to be solved."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from tightseam.edits.registry import make_step
from tightseam.mending.proposal import Proposal
from tightseam.mending.swept import Swept
from tightseam.mix.report import BoardCause, BoardFinding, MixReport

FOLDS_WITHIN = (2.0, 3.0, 4.0)  # cm about a fold, a hollow or a tear that are laid smooth,
HELD_WITHIN = (1.0, 2.0)  # and about what is held out of a part
MUCH = 0.2  # of a finding that goes without a link from which its control drives what corrects it
MOST_ALSO = 8  # cells that one corrective is held in


@dataclass(frozen=True)
class Solvable:
    """A corrective as the edit that solves it takes it, in words, with what else it is tried as by the same `family`."""

    family: str
    text: str
    params: Mapping[str, Any]


def correctives(swept: Swept, cause: BoardCause) -> Iterator[Proposal]:
    """The skin held out of what it runs into, or laid smooth."""
    for it in solvable(swept, cause):
        yield Proposal("corrective", it.text, make_step("corrective.solve", dict(it.params)), it.family)


def solvable(swept: Swept, cause: BoardCause) -> Iterator[Solvable]:
    """The correctives that may put a cause right, those of the least reach first."""
    report, skin, worst = swept.report, swept.skin, swept.worst_of(cause)
    seam = swept.seam_of(worst)
    drivers = _drivers(report, cause, worst)
    if len(drivers) < 2:
        return  # what one expression does alone is its own affair
    mirror = len(cause.sides) == 2 and not _own_image(report, [d["channel"] for d in drivers], worst)
    params: dict[str, Any] = {"values": dict(worst.values), "drivers": drivers, "mirror": mirror}
    if seam is not None and worst.kind == "clash" and seam.measure in ("solid", "clear") and skin in (seam.probe, seam.solid):
        for reach in HELD_WITHIN:
            text = f"A corrective that holds the skin out, within {reach:g} cm"
            yield Solvable("held", text, {**params, "held": seam.name, "reach": reach})
        yield from _by_one(report, cause, worst, seam.name)
    elif worst.part == skin and worst.kind != "drift":
        here = swept.on_skin(cause)
        for reach in FOLDS_WITHIN:
            text = f"A corrective that lays the skin smooth, within {reach:g} cm"
            yield Solvable("filled", text, {**params, "vertices": here, "reach": reach})


def _by_one(report: MixReport, cause: BoardCause, worst: BoardFinding, seam: str) -> Iterator[Solvable]:
    """One corrective for all that an end does with others, brought in by that end alone: it changes what that does by itself, too."""
    end = next(e for e in report.ends if e.name == cause.end)
    same = [f for k in cause.findings if (f := report.findings[k]).about == seam and cause.end in f.ends]
    moments = list({f.moment: dict(f.values) for f in same}.values())
    if len(moments) < 2 or end.control not in worst.values:
        return
    driver = {"channel": end.control, "comes_in": end.rest, "full": end.value}
    for reach in HELD_WITHIN:
        params = {"values": moments[0], "also": moments[1:MOST_ALSO], "held": seam, "reach": reach, "drivers": [driver]}
        text = f"A corrective that {end.label} brings in by itself, within {reach:g} cm"
        yield Solvable("held by one", text, params)


def _drivers(report: MixReport, cause: BoardCause, worst: BoardFinding) -> list[dict[str, Any]]:
    """Those of the controls that are away from rest without which much of the worst finding goes; all where that is none of them."""
    rest = {e.control: e.rest for e in report.ends}
    guilty = {link.control for link in cause.links if link.share > MUCH}
    of = [name for name in worst.values if name in guilty] or list(worst.values)
    return [{"channel": name, "comes_in": rest.get(name, 0.0), "full": worst.values[name]} for name in of]


def _own_image(report: MixReport, controls: list[str], worst: BoardFinding) -> bool:
    """Are the controls of a corrective, as they are in a finding, their own mirror image? Then so is what corrects it."""
    image = {e.name: e.image or e.name for e in report.ends}
    own = {e.name for e in report.ends if e.control in controls and (worst.values[e.control] - e.rest) * (e.value - e.rest) > 0}
    return {image[name] for name in own} == own
