"""Reliefs in the making: their regions, presets from landmarks, the other side's."""

from __future__ import annotations

import itertools
from dataclasses import dataclass, replace
from typing import Literal

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.make import make_point
from tightseam.document.model import Character, Control, CurveKey, CurveKeys, Link, Point, Relief
from tightseam.document.poses import far_end
from tightseam.geometry.geodesic import fading
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.jaw.face import LowerFace

PresetName = Literal["cheek_upper", "cheek_lower", "under", "drag", "fold"]
MEASURED: tuple[PresetName, ...] = ("cheek_upper", "cheek_lower", "under", "drag")  # in regions of which it is known how deep they lie
JAW_LINE = ("jaw_hinge_R", "jaw_angle_R", "chin_under", "jaw_angle_L", "jaw_hinge_L")
BEGINS, FULL = 0.2, 0.8  # of a control's way, where a preset begins and where it stops growing
RISING: CurveKeys = (CurveKey(BEGINS, 0.0), CurveKey(FULL, 1.0))
LEAST = 1e-3  # of a region
UPWARDS: Point = (0.0, 1.0, 0.0)


@dataclass(frozen=True)
class Preset:
    """What a relief starts with: `cm` at full opening, and over how many cm of surface its region fades (for a mouth of the reference
    width); on both sides or in the middle."""

    label: str
    paired: bool
    cm: float
    fades: float
    along: bool = False

    @property
    def sides(self) -> tuple[str, ...]:
        return ("L", "R") if self.paired else ("",)


PRESETS: dict[PresetName, Preset] = {
    "cheek_upper": Preset("Cheekbone", True, -0.15, 2.6),
    "cheek_lower": Preset("Jowl", True, -0.2, 2.6),
    "under": Preset("Throat", False, 0.2, 2.8),
    "drag": Preset("Chin drag", False, 0.3, 2.4, along=True),
    "fold": Preset("Corner fold", True, -0.12, 0.8),
}


def preset(face: LowerFace, name: PresetName, taken: set[str], cm: float | None = None) -> tuple[Relief, ...]:
    """The reliefs of a preset, one or one a side, of its usual size or by `cm`; BadRequest where a landmark is missing."""
    made = []
    what = PRESETS[name]
    for side in what.sides:
        vertices, region = preset_region(face, name, side)
        label = f"{what.label} {side}".strip()
        made.append(
            Relief(
                free_name(f"{name}_{side}" if side else name, taken),
                label,
                face.skin.name,
                face.store.put(vertices.astype(np.int32)),
                face.store.put(region.astype(np.float32)),
                what.cm * face.scale if cm is None else cm,
                "along" if what.along else "out",
                UPWARDS if what.along else None,
                jaw_line(face) if not what.paired else (),
                tuple(CurveKey(at, 1.0) for at in (-1.0, 0.0, 1.0)) if not what.paired else (),
            )
        )
    if len(made) == 2:
        made = [replace(made[0], twin=made[1].name), replace(made[1], twin=made[0].name)]
    return tuple(made)


def preset_region(face: LowerFace, name: PresetName, side: str) -> tuple[Ints, Floats]:
    """The vertices (K,) of a preset's region on a side and how far they belong to it (K,)."""
    return falloff(face, np.array(_way(face, name, side)), PRESETS[name].fades * face.scale, face.outside)


def anatomy_at(face: LowerFace, vertex: int) -> str:
    """What the place of a vertex is called: by the preset whose middle is nearest, with its side."""
    at = face.surface.points[vertex]
    sided = [(name, side) for name in MEASURED if not PRESETS[name].along for side in PRESETS[name].sides]
    name, side = min(sided, key=lambda s: min(float(np.linalg.norm(p - at)) for p in _way(face, *s)))
    return f"{PRESETS[name].label} {side}".strip()


def rising(control: Control | None) -> CurveKeys:
    """The response of a preset over a control's own range."""
    if control is None:
        return RISING
    way = far_end(control) - control.rest
    keys = (CurveKey(control.rest + share * way, value) for share, value in ((BEGINS, 0.0), (FULL, 1.0)))
    return tuple(sorted(keys, key=lambda k: k.at))


def _way(face: LowerFace, name: PresetName, side: str) -> list[Floats]:
    """The points that a preset's region lies round."""
    mark = face.surface.mark
    if name == "cheek_upper":
        return [mark(f"cheek_{side}")]
    if name == "cheek_lower":
        return [(mark(f"cheek_{side}") + mark(f"mouth_corner_{side}") + 2 * mark(f"jaw_angle_{side}")) / 4]
    if name == "fold":
        corner, wing = mark(f"mouth_corner_{side}"), mark(f"nose_wing_{side}")
        out = np.sign(corner[0]) * np.array([0.55, 0, 0]) * face.scale
        return list(np.linspace(wing + out, corner + out - [0, 0.5 * face.scale, 0], 9))
    if name == "under":
        chin, neck = mark("chin_under"), mark("neck_top")
        return [chin + t * (neck - chin) for t in (0.2, 0.4)]
    return along_marks(face, JAW_LINE[1:-1])


def jaw_line(face: LowerFace) -> tuple[Point, ...]:
    """From ear to ear along the edge of the jaw, the character's right first."""
    return tuple(make_point(face.surface.mark(name)) for name in JAW_LINE)


def along_marks(face: LowerFace, names: tuple[str, ...], steps: int = 8) -> list[Floats]:
    """Points on the straight ways between landmarks."""
    marks = [face.surface.mark(n) for n in names]
    found = [a + (b - a) * t for a, b in itertools.pairwise(marks) for t in np.linspace(0, 1, steps, endpoint=False)]
    return [*found, marks[-1]]


def falloff(face: LowerFace, points: Floats, fades: float, where: Bools) -> tuple[Ints, Floats]:
    """The vertices (K,) about some points (P, 3) and their region (K,): 1 at the points, 0 from `fades` cm of surface on."""
    outer = np.flatnonzero(where)
    seeds = outer[np.linalg.norm(face.surface.points[outer][:, None] - points[None], axis=2).argmin(axis=0)]
    return softened(face, np.unique(seeds), fades, where)


def softened(face: LowerFace, seeds: Ints, fades: float, where: Bools) -> tuple[Ints, Floats]:
    """As `falloff`, about vertices; with nothing to fade over just these."""
    region = fading(face.surface.graph, seeds, fades)
    if fades > 0:
        region = np.where(where, region, 0)
    vertices = np.flatnonzero(region > LEAST)
    return vertices, region[vertices]


def with_reliefs(character: Character, made: tuple[Relief, ...], control: Control | None, keys: CurveKeys) -> Character:
    """The character with more reliefs at the end of the list, which a control drives along a curve."""
    links = tuple(Link("relief", r.name, 1.0, curve=keys) for r in made)
    controls = tuple(replace(c, links=(*c.links, *links)) if c is control else c for c in character.controls)
    return replace(character, reliefs=(*character.reliefs, *made), controls=controls)


def mirrored(relief: Relief, store: ArrayStore, partners: Ints, plane: Plane) -> Relief:
    """The relief on the other side, under the same name. BadRequest where none of its vertices has a partner there."""
    vertices, region = np.asarray(store.get(relief.vertices)), np.asarray(store.get(relief.region))
    image = partners[vertices]
    kept = image >= 0
    if not kept.any():
        raise BadRequest(f"No vertex of {relief.label} has a partner on the other side.")
    order = np.argsort(image[kept])
    return replace(
        reflected(relief, plane),
        vertices=store.put(image[kept][order].astype(np.int32)),
        region=store.put(region[kept][order]),
    )


def reflected(relief: Relief, plane: Plane) -> Relief:
    """The relief with its way, its line and its profile mirrored, on the region that it has."""
    return replace(
        relief,
        way=relief.way and make_point(plane.mirrored(np.array([relief.way]) + plane.point)[0] - plane.point),
        line=tuple(make_point(p) for p in plane.mirrored(np.array(relief.line))[::-1]) if relief.line else (),
        profile=tuple(replace(k, at=-k.at, slope=None if k.slope is None else -k.slope) for k in relief.profile[::-1]),
    )


def relief_values(character: Character, store: ArrayStore, relief: Relief) -> Floats:
    """The region of a relief over its whole part, (N,)."""
    count = next(p.vertex_count for p in character.parts if p.name == relief.part)
    values = np.zeros(count)
    values[np.asarray(store.get(relief.vertices))] = np.asarray(store.get(relief.region))
    return values


def with_values(store: ArrayStore, relief: Relief, values: Floats) -> Relief:
    """The relief with another region, (N,), cut to 0..1."""
    values = np.clip(values, 0, 1)
    vertices = np.flatnonzero(values > LEAST)
    return replace(relief, vertices=store.put(vertices.astype(np.int32)), region=store.put(values[vertices].astype(np.float32)))
