"""The face plan: the head's own lines seen from in front, and pads of controls where these move the face."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.ndimage import gaussian_filter1d
from scipy.optimize import linear_sum_assignment

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import skin as find_skin
from tightseam.document.model import Character, Control, Pad
from tightseam.document.poses import far_end, rest_values
from tightseam.document.twins import other_side
from tightseam.geometry.types import Floats, Ints
from tightseam.head.regions import lids, lips
from tightseam.head.surface import Surface, surface_of

ASPECT = 1.22  # height of the plan over its width
EDGE = 0.05  # of the plan's width that stays free round the head
SLICES = 56  # of the outline
SOFT = 1.2  # slices over which it is smoothed
COLUMNS, ROWS = 5, 6  # places for pads: each has room for a pad with its name
OFF_CENTRE = 0.07  # of the plan's width squared: what it costs a pad of the middle to stand aside
STILL = 1e-3  # cm below which a control does not move the face
HORIZONTAL = {("turn", "y"), ("move", "x")}
VERTICAL = {("turn", "x"), ("move", "y"), ("move", "z")}


@dataclass(frozen=True)
class PlanFrame:
    """Where the plan lies before the head: `middle` and `top` in cm, and cm to its width."""

    middle: float
    top: float
    size: float

    def places(self, points: Floats) -> Floats:
        """Places (K, 2) from the left and from the top, 0 to 1, of points (K, 3); the character's left is on the right."""
        across = 0.5 + (points[:, 0] - self.middle) / self.size
        down = EDGE + (self.top - points[:, 1]) / self.size
        return np.column_stack([across, down / ASPECT])


def face_lines(character: Character, store: ArrayStore) -> dict[str, list[list[tuple[float, float]]]]:
    """Lines of the face by name, on the plan. BadRequest where there is no skin, or a landmark is missing."""
    surface = _skin(character, store)
    outline = _outline(character, store, surface)
    frame = _frame(outline)
    p = surface.points
    rims = [lids(surface, side) for side in "LR"]
    mouth = lips(surface)
    marks = [[f"brow_{k}_{side}" for k in ("inner", "middle", "outer")] for side in "LR"]
    nose = ["nose_wing_R", "nose_base", "nose_wing_L"]
    found = {
        "head": [frame.places(outline)],
        "lids": [frame.places(p[line]) for rim in rims for line in (rim.upper, rim.lower)],
        "lips": [frame.places(p[line]) for line in (mouth.upper, mouth.lower)],
        "brows": [frame.places(np.array([surface.mark(m) for m in names])) for names in marks],
        "nose": [frame.places(np.array([surface.mark(m) for m in nose]))],
    }
    return {name: [[(float(u), float(v)) for u, v in line.round(4)] for line in lines] for name, lines in found.items()}


def _outline(character: Character, store: ArrayStore, surface: Surface) -> Floats:
    """The outline (K, 3) of skin and hair above the base of the neck, seen from in front: the widest at each height, closed."""
    eyes = min(surface.mark(f"lid_upper_{side}")[1] for side in "LR")
    hair = [np.asarray(store.get(p.points)) for p in character.parts if p.kind == "hair"]
    points = [surface.points, *(h[h[:, 1] > eyes] for h in hair)]  # loose strands below the eyes are no outline
    base = surface.mark("neck_base")[1] + 0.25 * (surface.mark("chin_under")[1] - surface.mark("neck_base")[1])
    above = np.vstack(points)
    above = above[above[:, 1] > base]
    steps = np.linspace(above[:, 1].min(), above[:, 1].max(), SLICES + 1)
    of = np.clip(np.digitize(above[:, 1], steps) - 1, 0, SLICES - 1)
    rings = [above[of == k] for k in range(SLICES) if (of == k).any()]
    right, left = (np.array([ring[pick(ring[:, 0])] for ring in rings]) for pick in (np.argmin, np.argmax))
    right[:, 0], left[:, 0] = (gaussian_filter1d(side[:, 0], SOFT, mode="nearest") for side in (right, left))
    return np.vstack([right, left[::-1], right[:1]])


def arranged(character: Character, store: ArrayStore) -> tuple[Pad, ...]:
    """Pads for controls: those that move a bone both ways across and both ways up share one. Each stands in a place of its own near the
    middle of what it moves, seen from the head; those of two sides stand mirrored. What moves the head itself stands below. There are
    COLUMNS x ROWS places; controls beyond that have no pad."""
    frame = _frame(_outline(character, store, _skin(character, store)))
    evaluator = Evaluator(character, store)
    rest = rest_values(character)
    still = evaluator.points(rest).astype(float)
    pairs = [pair for pair in _pairs(character.controls) if pair[0] or pair[1]][: COLUMNS * ROWS]
    wished = np.array([_place(evaluator, frame, rest, still, [c for c in pair if c]) for pair in pairs]).reshape(-1, 2)
    return tuple(
        Pad(
            (x or y).name,  # type: ignore[union-attr]
            " / ".join(c.label for c in (x, y) if c),
            x.name if x else None,
            y.name if y else None,
            (float(u), float(v)),
        )
        for (x, y), (u, v) in zip(pairs, _seated(wished, _twins(pairs)).round(4), strict=True)
    )


def _seated(wished: Floats, twins: Ints) -> Floats:
    """A place (K, 2) in the middle of a cell of its own for each pad, as near as can be to where it is wished (K, 2); `twins` (K,) tell
    which pad mirrors it, -1 for none. First the pairs, in one half and its mirror image, then all others (Kuhn 1955)."""
    columns, rows = np.meshgrid((np.arange(COLUMNS) + 0.5) / COLUMNS, (np.arange(ROWS) + 0.5) / ROWS)
    cells = np.column_stack([columns.ravel(), rows.ravel()])
    mirror = np.arange(COLUMNS * ROWS).reshape(ROWS, COLUMNS)[:, ::-1].ravel()
    free = np.ones(len(cells), bool)
    found = np.empty_like(wished)
    firsts = np.array([k for k in range(len(wished)) if twins[k] > k], int)
    if len(firsts):
        halves = np.flatnonzero(cells[:, 0] > 0.5 + 1e-9)
        # where the pair is wished on the half that holds the character's left
        right = (wished[firsts] + _mirrored(wished[twins[firsts]])) / 2
        flipped = right[:, 0] < 0.5
        right[flipped] = _mirrored(right[flipped])
        pad, cell = linear_sum_assignment(_cost(right, cells[halves]))
        for k, c, turned in zip(firsts[pad], halves[cell], flipped[pad], strict=True):
            one, other = (mirror[c], c) if turned else (c, mirror[c])
            found[k], found[twins[k]] = cells[one], cells[other]
            free[[c, mirror[c]]] = False
    alone = np.flatnonzero(twins < 0)
    left = np.flatnonzero(free)
    first = 1 + np.linspace(1, 0, len(alone))[:, None]  # what comes first among the controls has more to say
    cost = first * (_cost(wished[alone], cells[left]) + OFF_CENTRE * (np.abs(cells[left, 0] - 0.5) > 1e-9))
    pad, cell = linear_sum_assignment(cost)
    found[alone[pad]] = cells[left[cell]]
    return found


def _cost(wished: Floats, cells: Floats) -> Floats:
    away = (wished[:, None] - cells[None]) * [1, ASPECT]
    return np.asarray((away**2).sum(axis=2))


def _mirrored(places: Floats) -> Floats:
    return np.asarray(places * [-1, 1] + [1, 0])


def _twins(pairs: Sequence[tuple[Control | None, Control | None]]) -> Ints:
    """The pad of the other side of each, (K,), -1 for none: by the names of their controls."""
    names = [tuple(c.name if c else "" for c in pair) for pair in pairs]
    number = {name: k for k, name in enumerate(names)}
    found = [number.get(tuple(other_side(n) or n for n in name), -1) for name in names]
    return np.array([-1 if other == k else other for k, other in enumerate(found)], int)


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
        goes = np.linalg.norm(evaluator.in_head(values) - still, axis=1)
        if goes.max() > STILL:
            share = goes**2
            total += share @ frame.places(still)
            weight += float(share.sum())
    return total / weight if weight else np.array([0.5, 1.0])


def _frame(outline: Floats) -> PlanFrame:
    """So that the outline fits the plan both ways."""
    (left, bottom), (right, top) = outline[:, :2].min(axis=0), outline[:, :2].max(axis=0)
    size = max((right - left) / (1 - 2 * EDGE), (top - bottom) / (ASPECT - 2 * EDGE))
    return PlanFrame((left + right) / 2, top, size)


def _skin(character: Character, store: ArrayStore) -> Surface:
    return surface_of(character, store, find_skin(character, "draw a face plan of"))
