"""Which ends are swept with which: what does the same twice or undoes another is not, what is only used with another is on that."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from itertools import combinations
from typing import Literal

import numpy as np

from tightseam.document.mix_model import MixRules, Pairing
from tightseam.geometry.types import Floats
from tightseam.mix.cell import Dialled
from tightseam.mix.ends import End

ALIKE = 0.90  # cosine of what two ends do from which they do the same,
OPPOSITE = -0.85  # and up to which they undo one another
MUCH = 0.1  # of what an end moves most from which a vertex is its
SHARED = 0.5  # of the vertices of the smaller of two ends that they have in common where they can be alike
STIRS = 1e-3  # cm: an end that moves nothing farther does nothing alone

ALMOST = 0.1  # cm, or of a length: how near the moments of mirror images are to one another
MIRRORED = np.array([-1, 1, 1, 1, 1, 1, -1, 1, 1, 1.0])  # the moments of a mirror image against one's own

Why = Literal["alike", "opposite", "by hand"]
Base = tuple[Dialled, ...]


@dataclass(frozen=True)
class Apart:
    """Two ends that are not swept together, and why, in words too; the cosine of what they do, where that is why."""

    ends: tuple[str, str]
    why: Why
    said: str
    cosine: float | None = None


def needed_bases(rules: MixRules, ends: Iterable[End]) -> dict[str, Base]:
    """The base poses of ends that are only used with others, by their names: what somebody said of ends that are there."""
    found: dict[str, Base] = {}
    every = list(ends)
    for need in rules.needs:
        for other in every:
            strength = (need.value - other.rest) / (other.value - other.rest)
            if other.control != need.other or strength <= 0:
                continue
            for end in every:
                if end.control == need.control:
                    found[end.name] = (*found.get(end.name, ()), Dialled(other.name, round(min(strength, 1.0), 6)))
    return found


def pairings_by_ends(rules: MixRules, ends: Iterable[End]) -> dict[frozenset[str], Pairing]:
    """What somebody said of pairs, by the names of their ends."""
    names = {(e.control, e.way): e.name for e in ends}
    found = {}
    for p in rules.pairings:
        pair = frozenset(names.get(key, "") for key in ((p.one, p.one_way), (p.other, p.other_way)))
        if "" not in pair:
            found[pair] = p
    return found


def kept_apart(ends: Sequence[End], offsets: Mapping[str, Floats], rules: MixRules) -> list[Apart]:
    """The pairs that are not worth a cell, from the offsets (N, 3) of all vertices at each end: where most of what the smaller one moves
    is moved by the other too, and alike or against it; and those that somebody took out, without those that somebody put in."""
    said = pairings_by_ends(rules, ends)
    pairs = ((a.name, b.name) for a, b in combinations(ends, 2))
    by_hand = [Apart(p, "by hand", said[frozenset(p)].reason) for p in pairs if frozenset(p) in said and not said[frozenset(p)].swept]
    return [*(a for a in _alike_or_opposite(ends, offsets) if frozenset(a.ends) not in said), *by_hand]


def _alike_or_opposite(ends: Sequence[End], offsets: Mapping[str, Floats]) -> list[Apart]:
    lengths = {name: np.linalg.norm(offset, axis=1) for name, offset in offsets.items()}
    most = {name: float(length.max(initial=0)) for name, length in lengths.items()}
    own = {name: length > MUCH * most[name] for name, length in lengths.items()}
    found = []
    for a, b in combinations([e for e in ends if e.name in offsets and most[e.name] > STIRS], 2):
        if a.control == b.control:
            continue
        both = int((own[a.name] & own[b.name]).sum())
        fewer = min((own[a.name], own[b.name]), key=lambda rows: int(rows.sum()))
        if both <= SHARED * fewer.sum():
            continue
        one, other = offsets[a.name][fewer], offsets[b.name][fewer]
        cosine = float((one * other).sum() / max(float(np.linalg.norm(one) * np.linalg.norm(other)), 1e-12))
        if cosine >= ALIKE:
            found.append(Apart((a.name, b.name), "alike", "they do the same", cosine))
        elif cosine <= OPPOSITE:
            found.append(Apart((a.name, b.name), "opposite", "one undoes the other", cosine))
    return found


def idle(ends: Sequence[End], offsets: Mapping[str, Floats]) -> list[End]:
    """The ends that move nothing alone."""
    return [e for e in ends if float(np.abs(offsets[e.name]).max(initial=0)) < STIRS]


def mirror_images(offsets: Mapping[str, Floats], points: Floats) -> dict[str, str]:
    """The ends that are the mirror image of another one, by name, from the offsets (N, 3) of all vertices at each end and where these are
    at rest (N, 3): as much, as far about the middle on the other side, and the other way. No vertex has to have a partner."""
    seen = {name: _moments(offset, points) for name, offset in offsets.items()}
    images = {}
    for name, (size, own) in seen.items():
        if size < STIRS or _near(own * MIRRORED, own):
            continue
        apart = {other: float(np.abs(own * MIRRORED - its).max()) for other, (_, its) in seen.items() if _near(own * MIRRORED, its)}
        if apart:
            images[name] = min(sorted(apart), key=lambda other: apart[other])
    return images


def _moments(offset: Floats, points: Floats) -> tuple[float, Floats]:
    """How far an end goes on the whole, cm; and where that is, and which way, by its first moments, cm."""
    length = np.linalg.norm(offset, axis=1)
    total = max(float(length.sum()), 1e-12)
    where = length @ points / total
    spread = np.sqrt(length @ (points - where) ** 2 / total)
    return float(length.max(initial=0)), np.concatenate([where, spread, offset.sum(axis=0) / total, [np.log1p(total)]])


def _near(one: Floats, other: Floats) -> bool:
    return bool((np.abs(one - other) < ALMOST).all())
