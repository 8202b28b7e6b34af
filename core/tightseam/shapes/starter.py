"""A starter set of facial action units (Ekman and Friesen 1978), built from landmarks, to be sculpted on from.

What the brows, cheeks and the nose do are surface falloffs about landmarks; what lips do is prescribed along them and spread over the
skin; what lids do is taken from their arcs. The jaw is left to its bone. Figures are for a mouth 4.84 cm wide.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import cached_property
from typing import Literal

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import at_rest_by_themselves
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import skin as find_skin
from tightseam.document.model import Character, Control, Link
from tightseam.document.part_mesh import part_mesh
from tightseam.document.progress import one_by_one
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.geodesic import distance_from
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.types import Floats
from tightseam.head.regions import lids as lids_of
from tightseam.head.surface import Surface, surface_of
from tightseam.shapes.expressions import MouthFrame, cheek_fold, pucker, smile, spread_from_lips
from tightseam.shapes.offsets import Offsets
from tightseam.shapes.posed import before_bones
from tightseam.shapes.sides import sides_of, split
from tightseam.shapes.strays import strays
from tightseam.shapes.taken_along import with_riders

SOFT = 0.6  # cm to either side of the middle over which halves hand over
Way = tuple[float, float, float]  # outwards, up, forward; cm
Which = Literal["apart", "both"]


@dataclass(frozen=True)
class Push:
    """A movement of the skin about a landmark of each side, dying off over `reach` cm along the surface."""

    mark: str
    reach: float
    way: Way


@dataclass(frozen=True)
class Unit:
    """An action unit by its number and name; `sided` ones come as a left and a right one."""

    number: str
    label: str
    make: Callable[[Face], Floats]
    sided: bool = True


@dataclass(frozen=True)
class LidUnit:
    """An action unit that lids do by themselves: how far the upper and the lower one close; less than 0 opens them wider."""

    number: str
    label: str
    upper: float
    lower: float


class Face:
    """A skin with what the units are made from."""

    def __init__(self, surface: Surface) -> None:
        self.surface = surface

    @cached_property
    def mouth(self) -> MouthFrame:
        return MouthFrame(self.surface)

    @cached_property
    def free(self) -> Floats:
        """What pushes may move, (N,): nothing of the lids up to their folds, nor of lips and lining, and softly more from there."""
        rim = self.mouth.rim
        found = np.where(rim.inside, 0.0, smoothstep((rim.distance - 0.5) / 1.4))
        for side in "LR":
            lid = lids_of(self.surface, side)
            upper, lower = (lid.reach(self.surface, f"lid_fold_{which}_{side}") for which in ("upper", "lower"))
            fold = np.where(lid.nearest_to(lid.upper), upper, lower)
            found = found * np.where(lid.inside, 0.0, smoothstep((lid.distance - 1.05 * fold) / 0.9))
        return np.asarray(found)

    def pushed(self, *pushes: Push) -> Floats:
        """Offsets (N, 3) of pushes on both sides."""
        offsets = np.zeros_like(self.surface.points)
        for push in pushes:
            for side, sign in (("L", 1.0), ("R", -1.0)):
                away = self._away(f"{push.mark}_{side}", push.reach)
                offsets += away[:, None] * (np.array(push.way) * [sign, 1, 1]) * self.mouth.scale
        return offsets * self.free[:, None]

    def swollen(self, mark: str, reach: float, by: float) -> Floats:
        """Offsets (N, 3) along the normals about a landmark of each side, cm."""
        away = sum((self._away(f"{mark}_{side}", reach) for side in "LR"), np.zeros(len(self.surface.points)))
        normals = vertex_normals(self.surface.points, self.surface.triangles)
        return np.asarray((by * self.mouth.scale * away * self.free)[:, None] * normals)

    def lips(self, reach: float, upper: Callable[[Floats], Floats], lower: Callable[[Floats], Floats] | None = None) -> Floats:
        """Offsets (N, 3) of lips moved by functions of t (0 in the middle, 1 at the corner) that give outwards, up and forward, cm; the
        lower lip does what the upper does where it is given nothing of its own."""
        m = self.mouth
        up, low = upper(m.t), (lower or upper)(m.t)
        move = np.where((m.upper > 0)[:, None], up, low) * np.column_stack([m.side, np.ones_like(m.t), np.ones_like(m.t)])
        return spread_from_lips(m, move, reach)

    def _away(self, mark: str, reach: float) -> Floats:
        far = distance_from(self.surface.graph, np.array([self.surface.vertex(mark)]))[0]
        return np.asarray(smoothstep(1 - far / (reach * self.mouth.scale)))


def _way(t: Floats, out: Floats | float = 0.0, up: Floats | float = 0.0, forward: Floats | float = 0.0) -> Floats:
    """Columns (N, 3) of outwards, up and forward, a row for each of t (N,)."""
    return np.column_stack([np.broadcast_to(x, t.shape) for x in (out, up, forward)])


def _bump(t: Floats) -> Floats:
    """Most half-way from the middle to the corner."""
    return np.asarray(np.exp(-(((t - 0.45) / 0.3) ** 2)))


def _corner(t: Floats) -> Floats:
    """Most at the corner, and level there and in the middle, so that lips stay on each other."""
    return np.asarray(t**3 * (2.5 - 1.5 * t**2))


def _still(t: Floats) -> Floats:
    return np.zeros((len(t), 3))


def _brow_lowerer(f: Face) -> Floats:
    return f.pushed(Push("brow_inner", 2.4, (-0.16, -0.28, 0.05)), Push("brow_middle", 2.4, (-0.1, -0.2, 0.02)))


def _nose_wrinkler(f: Face) -> Floats:
    return f.pushed(Push("nose_wing", 1.7, (0.04, 0.28, 0.04)), Push("brow_inner", 1.8, (-0.06, -0.12, 0.04)))


def _upper_lip_raiser(f: Face) -> Floats:
    return f.lips(2.2, lambda t: _way(t, up=0.34 * _bump(t), forward=0.06 * _bump(t)), _still)


def _lower_lip_depressor(f: Face) -> Floats:
    return f.lips(2.2, _still, lambda t: _way(t, up=-0.32 * _bump(t), forward=0.04 * _bump(t)))


def _corner_up(f: Face) -> Floats:
    return f.lips(2.4, lambda t: _way(t, 0.12 * t, 0.42 * _corner(t), -0.16 * t**1.5))


def _corner_down(f: Face) -> Floats:
    return f.lips(2.4, lambda t: _way(t, 0.06 * t, -0.4 * _corner(t), -0.12 * t**1.5))


def _dimpler(f: Face) -> Floats:
    return f.lips(1.8, lambda t: _way(t, 0.2 * t**2, 0.02 * t**2, -0.24 * t**2))


def _stretcher(f: Face) -> Floats:
    return f.lips(2.8, lambda t: _way(t, 0.42 * t, -0.06 * t**2, -0.3 * t**1.5))


def _funneler(f: Face) -> Floats:
    def lip(height: float) -> Callable[[Floats], Floats]:
        return lambda t: _way(t, -0.12 * t, height * (1 - t**2), 0.5 + 0.3 * t**2)

    return f.lips(2.6, lip(0.16), lip(-0.2))


def _lips_part(f: Face) -> Floats:
    return f.lips(2.2, lambda t: _way(t, up=0.1 * (1 - t**2)), lambda t: _way(t, up=-0.22 * (1 - t**2)))


def _chin_raiser(f: Face) -> Floats:
    """The chin's pad pushed up and forward, up to where the lip begins: farther the lower one would go into the upper."""
    far = distance_from(f.surface.graph, np.array([f.surface.vertex("chin_front")]))[0]
    pad = smoothstep(1 - far / (2.4 * f.mouth.scale)) * f.free
    return np.asarray(pad[:, None] * np.array([0, 0.26, 0.12]) * f.mouth.scale)


UNITS = (
    Unit("AU01", "Inner brow raiser", lambda f: f.pushed(Push("brow_inner", 2.6, (-0.04, 0.42, 0.02)))),
    Unit("AU02", "Outer brow raiser", lambda f: f.pushed(Push("brow_outer", 2.6, (0.04, 0.42, 0.0)))),
    Unit("AU04", "Brow lowerer", _brow_lowerer),
    Unit("AU06", "Cheek raiser", lambda f: f.pushed(Push("cheek", 2.6, (0.06, 0.34, 0.14)))),
    Unit("AU09", "Nose wrinkler", _nose_wrinkler),
    Unit("AU10", "Upper lip raiser", _upper_lip_raiser),
    Unit("AU11", "Nasolabial deepener", lambda f: cheek_fold(f.mouth, "L", 1.0) + cheek_fold(f.mouth, "R", -1.0)),
    Unit("AU12", "Lip corner puller", lambda f: smile(f.surface)),
    Unit("AU13", "Sharp lip puller", _corner_up),
    Unit("AU14", "Dimpler", _dimpler),
    Unit("AU15", "Lip corner depressor", _corner_down),
    Unit("AU16", "Lower lip depressor", _lower_lip_depressor),
    Unit("AU17", "Chin raiser", _chin_raiser, sided=False),
    Unit("AU18", "Lip pucker", lambda f: pucker(f.surface), sided=False),
    Unit("AU20", "Lip stretcher", _stretcher),
    Unit("AU22", "Lip funneler", _funneler, sided=False),
    Unit("AU25", "Lips part", _lips_part, sided=False),
    Unit("AU33", "Cheek blow", lambda f: f.swollen("cheek", 3.2, 0.55)),
    Unit("AU38", "Nostril dilator", lambda f: f.swollen("nose_wing", 0.9, 0.12)),
    Unit("AU39", "Nostril compressor", lambda f: f.pushed(Push("nose_wing", 0.9, (-0.1, 0.0, 0.0)))),
)
LID_UNITS = (
    LidUnit("AU05", "Upper lid raiser", -0.25, 0.0),
    LidUnit("AU07", "Lid tightener", 0.25, 0.35),
    LidUnit("AU43", "Eyes closed", 1.0, 1.0),
)
CATALOGUE = tuple(sorted([(u.number, u.label) for u in UNITS] + [(u.number, u.label) for u in LID_UNITS]))
NUMBERS = tuple(number for number, _ in CATALOGUE)


def starter_units(
    character: Character, store: ArrayStore, wanted: Sequence[str] | None = None, which: Which = "apart"
) -> Iterator[tuple[str, str, Offsets]]:
    """Name, label and offsets of action units in the order of their numbers; of all, or of those whose numbers are `wanted`. With `which`
    both sides of a sided one come as one. BadRequest where a landmark is missing, or there is no such unit."""
    unknown = next((n for n in wanted or () if n not in NUMBERS), None)
    if unknown is not None:
        raise BadRequest(f"There is no action unit “{unknown}” in the starter set. There are: {', '.join(NUMBERS)}.")
    skin = find_skin(character, "build action units on")
    face, sides = Face(surface_of(character, store, skin)), sides_of(character, store)
    units: list[Unit | LidUnit] = [u for u in (*UNITS, *LID_UNITS) if wanted is None or u.number in wanted]
    for unit in one_by_one(sorted(units, key=lambda u: u.number), "Action unit"):
        if isinstance(unit, LidUnit):
            yield from _lid_shapes(unit, character, store, which)
            continue
        whole = with_riders(character, store, skin, unit.make(face))
        if not unit.sided or which == "both":
            yield unit.number, unit.label, whole
            continue
        for side, half in zip("LR", split(sides, whole, SOFT), strict=True):
            yield f"{unit.number}_{side}", f"{unit.label} {side}", half


def _lid_shapes(unit: LidUnit, character: Character, store: ArrayStore, which: Which) -> Iterator[tuple[str, str, Offsets]]:
    """What lids do along their arcs, as shapes; nothing where there are none."""

    def shape(pairs: Sequence[tuple[str, str]]) -> Offsets:
        links = tuple(
            Link("lid", name, close) for names in pairs for name, close in zip(names, (unit.upper, unit.lower), strict=True) if close
        )
        only = replace(at_rest_by_themselves(character), controls=(Control("lids", "Lids", 0, 1, 0, links),), poses=())
        offsets = before_bones(Evaluator(only, store), {"lids": 1.0})
        for part in character.parts:
            if part.name in offsets:  # where eye relief begins to act, a single vertex may be nudged
                alone = strays(part_mesh(store, part).neighbours, offsets[part.name], 0.0)
                offsets[part.name][alone] = 0
        return offsets

    if which == "both" and character.lids:
        yield unit.number, unit.label, shape([x.names for x in character.lids])
    elif which == "apart":
        for lids in character.lids:
            yield f"{unit.number}_{lids.side}", f"{unit.label} {lids.side}", shape([lids.names])
