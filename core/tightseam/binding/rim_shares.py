"""What bones of lids and lips carry round the lines they sit on: each hands over to the next."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from tightseam.binding.skin import lip_reaches
from tightseam.document.model import Bone, Point
from tightseam.geometry.distance import to_segment
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.polyline import arc_share
from tightseam.geometry.types import Floats, Ints
from tightseam.head.near_rim import NearRim, near_rim
from tightseam.head.regions import Rim, lids, lips
from tightseam.head.surface import Surface

LINING_REACH = 0.7  # cm behind the lip line from where the lining does not go with the bones of the lips
FADE = 0.6  # cm over which lids and lips let go of the skin round them
CORNER = 0.02  # of a line: what sits as near to its end sits in the corner


@dataclass(frozen=True)
class RimShares:
    """Shares (N, B + 1) of bones, the last one of what they hang on, and how far these hold, (N,): wholly at 1, not at all at 0."""

    held: Floats
    values: Floats


Rims = dict[str, tuple[Rim, NearRim]]  # the lips, and the lids of either side as far as their landmarks are there


def rims_of(surface: Surface) -> Rims:
    found = {"lips": lips(surface)} | {side: lids(surface, side) for side in "LR" if f"lid_inner_{side}" in surface.landmarks}
    return {name: (rim, near_rim(surface, rim)) for name, rim in found.items()}


def rim_shares(surface: Surface, rims: Rims, bones: Sequence[Bone], below: bool) -> RimShares:
    """Along lids and lips. Towards the lids' folds, and in the depth of the mouth, what the bones hang on has all. `below` says that it is
    the lower lip whose bones hang on it."""
    found = RimShares(np.zeros(len(surface.points)), np.zeros((len(surface.points), len(bones) + 1)))
    for name, (rim, near) in rims.items():
        if name == "lips":
            _lips(found, surface, rim, near, bones, below)
        else:
            _lids(found, surface, rim, near, bones, name)
    return found


def _lips(found: RimShares, surface: Surface, rim: Rim, mouth: NearRim, bones: Sequence[Bone], below: bool) -> None:
    own = [k for k, b in enumerate(bones) if b.region == "mouth"]
    seat = rim.lower if below else rim.upper  # closed lips touch: whose a bone is is not told by which is nearer
    sits = [_place_on(surface, seat, bones[k].base) for k in own]
    upper = _handed_over(sits, mouth.along_upper, alone=seat is rim.upper)
    lower = _handed_over(sits, mouth.along_lower, alone=seat is rim.lower)
    soft = np.where(rim.inside, 1 - smoothstep(mouth.distance / LINING_REACH), 1.0)
    upper_red, lower_red = lip_reaches(surface, mouth)
    held = np.where(rim.inside, 1.0, mouth.within(upper_red, lower_red, FADE))
    _give(found, held, soft, mouth.of_either(upper, lower), own)


def _lids(found: RimShares, surface: Surface, rim: Rim, near: NearRim, bones: Sequence[Bone], side: str) -> None:
    upper, of_upper = _of_lid(surface, rim, rim.upper, bones, near.along_upper)
    lower, of_lower = _of_lid(surface, rim, rim.lower, bones, near.along_lower)
    upper_fold = float(near.to_upper[surface.vertex(f"lid_fold_upper_{side}")])
    lower_fold = float(near.to_lower[surface.vertex(f"lid_fold_lower_{side}")])
    fold = near.of_either(np.full(len(upper), upper_fold), np.full(len(upper), lower_fold))
    handed = np.concatenate([upper * (1 - near.lower)[:, None], lower * near.lower[:, None]], axis=1)
    soft = 1 - smoothstep(near.distance / np.maximum(fold, 1e-6))
    _give(found, np.where(rim.inside, 1.0, near.within(upper_fold, lower_fold, FADE)), soft, handed, of_upper + of_lower)


def _of_lid(surface: Surface, rim: Rim, line: Ints, bones: Sequence[Bone], along: Floats) -> tuple[Floats, list[int]]:
    own = [k for k, b in enumerate(bones) if b.region == "lids" and _nearest_of(surface, rim.loop, b.tip) in line[1:-1]]
    return _handed_over([_place_on(surface, line, bones[k].tip) for k in own], along, alone=True), own


def _give(found: RimShares, held: Floats, soft: Floats, handed: Floats, own: list[int]) -> None:
    """Where this holds more than what is there it takes its place."""
    here = held > found.held
    given = handed[here] * soft[here][:, None]
    found.values[here] = 0
    found.values[np.flatnonzero(here)[:, None], own] = given
    found.values[here, -1] = 1 - given.sum(axis=1)
    found.held[here] = held[here]


def _handed_over(sits: list[float], along: Floats, alone: bool) -> Floats:
    """Shares (N, O) at places `along` a line (N,), 0 to 1, of bones that sit at `sits` (O,) on it or on the line over against it.

    Each bone has all where it sits and the next one takes over linearly. On a line that is not their own (`alone`) they have nothing, but
    for those in the corners.
    """
    shares = np.zeros((len(along), len(sits)))
    if not sits:
        return shares
    order = np.argsort(sits)
    centres, rows = np.array(sits)[order], np.eye(len(sits))[order]
    none = np.zeros((1, len(sits)))
    first, last = int(centres[0] > 0), int(centres[-1] < 1)
    at = np.concatenate([np.zeros(first), centres, np.ones(last)])
    given = np.concatenate([none[:first], rows, none[:last]])
    for column, place in enumerate(sits):
        if alone or place in (0, 1):
            shares[:, column] = np.interp(along, at, given[:, column])
    return shares


def _place_on(surface: Surface, line: Ints, point: Point) -> float:
    """How far along a line the place nearest to a point is, 0 to 1: the very corner where it is next to one."""
    points, arc = surface.points[line], arc_share(surface.points[line])
    found = [to_segment(np.array([point]), start, end) for start, end in pairwise(points)]
    k = int(np.argmin([off[0] for off, _ in found]))
    place = float(arc[k] + (arc[k + 1] - arc[k]) * found[k][1][0])
    return 0.0 if place < CORNER else 1.0 if place > 1 - CORNER else place


def _nearest_of(surface: Surface, vertices: Ints, point: Point) -> int:
    return int(vertices[np.linalg.norm(surface.points[vertices] - np.array(point), axis=1).argmin()])
