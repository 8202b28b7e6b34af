"""Ways to put a cause of the mix right, as edits that have not been tried."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import permutations
from typing import Any, Literal

from tightseam.correctives.solve import touching
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.model import Character, Seam
from tightseam.document.twins import side_of
from tightseam.edits.registry import Step, make_step
from tightseam.mix.report import BoardCause, BoardEnd, BoardFinding, MixReport

Kind = Literal["weights", "carrier", "relief", "damp", "corrective"]
FOLDS = ("self", "flip", "stretch", "squeeze", "crumple", "split", "squash")
FOLDS_WITHIN = (2.0, 3.0, 4.0)  # cm about a fold, a hollow or a tear that are laid smooth,
HELD_WITHIN = (1.0, 2.0)  # and about what is held out of a part
MUCH = 0.2  # of a finding that goes without a link from which its control drives what corrects it
MOST_ALSO = 8  # cells that one corrective is held in
LEFT = (0.8, 0.6, 0.4, 0.2)  # of a control, while another acts


@dataclass(frozen=True)
class Proposal:
    """An edit that may put a cause right, in words. Those of one `family` do the same, each more than the one before."""

    kind: Kind
    text: str
    step: Step
    family: str


def proposals(character: Character, store: ArrayStore, report: MixReport, cause: BoardCause) -> Iterator[Proposal]:
    """Family by family, the least of each first; what mends the thing itself before what works against it, correctives last."""
    worst = report.findings[cause.findings[0]]
    skin = next((p.name for p in character.parts if p.kind == "skin"), None)
    seam = next((s for s in character.seams if s.name == worst.about), None)
    yield from _weights(skin, report, cause)
    if seam is not None:
        yield from _carriers(character, worst, seam)
        yield from _reliefs(character, store, worst, seam)
    yield from _dampings(character, report, worst)
    yield from _correctives(skin, report, cause, worst, seam)


def _weights(skin: str | None, report: MixReport, cause: BoardCause) -> Iterator[Proposal]:
    """The patch of the skin weighed anew from what is round it."""
    here = sorted({v for k in cause.findings if (f := report.findings[k]).part == skin and f.kind in FOLDS for v in f.vertices})
    if here:
        step = make_step("weights.mend", {"part": skin, "vertices": here})
        yield Proposal("weights", "Weights there mended from their surroundings", step, "weights")


def _carriers(character: Character, worst: BoardFinding, seam: Seam) -> Iterator[Proposal]:
    """A part given to what should carry it, or deformed by shapes first."""
    if worst.kind == "lag" and seam.expected:
        carrier = {"part": seam.probe, "carrier": "rigid" if len(seam.expected) == 1 else "chain", "bones": list(seam.expected)}
        text = f"{part_label(seam.probe)} given to what should carry it"
        yield Proposal("carrier", text, make_step("binding.set_carrier", carrier), "carrier")
    late = {b.part for b in character.bindings if b.bones_first} & {seam.probe, seam.solid}
    for part in sorted(p for p in late if p is not None):
        step = make_step("binding.set_order", {"part": part, "first": "shapes"})
        yield Proposal("carrier", f"{part_label(part)} deformed by shapes first", step, f"order {part}")


def _reliefs(character: Character, store: ArrayStore, worst: BoardFinding, seam: Seam) -> Iterator[Proposal]:
    """Eye relief raised where a lid runs into its eye."""
    if worst.kind != "clash" or seam.margin is None or not character.eye_reliefs:
        return
    try:
        here = touching(character, store, worst.values, seam.name).tolist()
        step = make_step("lids.fit_relief", {"side": side_of(seam.name), "vertices": here})
    except BadRequest:
        return
    yield Proposal("relief", "Eye relief raised there", step, "relief")


def _correctives(skin: str | None, report: MixReport, cause: BoardCause, worst: BoardFinding, seam: Seam | None) -> Iterator[Proposal]:
    """The skin held out of what it runs into, or laid smooth."""
    drivers = _drivers(report, cause, worst)
    if len(drivers) < 2:
        return  # what one expression does alone is its own affair
    mirror = len(cause.sides) == 2 and not _own_image(report, [d["channel"] for d in drivers], worst)
    params: dict[str, Any] = {"values": dict(worst.values), "drivers": drivers, "mirror": mirror}
    if seam is not None and worst.kind == "clash" and seam.measure in ("solid", "clear") and skin in (seam.probe, seam.solid):
        for reach in HELD_WITHIN:
            step = make_step("corrective.solve", {**params, "held": seam.name, "reach": reach})
            yield Proposal("corrective", f"A corrective that holds the skin out, within {reach:g} cm", step, "held")
        yield from _by_one(report, cause, worst, seam.name)
    elif worst.part == skin and worst.kind != "drift":
        here = {v for k in cause.findings if (f := report.findings[k]).values == worst.values and f.part == skin for v in f.vertices}
        for reach in FOLDS_WITHIN:
            step = make_step("corrective.solve", {**params, "vertices": sorted(here), "reach": reach})
            yield Proposal("corrective", f"A corrective that lays the skin smooth, within {reach:g} cm", step, "filled")


def _by_one(report: MixReport, cause: BoardCause, worst: BoardFinding, seam: str) -> Iterator[Proposal]:
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
        yield Proposal("corrective", text, make_step("corrective.solve", params), "held by one")


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


def _dampings(character: Character, report: MixReport, worst: BoardFinding) -> Iterator[Proposal]:
    """One of two controls does less while the other acts, and so do their mirror images."""
    ends = {e.name: e for e in report.ends}
    labels = {c.name: c.label for c in character.controls}
    for less, other in permutations([ends[name] for name in worst.ends if ends[name].control in labels], 2):
        both = {(less.name, other.name), (less.image or less.name, other.image or other.name)}
        for left in LEFT:
            steps = [_damp(report, ends[of], ends[by], left) for of, by in sorted(both, key=lambda pair: pair[0] != less.name)]
            step = steps[0] if len(steps) == 1 else {"edit": "edits.together", "params": {"steps": steps}}
            text = f"{labels[less.control]} goes only to {left:.0%} while {labels[other.control]} is full"
            yield Proposal("damp", text, make_step(**step), f"damp {less.name} by {other.name}")


def _damp(report: MixReport, less: BoardEnd, other: BoardEnd, left: float) -> dict[str, Any]:
    two_ways = sum(e.control == less.control for e in report.ends) > 1
    ramp = {"comes_in": other.rest, "full": other.value, "left": left}
    return {"edit": "control.damp", "params": {"control": less.control, "by": other.control, "way": less.way if two_ways else None, **ramp}}
