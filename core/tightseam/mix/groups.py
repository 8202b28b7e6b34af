"""Hundreds of findings as a few: what is the same fault in many cells, told once."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from tightseam.document.twins import other_side
from tightseam.geometry.types import Floats
from tightseam.mix.finding import MixFinding, MixKind
from tightseam.surfaces.limits import SKIN

ONE_PLACE = 1.2  # cm between the worst vertices of findings that are one place
MIDDLE = 0.3  # cm from the middle plane up to which a place is on no side
FAMILY: Mapping[MixKind, str] = {"off": "gape", "flip": "folds", "squeeze": "folds", "self": "folds", "crumple": "folds"}


@dataclass(frozen=True)
class Group:
    """Findings of one fault: the `end` that takes part in all of them, which others with it, the worst one, all, and on which sides of the
    face they lie."""

    end: str
    others: tuple[str, ...]
    worst: MixFinding
    findings: tuple[MixFinding, ...]
    sides: tuple[str, ...]


@dataclass(frozen=True)
class _Row:
    finding: MixFinding
    seam: str | None
    folded: Floats
    side: str
    ends: frozenset[str]


def grouped(findings: Sequence[MixFinding], images: Mapping[str, str], where: Callable[[MixFinding], Floats]) -> list[Group]:
    """The groups of some findings, the worst first: alike in kind, at one place or of one seam, with an end in common; left and right are
    folded onto one another. `images` are the ends that are mirror images of others, `where` (3,) cm is the place of a finding in the
    neutral."""
    rows = [_row(f, where(f), images) for f in findings]
    if not rows:
        return []
    pairs = [(i, j) for i, a in enumerate(rows) for j, b in enumerate(rows[:i]) if _alike(a, b)]
    one, other = np.array(pairs).reshape(-1, 2).T.astype(int)
    joined = csr_matrix((np.ones(len(one)), (one, other)), shape=(len(rows), len(rows)))
    count, label = connected_components(joined, directed=False)
    groups = [g for k in range(count) for g in _covered([rows[i] for i in np.flatnonzero(label == k)])]
    return sorted(groups, key=lambda g: (-g.worst.excess, str(g.worst.cell)))


def _row(finding: MixFinding, place: Floats, images: Mapping[str, str]) -> _Row:
    seam = None if _by_place(finding) else min(finding.about, other_side(finding.about) or finding.about)
    side = "" if abs(place[0]) < MIDDLE else "L" if place[0] > 0 else "R"
    return _Row(finding, seam, place * [np.sign(place[0]) or 1, 1, 1], side, frozenset(min(e, images.get(e, e)) for e in finding.cell.ends))


def _alike(a: _Row, b: _Row) -> bool:
    folded = (replace(r.finding, about=r.seam or r.finding.about) for r in (a, b))
    return bool(a.ends & b.ends) and a.seam == b.seam and one_fault(*zip(folded, (a.folded, b.folded), strict=True))


def one_fault(a: tuple[MixFinding, Floats], b: tuple[MixFinding, Floats]) -> bool:
    """May two findings, each with its place (3,) cm, be of one fault: of one family, and of one seam or at one place of the skin?"""
    (one, at), (other, at_other) = a, b
    if FAMILY.get(one.kind, one.kind) != FAMILY.get(other.kind, other.kind):
        return False
    if not _by_place(one) and not _by_place(other):
        return one.about == other.about
    return float(np.linalg.norm(at - at_other)) < ONE_PLACE


def _by_place(finding: MixFinding) -> bool:
    """Is a finding told apart from others by its place, not by its seam?"""
    return finding.about == SKIN or FAMILY.get(finding.kind) == "folds"


def _covered(rows: list[_Row]) -> list[Group]:
    """Again and again the end that explains most of what is left: one place is one fault only as far as one end is in all of it."""
    found = []
    while rows:
        explained: Counter[str] = Counter()
        for row in rows:
            for end in row.ends:
                explained[end] += row.finding.excess**0.5
        most = max(sorted(explained), key=lambda end: explained[end])
        own = [r for r in rows if most in r.ends]
        rows = [r for r in rows if most not in r.ends]
        others = Counter(end for r in own for end in r.ends if end != most)
        worst = max(own, key=lambda r: r.finding.excess).finding
        sides = tuple(sorted({r.side for r in own if r.side}))
        found.append(Group(most, tuple(e for e, _ in others.most_common()), worst, tuple(r.finding for r in own), sides))
    return found
