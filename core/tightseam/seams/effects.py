"""What an edit did to all test poses: the readings before against those after, in one line."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from typing import Literal

from tightseam.document.model import Character
from tightseam.seams.reading import Reading

ROUNDING = 1e-9
TOLD = 0.1  # of a seam's limit by which it has to change to be told

Decides = Literal["overlap", "gap", "lag", "drift"]
Readings = Mapping[str, Sequence[Reading]]


@dataclass(frozen=True)
class Change:
    """How one seam changed in one pose: what decided it before and after (an overlap, a gap, a lag, a drift), in mm and as a share of its
    limit."""

    seam: str
    pose: str
    before: float
    after: float
    excess_before: float
    excess_after: float
    before_as: Decides
    after_as: Decides

    @property
    def grown(self) -> float:
        """By how many mm it got worse; where something else decides it now, all of that."""
        return self.after - (self.before if self.before_as == self.after_as else 0.0)


@dataclass(frozen=True)
class SideEffects:
    """How many readings are over their limits before and after, the changes for the better and for the worse (the largest first),
    and all of it in a line."""

    over_before: int
    over_after: int
    better: tuple[Change, ...]
    worse: tuple[Change, ...]
    said: str


def side_effects(character: Character, before: Readings, after: Readings) -> SideEffects:
    """Readings by pose of two revisions, over the poses and seams that both have."""
    changes = []
    for pose, rows in after.items():
        known = {r.seam: r for r in before.get(pose, ())}
        for now in rows:
            was = known.get(now.seam)
            if was is not None and abs(now.excess - was.excess) > TOLD:
                (before_mm, before_as), (after_mm, after_as) = _decides(was), _decides(now)
                changes.append(Change(now.seam, pose, before_mm, after_mm, was.excess, now.excess, before_as, after_as))
    changes.sort(key=lambda c: -abs(c.excess_after - c.excess_before))
    better = tuple(c for c in changes if c.excess_after < c.excess_before)
    worse = tuple(c for c in changes if c.excess_after > c.excess_before)
    counts = [sum(r.excess > 1 for rows in side.values() for r in rows) for side in (before, after)]
    fresh: dict[str, Reading] = {}
    for now in (r for rows in after.values() for r in rows if not _known(r.seam, before)):
        if now.seam not in fresh or now.excess > fresh[now.seam].excess:
            fresh[now.seam] = now
    said = " ".join(x for x in (_first(fresh.values()), _said(character, counts, better, worse, bool(fresh))) if x)
    return SideEffects(counts[0], counts[1], better, worse, said)


def _known(seam: str, before: Readings) -> bool:
    return any(r.seam == seam for rows in before.values() for r in rows)


def _first(fresh: Collection[Reading]) -> str:
    """Seams that were not measured before, each in its worst pose."""
    if not fresh:
        return ""
    over = sum(r.excess > 1 for r in fresh)
    seams = "1 seam is" if len(fresh) == 1 else f"{len(fresh)} seams are"
    return f"{seams} measured for the first time, {over or 'none'} of them over the limit."


def _decides(reading: Reading) -> tuple[float, Decides]:
    """What decides a reading, mm: of overlap and gap the one that gives its excess."""
    if reading.drift is not None:
        return reading.drift, "drift"
    if reading.lag is not None:
        return reading.lag, "lag"
    by_gap = (reading.gap or 0.0) / reading.gap_limit if reading.gap_limit else 0.0
    if reading.overlap and by_gap < reading.excess - ROUNDING:
        return reading.overlap, "overlap"
    return reading.gap or 0.0, "gap"


def _said(character: Character, counts: list[int], better: tuple[Change, ...], worse: tuple[Change, ...], fresh: bool) -> str:
    if not better and not worse:
        return "" if fresh else "No seam changed in any pose."
    labels = {s.name: s.label for s in character.seams} | {p.name: p.label for p in character.poses}

    def told(what: str, changes: tuple[Change, ...]) -> str:
        first = changes[0]
        more = f" and {len(changes) - 1} more" if len(changes) > 1 else ""
        place = f"{labels.get(first.seam, first.seam)} in {labels.get(first.pose, first.pose)}"
        if first.before_as == first.after_as:
            return f"{what}: {place}, {first.before:.2f} → {first.after:.2f} mm{more}."
        return f"{what}: {place}, {first.before:.2f} mm of {first.before_as} → {first.after:.2f} mm of {first.after_as}{more}."

    parts = [f"Over the limit: {counts[0]} → {counts[1]}."]
    parts += [told("Worse", worse)] if worse else []
    parts += [told("Better", better)] if better else []
    return " ".join(parts)
