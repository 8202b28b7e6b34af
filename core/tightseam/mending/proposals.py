"""Ways to put a cause of the mix right by one thing that is changed."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.correctives.solve import touching
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.labels import part_label
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Seam
from tightseam.document.twins import side_of
from tightseam.edits.registry import make_step
from tightseam.mending.capped import capped
from tightseam.mending.correcting import MUCH, correctives
from tightseam.mending.dampings import dampings, together
from tightseam.mending.proposal import Proposal
from tightseam.mending.swept import Swept
from tightseam.mix.report import BoardCause, BoardFinding
from tightseam.weights.selection import grown

RIDES = {"vertex": "vertex by vertex", "tuft": "as tufts"}
RINGS = (0, 2, 4, 6)  # about a fold that are weighed anew with it
FOLDS = ("self", "flip", "stretch", "squeeze", "crumple", "split", "squash")


def proposals(swept: Swept, cause: BoardCause) -> Iterator[Proposal]:
    """Family by family, the least of each first; what mends the thing itself before what works against it, then
    correctives, and last what takes more than half of an expression."""
    character, worst = swept.character, swept.worst_of(cause)
    seam = swept.seam_of(worst)
    yield from _weights(swept, cause)
    if seam is not None:
        yield from _carriers(character, worst, seam)
        yield from _taken_along(character, cause, worst, seam)
        yield from _rides(character, worst, seam)
        yield from _reliefs(character, swept.store, worst, seam)
    yield from dampings(swept, cause)
    yield from capped(swept, cause)
    yield from correctives(swept, cause)
    yield from dampings(swept, cause, strong=True)


def _weights(swept: Swept, cause: BoardCause) -> Iterator[Proposal]:
    """The patch of the skin weighed anew from what is round it, and more and more rings about it: skin folds where weights change over
    too little of it."""
    folds = [f for f in swept.report.findings if f.part == swept.skin and f.kind in FOLDS]
    own = {swept.report.findings[k].moment for k in cause.findings}
    here = np.array(sorted({v for f in folds if f.moment in own for v in f.vertices}), int)
    if swept.skin is None or not len(here):
        return
    skin = find_part(swept.character, swept.skin)
    faces = polygons(swept.store, skin)
    for rings in range(max(RINGS) + 1):
        if rings:
            here = grown(faces, here, skin.vertex_count, "grow")
        if rings in RINGS:
            step = make_step("weights.mend", {"part": swept.skin, "vertices": here.tolist(), "mirror": True})
            about = f" and {rings} rings about it" if rings else ""
            yield Proposal("weights", f"Weights there{about} mended from their surroundings", step, "weights")


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


def _rides(character: Character, worst: BoardFinding, seam: Seam) -> Iterator[Proposal]:
    """What stands on the skin riding on it, where it is carried otherwise."""
    if worst.kind != "drift" or seam.solid is None or any(b.part == seam.probe and b.ride for b in character.bindings):
        return
    for by in RIDES:
        text = f"{part_label(seam.probe)} rides on {part_label(seam.solid)}, {RIDES[by]}"
        yield Proposal("carrier", text, make_step("binding.ride", {"part": seam.probe, "on": seam.solid, "by": by}), f"ride {by}")


def _taken_along(character: Character, cause: BoardCause, worst: BoardFinding, seam: Seam) -> Iterator[Proposal]:
    """What stands on the skin taken along by the shapes that move this from under it."""
    if worst.kind != "drift" or seam.measure != "ride" or seam.solid is None:
        return
    labels = {s.name: s.label for s in character.shapes}
    guilty = [link.target for link in cause.links if link.kind == "shape" and link.share > MUCH]
    if not guilty:
        return
    steps = [{"edit": "shape.take_along", "params": {"name": name, "part": seam.probe, "on": seam.solid}} for name in guilty]
    text = f"{part_label(seam.probe)} taken along by {' and '.join(labels[name] for name in guilty)}"
    yield Proposal("shape", text, make_step(**together(steps)), "taken along")


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
