"""An edit tried: what it would do to the findings of its station, to all test poses, and where it would show most."""

from __future__ import annotations

from dataclasses import dataclass

from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.model import Character
from tightseam.document.poses import shown_poses
from tightseam.document.progress import one_by_one, part_of_it, tell
from tightseam.edits.registry import Step
from tightseam.seams.effects import SideEffects, side_effects
from tightseam.seams.pose_report import PoseMeter
from tightseam.seams.reading import Reading
from tightseam.tryout.seen import Shows, Stretched, seen
from tightseam.tryout.stations import FINDINGS, Station, station_of

HARM = 0.02  # mm by which a seam may get worse unsaid


@dataclass(frozen=True)
class Tried:
    """What an edit would do: in words, to how many findings of its `station`, to all seams in all test poses, which parts are `stretched`
    more than they were, and where it `shows` most; None where nothing moves anywhere that was looked at. It `harms` where a seam gets
    worse, a part is stretched or there is more to find: who asks for it as a repair has to be told first."""

    text: str
    station: Station
    before: int
    after: int
    effects: SideEffects
    stretched: list[Stretched]
    shows: Shows | None
    harms: bool


def tried(character: Character, store: ArrayStore, step: Step) -> Tried:
    """A character with an edit against what it is now."""
    tell(0.0, "Making the edit")
    scratch = MemoryStore(store)
    return compared(character, store, step, step.params.apply(character, scratch), scratch)


def compared(character: Character, store: ArrayStore, step: Step, changed: Character, scratch: ArrayStore) -> Tried:
    """The same where the edit has been made already. All that is measured for it is kept, and found again when the edit is stored."""
    station = station_of(step)
    with part_of_it(0.1, 0.3, "Before: "):
        before = len(FINDINGS[station](character, store))
    with part_of_it(0.3, 0.6, "After: "):
        after = len(FINDINGS[station](changed, scratch))
    with part_of_it(0.6, 0.7, "Before: "):
        was = strip_readings(character, store)
    with part_of_it(0.7, 0.9, "After: "):
        effects = side_effects(changed, was, strip_readings(changed, scratch))
    with part_of_it(0.9, 1.0):
        looked = seen(character, store, changed, scratch)
    harms = after > before or bool(looked.stretched) or any(c.grown > HARM for c in effects.worse)
    return Tried(step.params.describe(changed), station, before, after, effects, looked.stretched, looked.shows, harms)


def strip_readings(character: Character, store: ArrayStore) -> dict[str, tuple[Reading, ...]]:
    """Readings of every pose of the strip, by its name."""
    meter = PoseMeter(character, store)
    return {p.name: meter.report(p).readings for p in one_by_one(shown_poses(character), "pose")}
