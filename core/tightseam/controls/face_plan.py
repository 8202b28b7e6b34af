"""The face plan: the head's own lines seen from in front, and pads of controls where these move the face."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from tightseam.deform.compare import in_head
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import skin as find_skin
from tightseam.document.model import Character, Control, Pad
from tightseam.document.poses import far_end, rest_values
from tightseam.geometry.types import Floats
from tightseam.landmarks.regions import lids, lips
from tightseam.landmarks.surface import Surface, surface_of

EDGE = 0.07  # of the plan that stays free round the head
SLICES = 28  # of the outline
APART = 0.09  # of the plan that pads keep between them
ROUNDS = 60
STILL = 1e-3  # cm below which a control does not move the face
HORIZONTAL = {("turn", "y"), ("move", "x")}
VERTICAL = {("turn", "x"), ("move", "y"), ("move", "z")}


@dataclass(frozen=True)
class PlanFrame:
    """Where the plan lies before the head: `middle` and `top` in cm, and cm to its width and height."""

    middle: float
    top: float
    size: float

    def places(self, points: Floats) -> Floats:
        """Places (K, 2) from the left and from the top, 0 to 1, of points (K, 3); the character's left is on the right."""
        share = (1 - 2 * EDGE) / self.size
        return np.column_stack([0.5 + (points[:, 0] - self.middle) * share, EDGE + (self.top - points[:, 1]) * share])


def face_lines(character: Character, store: ArrayStore) -> dict[str, list[list[tuple[float, float]]]]:
    """Lines of the face by name, on the plan. BadRequest where there is no skin, or a landmark is missing."""
    surface = _skin(character, store)
    frame = _frame(surface)
    p = surface.points
    rims = [lids(surface, side) for side in "LR"]
    mouth = lips(surface)
    marks = [[f"brow_{k}_{side}" for k in ("inner", "middle", "outer")] for side in "LR"]
    nose = ["nose_wing_R", "nose_base", "nose_wing_L"]
    found = {
        "head": [frame.places(_silhouette(p, surface.mark("chin_under")[1]))],
        "lids": [frame.places(p[line]) for rim in rims for line in (rim.upper, rim.lower)],
        "lips": [frame.places(p[line]) for line in (mouth.upper, mouth.lower)],
        "brows": [frame.places(np.array([surface.mark(m) for m in names])) for names in marks],
        "nose": [frame.places(np.array([surface.mark(m) for m in nose]))],
    }
    return {name: [[(float(u), float(v)) for u, v in line.round(4)] for line in lines] for name, lines in found.items()}


def _silhouette(p: Floats, chin: float) -> Floats:
    """The outline (K, 3) of points (N, 3) above the chin, seen from in front: the widest at each height, closed."""
    above = p[p[:, 1] > chin]
    steps = np.linspace(above[:, 1].min(), above[:, 1].max(), SLICES + 1)
    of = np.clip(np.digitize(above[:, 1], steps) - 1, 0, SLICES - 1)
    rings = [above[of == k] for k in range(SLICES) if (of == k).any()]
    right, left = (np.array([ring[pick(ring[:, 0])] for ring in rings]) for pick in (np.argmin, np.argmax))
    return np.vstack([right, left[::-1], right[:1]])


def arranged(character: Character, store: ArrayStore) -> tuple[Pad, ...]:
    """Pads for all controls: those that move a bone both ways across and both ways up share one; each stands at the middle of what it
    moves, seen from the head, and they are pushed apart where they would cover one another. What moves the head itself stands below."""
    frame = _frame(_skin(character, store))
    evaluator = Evaluator(character, store)
    rest = rest_values(character)
    still = evaluator.points(rest).astype(float)
    pairs = _pairs(character.controls)
    names = [pair for pair in pairs if pair[0] or pair[1]]
    places = np.array([_place(evaluator, frame, rest, still, [c for c in pair if c]) for pair in names]).reshape(-1, 2)
    places = _pushed_apart(places)
    return tuple(
        Pad(
            (x or y).name,  # type: ignore[union-attr]
            " / ".join(c.label for c in (x, y) if c),
            x.name if x else None,
            y.name if y else None,
            (float(u), float(v)),
        )
        for (x, y), (u, v) in zip(names, places.round(4), strict=True)
    )


def _pairs(controls: Sequence[Control]) -> list[tuple[Control | None, Control | None]]:
    """Controls as pads: across and up. One that is alone is drawn up, where it goes both ways across, across."""
    found: list[tuple[Control | None, Control | None]] = []
    left = list(controls)
    while left:
        first = left.pop(0)
        across, up = _ways(first)
        other = next((c for c in left if _bones(c) and _bones(c) == _bones(first) and _fits(first, c)), None)
        if other is not None:
            left.remove(other)
            found.append((first, other) if across else (other, first))
        else:
            found.append((first, None) if across and not up else (None, first))
    return found


def _fits(one: Control, other: Control) -> bool:
    """Does one go both ways across and the other both ways up?"""
    both = all(c.low < c.rest < c.high for c in (one, other))
    (a, b), (c, d) = _ways(one), _ways(other)
    return both and ((a and d and not c) or (b and c and not a))


def _ways(control: Control) -> tuple[bool, bool]:
    ways = {(n.by, n.axis) for n in control.links if n.kind == "bone"}
    return bool(ways & HORIZONTAL), bool(ways & VERTICAL)


def _bones(control: Control) -> set[str]:
    return {n.target for n in control.links if n.kind == "bone"}


def _place(evaluator: Evaluator, frame: PlanFrame, rest: dict[str, float], still: Floats, controls: Sequence[Control]) -> Floats:
    """The middle of what controls move, (2,)."""
    weight, total = 0.0, np.zeros(2)
    for control in controls:
        values = rest | {control.name: far_end(control)}
        posed = in_head(evaluator.points(values).astype(float), evaluator.to_head(evaluator.matrices(values)))
        goes = np.linalg.norm(posed - still, axis=1)
        if goes.max() > STILL:
            share = goes**2
            total += share @ frame.places(still)
            weight += float(share.sum())
    return total / weight if weight else np.array([0.5, 1 - EDGE])


def _pushed_apart(places: Floats) -> Floats:
    """Places (K, 2) with at least APART between any two, as far as the plan has room."""
    found = places + 1e-3 * np.column_stack([np.cos(np.arange(len(places))), np.sin(np.arange(len(places)))])  # none on one another
    for _ in range(ROUNDS):
        away = found[:, None] - found[None]
        far = np.linalg.norm(away, axis=2) + np.eye(len(found))
        lack = np.maximum(APART - far, 0) * (1 - np.eye(len(found)))
        if not lack.any():
            break
        found = np.clip(found + 0.5 * (lack[..., None] * away / far[..., None]).sum(axis=1), EDGE, 1 - EDGE)
    return found


def _frame(surface: Surface) -> PlanFrame:
    p = surface.points
    above = p[p[:, 1] > surface.mark("chin_under")[1]]
    top, bottom = float(above[:, 1].max()), float(above[:, 1].min())
    left, right = float(above[:, 0].min()), float(above[:, 0].max())
    return PlanFrame((left + right) / 2, top, max(top - bottom, right - left))


def _skin(character: Character, store: ArrayStore) -> Surface:
    return surface_of(character, store, find_skin(character, "draw a face plan of"))
