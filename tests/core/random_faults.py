"""Random faults on heads in any order, and how well Check-in finds them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field, replace

import numpy as np
from scipy.spatial import cKDTree
from tightseam.checkin.report import Report, check_in
from tightseam.demo import mesh_faults
from tightseam.demo.build import RawHead
from tightseam.demo.cast import raw_parts
from tightseam.demo.mesh_faults import MeshFault
from tightseam.demo.raw import RawPart
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import About, Character
from tightseam.geometry.adjacency import boundary
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.subdivide import catmull_clark

ENOUGH = 0.9  # of a fault's vertices that must be named for it to count as found


def renumbered(part: RawPart, rng: np.random.Generator) -> RawPart:
    """The same mesh with vertices, polygons and corners in another order."""
    order = rng.permutation(len(part.points))
    number = np.argsort(order)
    turn = lambda p: (k := int(rng.integers(len(p)))) * 0 or [int(number[v]) for v in [*p[k:], *p[:k]]]  # noqa: E731
    faces = rng.permutation(len(part.polygons))
    colours = None if part.colours is None else part.colours[order]
    face_colours = None if part.face_colours is None else part.face_colours[faces]
    sets = {name: [int(number[v]) for v in s] for name, s in part.sets.items()}
    return RawPart(part.name, part.kind, part.points[order], [turn(part.polygons[f]) for f in faces], colours, face_colours, sets)


def subdivided(part: RawPart) -> RawPart:
    matrix, finer = catmull_clark(Polygons.from_lists(part.polygons), len(part.points))
    colours = None if part.colours is None else matrix @ part.colours
    return RawPart(part.name, part.kind, matrix @ part.points, finer.lists(), colours, None, part.sets)


def variant(head: RawHead, rng: np.random.Generator, finer: bool) -> RawHead:
    """A head in another order, its skin subdivided on request; without hair, which only takes time."""
    parts = [p for p in head.parts if p.kind not in ("hair", "whiskers")]
    parts = [subdivided(p) if finer and p.kind == "skin" else p for p in parts]
    marks = dict(head.landmarks)
    if finer:  # the landmarks follow their vertices
        matrix, _ = catmull_clark(Polygons.from_lists(head.parts[0].polygons), len(head.parts[0].points))
        moved = matrix @ head.parts[0].points
        for name, mark in marks.items():
            near = int(np.linalg.norm(head.parts[0].points - mark, axis=1).argmin())
            if np.linalg.norm(head.parts[0].points[near] - mark) < 1e-9:
                marks[name] = moved[near]
    return RawHead([renumbered(p, rng) for p in parts], marks)


def _copied(part: RawPart) -> RawPart:
    """A part whose points and polygons can be changed."""
    colours = None if part.colours is None else part.colours.copy()
    return replace(part, points=part.points.copy(), polygons=[[*p] for p in part.polygons], colours=colours)


_found_rims: dict[int, tuple[RawHead, cKDTree]] = {}  # by the head's id, which is held so that no other gets it


def _rims(head: RawHead) -> cKDTree:
    """Where the edges of lids and lips are, found once a head."""
    if id(head) not in _found_rims:
        skin = next(p for p in head.parts if p.name == "skin")
        rims = [v for s in "LR" for v in mesh_faults.lid_rim(skin, head.landmarks, s)]
        rims += mesh_faults.rim(skin, head.landmarks, ["mouth_corner_R", "mouth_corner_L", "lip_upper", "lip_lower"])
        _found_rims[id(head)] = head, cKDTree(skin.points[rims])
    return _found_rims[id(head)][1]


class Planter:
    """Plants random faults in a copy of a head."""

    def __init__(self, head: RawHead, rng: np.random.Generator) -> None:
        self.head = RawHead([_copied(p) for p in head.parts], head.landmarks)
        self.rng = rng
        self.parts = {p.name: p for p in self.head.parts}
        self.skin = self.parts["skin"]
        self.fine = len(self.skin.points) > 8000
        self.rims = _rims(head)

    def plant(self, kind: str) -> MeshFault:
        return KINDS[kind](self)

    def side(self) -> str:
        return str(self.rng.choice(["L", "R"]))

    def lid(self) -> str:
        return str(self.rng.choice(["upper", "lower"]))

    def far_from_rims(self, least: float) -> int:
        """A vertex of the skin, not on a border, at least so many cm from lids and lips."""
        far = self.rims.query(self.skin.points)[0] > least
        border = boundary(Polygons.from_lists(self.skin.polygons), len(self.skin.points))
        used = np.isin(np.arange(len(border)), [v for p in self.skin.polygons for v in p])
        return int(self.rng.choice(np.flatnonzero(far & used & ~border)))

    def face_patch(self) -> list[int]:
        seed = self.far_from_rims(0.0)
        return [f for f, p in enumerate(self.skin.polygons) if seed in p]


def _open_mouth(p: Planter) -> MeshFault:
    return mesh_faults.open_mouth(p.skin, p.head.landmarks, float(p.rng.uniform(0.4, 2.5)))


def _drop_span(p: Planter) -> MeshFault:
    return mesh_faults.drop_span(p.skin, p.head.landmarks, p.side(), p.lid(), float(p.rng.random()))


def _spin_edge(p: Planter) -> MeshFault:
    ring = int(p.rng.integers(1, 3)) * (2 if p.fine else 1)
    return mesh_faults.spin_edge(p.skin, p.head.landmarks, p.side(), p.lid(), float(p.rng.random()), ring)


def _jumble(p: Planter) -> MeshFault:
    return mesh_faults.jumble(p.skin, p.far_from_rims(1.8), int(p.rng.integers(2, 4)), float(p.rng.uniform(0.35, 0.7)), p.rng)


def _cut(p: Planter) -> MeshFault:
    return mesh_faults.cut_corners(p.skin, sorted({p.far_from_rims(1.0) for _ in range(int(p.rng.integers(1, 5)))}))


def _loosen(p: Planter) -> MeshFault:
    part = p.head.parts[int(p.rng.integers(len(p.head.parts)))]
    return mesh_faults.loosen(part, part.points.mean(axis=0) + p.rng.normal(size=(int(p.rng.integers(1, 6)), 3)))


def _turn(p: Planter) -> MeshFault:
    return mesh_faults.turn_faces(p.skin, p.face_patch())


def _fin(p: Planter) -> MeshFault:
    v = p.far_from_rims(1.0)
    face = next(q for q in p.skin.polygons if v in q)
    return mesh_faults.add_fin(p.skin, v, face[(face.index(v) + 1) % len(face)])


def _flatten(p: Planter) -> MeshFault:
    side = p.side()
    return mesh_faults.flatten_eye(p.parts[f"eye_{side}"], side, float(p.rng.uniform(0.04, 0.12)), p.head.landmarks[f"eye_centre_{side}"])


def _pivot(p: Planter) -> MeshFault:
    side = p.side()
    off = p.rng.normal(size=3)
    return mesh_faults.shift_pivot(
        p.parts[f"eye_{side}"], side, p.head.landmarks[f"eye_centre_{side}"], off / np.linalg.norm(off) * p.rng.uniform(0.1, 0.6)
    )


def _scale(p: Planter) -> MeshFault:
    part = p.head.parts[int(p.rng.integers(len(p.head.parts)))]
    return mesh_faults.hide_scale(part, p.rng.uniform(1.02, 1.4, 3).tolist())


# in this order, because some number the skin anew
KINDS: dict[str, Callable[[Planter], MeshFault]] = {
    "span": _drop_span, "mouth": _open_mouth, "pole": _spin_edge, "jumble": _jumble, "turn": _turn, "fin": _fin, "cut": _cut,
    "loose": _loosen, "flat eye": _flatten, "pivot": _pivot, "scale": _scale,
}  # fmt: skip


@dataclass
class Score:
    """How many faults were planted, found, and reported without having been planted."""

    planted: int = 0
    found: int = 0
    wrong: int = 0
    missed: list[str] = field(default_factory=list)
    invented: list[str] = field(default_factory=list)

    @property
    def recall(self) -> float:
        return self.found / max(self.planted, 1)

    @property
    def precision(self) -> float:
        return self.found / max(self.found + self.wrong, 1)

    def add(self, planted: list[MeshFault], report: Report, where: str) -> None:
        self.planted += len(planted)
        for fault in planted:
            if share_found(fault, report) >= ENOUGH:
                self.found += 1
            else:
                self.missed.append(f"{where}: {fault.check} {share_found(fault, report):.0%} of {len(fault.vertices)}")
        known = {f.check for f in planted}
        extra = [c.key for c in report.checks if c.verdict == "fault" and c.key not in known]
        self.wrong += len(extra)
        self.invented += [f"{where}: {key} beside {sorted(known)}" for key in extra]


def share_found(fault: MeshFault, report: Report) -> float:
    """Share of a fault's vertices that the check named as a fault."""
    check = next((c for c in report.checks if c.key == fault.check), None)
    if check is None or check.verdict != "fault":
        return 0.0
    named = {v for p in check.places if p.part == fault.part for v in p.vertices}
    return len(named & set(fault.vertices)) / max(len(fault.vertices), 1)


def report_of(head: RawHead) -> Report:
    store = MemoryStore()
    return check_in(Character(About("Somebody"), raw_parts(head, store)), store)


def score(heads: dict[str, RawHead], trials: int, seed: int) -> Score:
    """Check-in against `trials` heads with one or two random faults each; `heads` come from `variant`."""
    rng = np.random.default_rng(seed)
    total = Score()
    kinds = list(KINDS)
    names = list(heads)
    for k in range(trials):
        name = names[k % len(names)]
        planter = Planter(heads[name], rng)
        chosen = {kinds[k % len(kinds)], kinds[int(rng.integers(len(kinds)))]}
        planted = [planter.plant(kind) for kind in kinds if kind in chosen]
        total.add(planted, report_of(planter.head), f"{k} {name}")
    return total
