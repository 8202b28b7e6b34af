"""What expressions add up to where a cause is, capped."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.correctives.solve import touching
from tightseam.deform.caps import added_up
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.poses import rest_values
from tightseam.document.units import CM_TO_MM
from tightseam.edits.registry import make_step
from tightseam.geometry.types import Ints
from tightseam.mending.proposal import Proposal
from tightseam.mending.swept import Swept
from tightseam.mix.report import BoardCause

THROUGH = (0.6, 0.3, 0.0)  # of what is more than the farthest of them goes by itself
LEAST = 0.05  # cm that there has to be of it
FADES = 1.5  # cm
SOFT = 0.02  # cm
DIGITS = 3


def capped(swept: Swept, cause: BoardCause) -> Iterator[Proposal]:
    """Expressions that bring the skin farther together than any does by itself brought less far there, the least first."""
    skin, worst = swept.skin, swept.worst_of(cause)
    here = _here(swept, cause)
    if skin is None or not len(here):
        return
    evaluator = Evaluator(swept.character, swept.store)
    values = rest_values(swept.character) | dict(worst.values)
    added = added_up(swept.character.shapes, evaluator.rig.shapes, here + evaluator.meshes.rows(skin).start)
    moved = added.moved(evaluator.skeleton.expressions(values))
    if moved is None:
        return
    far, most = np.linalg.norm(moved[0], axis=1), moved[1]
    at = int(np.argmax(far - most))
    beyond = float(far[at] - most[at])
    if beyond < LEAST:
        return
    for through in THROUGH:
        cm = round(float(most[at] + through * beyond), DIGITS)
        params = {"part": skin, "vertices": here.tolist(), "cm": cm, "soft": SOFT, "fades": FADES, "mirror": len(cause.sides) == 2}
        text = f"Together expressions bring the skin there no farther than {CM_TO_MM * (cm + SOFT):.1f} mm, or than one of them does"
        yield Proposal("cap", text, make_step("cap.add", params), "cap")


def _here(swept: Swept, cause: BoardCause) -> Ints:
    """The vertices of the skin (K,) that a cause is about, in its worst pose."""
    worst, seam = swept.worst_of(cause), swept.seam_of(swept.worst_of(cause))
    if seam is not None and worst.kind == "clash":
        try:
            return touching(swept.character, swept.store, worst.values, seam.name)
        except BadRequest:
            return np.zeros(0, int)
    return np.array(swept.on_skin(cause), int)
