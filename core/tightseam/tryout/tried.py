"""An edit tried: what it would do to the findings of its station, to all test poses, and where it would show most."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field, replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.channels import channels_of
from tightseam.document.derived import derived
from tightseam.document.model import Character
from tightseam.document.poses import pose_values, rest_values, shown_poses
from tightseam.document.sections import MEASURED
from tightseam.document.units import CM_TO_MM
from tightseam.edits.registry import Step
from tightseam.seams.effects import SideEffects, side_effects
from tightseam.seams.meter import SeamMeter
from tightseam.seams.reading import Reading
from tightseam.tryout.stations import FINDINGS, Station, station_of

MOST_ARROWS = 400
MOST_BONES = 12  # that are moved by themselves
MOST_SHAPES = 12  # that are looked at by themselves
HARM = 0.02  # mm by which a seam may get worse unsaid
STILL = 1e-3  # cm that a vertex may move and still be said to stay


@dataclass(frozen=True)
class Shows:
    """Somewhere to look at what changes: a pose of the strip by its name, or values; how far (mm) what goes farthest goes there, and
    arrows, pairs of points (cm) one after another."""

    pose: str | None
    label: str
    values: dict[str, float]
    millimetres: float = 0.0
    arrows: list[float] = field(default_factory=list)


@dataclass(frozen=True)
class Tried:
    """What an edit would do: in words, to how many findings of its `station`, to all seams in all test poses, and where that `shows` most;
    None where nothing moves anywhere that was looked at. It `harms` where a seam gets worse or there is more to find: who asks for it as
    a repair has to be told first."""

    text: str
    station: Station
    before: int
    after: int
    effects: SideEffects
    shows: Shows | None
    harms: bool


def tried(character: Character, store: ArrayStore, step: Step) -> Tried:
    """A character with an edit against what it is now; what is measured for it is there when the edit is made."""
    scratch = MemoryStore(store)
    changed = step.params.apply(character, scratch)
    station = station_of(step.edit)
    before, after = (len(FINDINGS[station](c, s)) for c, s in ((character, store), (changed, scratch)))
    effects = side_effects(changed, strip_readings(character, store), strip_readings(changed, scratch))
    shows = _farthest(character, store, changed, scratch)
    harms = after > before or any(c.after - c.before > HARM for c in effects.worse)
    return Tried(step.params.describe(changed), station, before, after, effects, shows, harms)


@derived(*MEASURED, "poses")
def strip_readings(character: Character, store: ArrayStore) -> dict[str, list[Reading]]:
    """Readings of every pose of the strip, by its name."""
    meter = SeamMeter(character, store, Evaluator(character, store))
    return {p.name: meter.measure_pose(p) for p in shown_poses(character)}


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


def _farthest(character: Character, store: ArrayStore, changed: Character, scratch: ArrayStore) -> Shows | None:
    """The place in which something moves farthest."""
    best: Shows | None = None
    farthest = STILL
    before, after = Evaluator(character, store), Evaluator(changed, scratch)
    if before.meshes.rest.shape != after.meshes.rest.shape:
        return None
    for place in _places(character, changed):
        was, now = before.points(_known(character, place.values)), after.points(place.values)
        apart = np.linalg.norm(now - was, axis=1)
        if apart.max() > farthest:
            farthest = float(apart.max())
            moved = np.flatnonzero(apart > STILL)
            some = moved[:: max(1, len(moved) // MOST_ARROWS)]
            arrows = np.concatenate([was[some], now[some]], axis=1).ravel().round(4).tolist()
            best = replace(place, millimetres=CM_TO_MM * farthest, arrows=arrows)
    return best


def _known(character: Character, values: dict[str, float]) -> dict[str, float]:
    """Of some values those of the character's controls, all others at rest."""
    rest = rest_values(character)
    named = {c.name for c in character.controls}
    return rest | {n: v for n, v in values.items() if n in named or n not in rest}
