"""Where it is looked at what an edit changes: how far things go, and what is stretched."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.channels import channels_of
from tightseam.document.lookup import polygons
from tightseam.document.model import Character
from tightseam.document.poses import pose_values, rest_values, shown_poses
from tightseam.document.progress import one_by_one
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.adjacency import edges
from tightseam.geometry.types import Floats, Ints

MOST_ARROWS = 20  # a person counts no more
APART = 0.3  # cm between two arrows
MUCH = 0.25  # of what goes farthest, from which a vertex is meant when it is said where something moves
MOST_BONES = 12  # that are moved by themselves
MOST_SHAPES = 12  # that are looked at by themselves
STILL = 1e-3  # cm that a vertex may move and still be said to stay
MOST_STRETCH = 0.05  # of its length by which the worst edge of a part may become longer unsaid
SHORTEST = 0.02  # cm; a shorter edge is taken for as long as that


@dataclass(frozen=True)
class Moved:
    """Vertices of a part that go far."""

    part: str
    vertices: list[int]


@dataclass(frozen=True)
class Shows:
    """Somewhere to look at what changes: a pose of the strip by its name, or values; how far (mm) what goes farthest goes there, what goes
    far, and a few arrows spread over it, pairs of points (cm) one after another."""

    pose: str | None
    label: str
    values: dict[str, float]
    millimetres: float = 0.0
    moved: list[Moved] = field(default_factory=list)
    arrows: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class Stretched:
    """The worst edge of a part over the poses of the strip: how many times as long as at rest it was, and would be, and in which pose."""

    part: str
    pose: str
    before: float
    after: float


@dataclass
class Seen:
    """What was seen in all places: where most moves, None where nothing does, and what is stretched more than it was."""

    shows: Shows | None = None
    stretched: list[Stretched] = field(default_factory=list)


def seen(character: Character, store: ArrayStore, changed: Character, scratch: ArrayStore) -> Seen:
    """A character against what an edit makes of it; nothing can be said where it changes the meshes."""
    before, after = Evaluator(character, store), Evaluator(changed, scratch)
    if before.meshes.rest.shape != after.meshes.rest.shape:
        return Seen()
    best: Shows | None = None
    farthest = STILL
    stretch = _Stretch(changed, scratch, after)
    for place in one_by_one(list(_places(character, changed)), "Where it shows most: place"):
        was, now = before.points(_known(character, place.values)), after.points(place.values)
        apart = np.linalg.norm(now - was, axis=1)
        if place.pose is not None:
            stretch.look(place.pose, was, now, apart)
        if apart.max() > farthest:
            farthest = float(apart.max())
            best = _shown(place, changed, after, was, now, apart)
    return Seen(best, stretch.worse())


def _shown(place: Shows, changed: Character, after: Evaluator, was: Floats, now: Floats, apart: Floats) -> Shows:
    """A place with what goes far there, and arrows over it."""
    much = apart > max(STILL, MUCH * float(apart.max()))
    some = _spread(was, apart, np.flatnonzero(much))
    parts = {p.name: np.flatnonzero(much[after.meshes.rows(p.name)]).tolist() for p in changed.parts}
    arrows = np.concatenate([was[some], now[some]], axis=1).ravel().round(4).tolist()
    moved = [Moved(part, rows) for part, rows in parts.items() if rows]
    return replace(place, millimetres=CM_TO_MM * float(apart.max()), moved=moved, arrows=arrows)


class _Stretch:
    """The worst edge of each part, before and after, over the poses that it is shown."""

    def __init__(self, character: Character, store: ArrayStore, evaluator: Evaluator) -> None:
        self._rows = {p.name: evaluator.meshes.rows(p.name) for p in character.parts}
        self._ends = {p.name: edges(polygons(store, p), p.vertex_count).ends.T for p in character.parts}
        self._rest = {n: np.maximum(self._lengths(n, evaluator.meshes.rest), SHORTEST) for n in self._rows}
        self._before = dict.fromkeys(self._rows, 1.0)
        self._after = dict.fromkeys(self._rows, (1.0, ""))

    def look(self, pose: str, was: Floats, now: Floats, apart: Floats) -> None:
        for name, rows in self._rows.items():
            before = self._worst(name, was)
            still = float(apart[rows].max(initial=0.0)) <= STILL
            after = before if still else self._worst(name, now)
            self._before[name] = max(self._before[name], before)
            self._after[name] = max(self._after[name], (after, pose))

    def worse(self) -> list[Stretched]:
        """Parts whose worst edge becomes longer, the worst first."""
        found = [Stretched(n, pose, self._before[n], after) for n, (after, pose) in self._after.items()]
        return sorted((s for s in found if s.after - s.before > MOST_STRETCH), key=lambda s: s.before - s.after)

    def _worst(self, name: str, points: Floats) -> float:
        return float((self._lengths(name, points) / self._rest[name]).max(initial=0.0))

    def _lengths(self, name: str, points: Floats) -> Floats:
        a, b = self._ends[name]
        own = points[self._rows[name]]
        found: Floats = np.linalg.norm(own[a] - own[b], axis=1)
        return found


def _places(character: Character, changed: Character) -> Iterator[Shows]:
    """The strip; bones whose weights change, each moved half of what its own control allows, for no pose of the strip may move them; and
    shapes that change, each alone."""
    yield from (Shows(p.name, f"in {p.label}", pose_values(changed, p)) for p in shown_poses(changed))
    carried = [{(b.part, i.bone): (i.vertices, i.weights) for b in c.bindings for i in b.influences} for c in (character, changed)]
    names = {bone for part, bone in carried[0].keys() | carried[1].keys() if carried[0].get((part, bone)) != carried[1].get((part, bone))}
    for bone in [b for b in changed.bones if b.name in names and b.role == "deform" and channels_of(b)][:MOST_BONES]:
        widest = max(channels_of(bone), key=lambda c: c.span[1] - c.span[0])
        values = rest_values(changed) | {widest.name: max(widest.span, key=abs) / 2}
        yield Shows(None, f"when only {bone.label} moves", values)
    shapes = {s.name: s.deltas for s in character.shapes}
    for shape in [s for s in changed.shapes if s.name in shapes and shapes[s.name] != s.deltas][:MOST_SHAPES]:
        yield Shows(None, f"with {shape.label} alone", rest_values(changed) | {f"{shape.name}.strength": 1.0})


def _spread(points: Floats, apart: Floats, among: Ints) -> Ints:
    """The vertex that goes farthest, and from then on the one that is farthest from all before it (farthest-point sampling, Gonzalez
    1985), until there are enough or they would stand too close."""
    chosen = [int(among[apart[among].argmax()])]
    away = np.linalg.norm(points[among] - points[chosen[0]], axis=1)
    while len(chosen) < MOST_ARROWS and away.max() > APART:
        chosen.append(int(among[away.argmax()]))
        away = np.minimum(away, np.linalg.norm(points[among] - points[chosen[-1]], axis=1))
    return np.array(chosen)


def _known(character: Character, values: dict[str, float]) -> dict[str, float]:
    """Of some values those of the character's controls, all others at rest."""
    rest = rest_values(character)
    named = {c.name for c in character.controls}
    return rest | {n: v for n, v in values.items() if n in named or n not in rest}
