"""Measures cells of a sweep: wholly, or only what two sides of a mix do together."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from hashlib import blake2b

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character, Limits, Seam
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.mix.cell import REST, Cell
from tightseam.mix.ends import End
from tightseam.mix.finding import MixFinding
from tightseam.mix.measures import CLOSE, Judges, SeamMeasure, Sizes, measures_of
from tightseam.seams.meter import SeamMeter
from tightseam.seams.posed import PosedHead
from tightseam.seams.reading import Place
from tightseam.seams.starting_set import SKIN as SKIN_LIMITS
from tightseam.surfaces.limits import SKIN
from tightseam.surfaces.skin_meter import SkinMeter
from tightseam.surfaces.spots import SkinState, Spot

LEAST = 2e-5  # cm: what moves less has not moved
STILL = 1e-6  # of a matrix: what differs less is rounding
ITSELF = "skin_itself"
DIGEST = 32  # bytes of a hash


@dataclass
class Known:
    """A cell that has been posed, and what has been measured of it: points (N, 3) of all parts as seen from the head, a hash (BLAKE2b) of
    all that is posed; the sizes of the measures, `rough` where those below half their limit are told as none; the most of each on the way
    there from rest (M,); and the state of the skin, where it was asked for."""

    cell: Cell
    head: PosedHead
    points: Floats
    digest: bytes
    sizes: Sizes | None = None
    rough: bool = False
    most: Floats | None = None
    skin: SkinState | None = None

    def light(self) -> Known:
        """The same without what can be posed again: a sweep remembers many."""
        head = PosedHead({}, {}, self.head.matrices, ())
        return replace(self, head=head, points=read_only(self.points, np.float32))

    def measured(self) -> Sizes:
        assert self.sizes is not None
        return self.sizes


@dataclass
class Mixed:
    """What comes of a cell: its findings, and where it comes near to a limit: vertices of the skin, and numbers of measures."""

    findings: list[MixFinding]
    near_vertices: tuple[int, ...] = ()
    near_measures: tuple[int, ...] = ()


class MixMeter:
    """Measures cells of one character. It has buffers of its own: one caller at a time."""

    def __init__(self, character: Character, store: ArrayStore, ends: Mapping[str, End]) -> None:
        self.character, self.ends = character, ends
        self.not_measured: list[str] = []
        self._evaluator = Evaluator(character, store)
        self._skin_part = next((p for p in character.parts if p.kind == "skin"), None)
        measured = _with_itself(character, self._skin_part.name if self._skin_part else None)
        gauges = SeamMeter(measured, store, self._evaluator).gauges
        self.measures = [m for seam, gauge in zip(measured.seams, gauges, strict=True) for m in measures_of(seam, gauge)]
        self._rows = self._evaluator.meshes.rows(self._skin_part.name) if self._skin_part else slice(0, 0)
        self._groups, self._starts, self._first = self._hung_on()
        self._following = [k for k, m in enumerate(self.measures) if len(m.bones)]
        self._carried = sorted({self.measures[k].seam.probe for k in self._following})
        rest = self.pose(REST)
        self._skin = self._skin_meter(store, rest.points[self._rows])
        rest.sizes = self.sizes(rest)
        self._judges = Judges(self.measures, rest.sizes.millimetres)
        seams = np.flatnonzero(self._judges.over_at_rest()).tolist()
        spots = self._skin.at_rest() if self._skin else []
        self.at_rest = [*(self._over(rest, k) for k in seams), *(self._spotted(REST, spot) for spot in spots)]

    def of(self, character: Character, store: ArrayStore, ends: Mapping[str, End]) -> MixMeter:
        """The meter of a character that has other controls and shapes, and is the same at rest: all that measures is the same, what poses
        is not. The two share their buffers."""
        other = copy(self)
        other.character, other.ends, other._evaluator = character, ends, Evaluator(character, store)
        return other

    def _skin_meter(self, store: ArrayStore, rest: Floats) -> SkinMeter | None:
        if self._skin_part is None:
            self.not_measured.append("The surface of the skin: there is no part of kind skin.")
            return None
        try:
            return SkinMeter(self.character, store, self._skin_part, rest)
        except BadRequest as error:
            self.not_measured.append(f"The surface of the skin: {error}")
            return None

    def _hung_on(self) -> tuple[Ints, Ints, Ints]:
        """The vertices that the measures hang on, one place behind the other; where each place begins, and which is the first of each
        measure."""
        rows = self._evaluator.meshes.rows
        places = [place for m in self.measures for place in m.places]
        groups = [np.concatenate([np.zeros(0, int), *(rows(part).start + v for part, v in place.items())]) for place in places]
        starts, first = (np.cumsum([0, *map(len, of)]) for of in (groups, [m.places for m in self.measures]))
        return read_only(np.concatenate([np.zeros(0), *groups]), np.int64), read_only(starts, np.int64), first[:-1]

    # -- posing

    def pose(self, cell: Cell, evaluator: Evaluator | None = None) -> Known:
        """The cell posed, not yet measured; by another evaluator of the same meshes, too."""
        from tightseam.mix.reuse_kernels import brought

        values = cell.values(self.character, self.ends)
        evaluator = evaluator or self._evaluator
        posed = evaluator.points(values)
        matrices = evaluator.posed_by
        to_head = evaluator.to_head(matrices)
        points = posed.astype(np.float64)
        if (to_head != np.eye(4)).any():
            brought(read_only(posed), read_only(to_head), points)
        points = read_only(points)
        before, meshes = evaluator.before_bones(values), evaluator.meshes
        unskinned = {name: before[meshes.rows(name)].copy() for name in self._carried}
        digest = blake2b(posed.tobytes(), digest_size=DIGEST)
        for array in (matrices, *unskinned.values()):
            digest.update(array.tobytes())
        return Known(cell, PosedHead(meshes.by_part(points), unskinned, to_head @ matrices, ()), points, digest.digest())

    def place_at_rest(self, finding: MixFinding) -> Floats:
        """Where the worst vertex of a finding is in the neutral, (3,) cm."""
        meshes = self._evaluator.meshes
        return np.asarray(meshes.rest[meshes.rows(finding.part).start + finding.vertex], np.float64)

    # -- measuring

    def sizes(self, known: Known) -> Sizes:
        """Every measure of the seams of a cell."""
        return self._as_sizes(self._read(m, known) for m in self.measures)

    def size_of(self, finding: MixFinding, evaluator: Evaluator | None = None) -> float:
        """How large a finding is, at its own place and by its own measure; with another evaluator of the same meshes, too."""
        known = self.pose(finding.cell, evaluator)
        if finding.about == SKIN:
            assert self._skin is not None
            return self._skin.size_at(finding.kind, finding.vertices, known.points[self._rows])
        return next(m for m in self.measures if _measures(m, finding)).read(known.head)[0]

    def judged(self, known: Known, alone: Sequence[Known] = ()) -> Mixed:
        """The findings of a cell, beyond what the cells `alone` do, all of it measured."""
        known.sizes = self.sizes(known) if known.sizes is None else known.sizes
        return self._told(known, self._spots(known, alone, None), alone)

    def together(self, known: Known, sides: tuple[Known, Known], alone: Sequence[Known]) -> Mixed:
        """A posed cell of two sides, each of them measured already: only what hangs on what both move is measured again. What is found is
        beyond what all the cells `alone` do; the sides are among them."""
        by = self._moved_by(known, sides)
        at = [self._touched(flags, known, side) for flags, side in zip(by, sides[::-1], strict=True)]
        touched = tuple(self._of_measures(places) for places in (*at, at[0] & at[1]))
        skin = by[0][self._rows], by[1][self._rows]
        if known.sizes is None:
            known.sizes, known.rough = self._sizes_of_both(known, sides, alone, touched, skin), True
        spots = self._spots(known, alone, skin) if skin[0].any() and skin[1].any() else []
        return self._told(known, spots, alone)

    def _sizes_of_both(
        self, known: Known, sides: tuple[Known, Known], alone: Sequence[Known], touched: tuple[Bools, ...], skin: tuple[Bools, Bools]
    ) -> Sizes:
        """The measures (M,) that hang on one side, the other, and both at one place: these are read, the others are as they are on the side
        that moves them, or that has more of it."""
        (one, other, both), (first, second) = touched, (side.measured() for side in sides)
        from_first = np.where(one == other, first.millimetres >= second.millimetres, one)
        found = first.where(from_first, second)
        closed = self._judges.closed([a.measured() for a in alone])
        for k in np.flatnonzero(both).tolist():
            measure = self.measures[k]
            if measure.kind == "gape" and not closed[k]:
                continue  # nobody asks
            if measure.between is None:
                now = self._placed(measure, *measure.read(known.head, CLOSE * measure.limit))
            else:
                now = self._placed(measure, *measure.between(known.head, skin, CLOSE * measure.limit))
                if now[0] < found.millimetres[k]:
                    continue
            found.millimetres[k], found.parts[k], found.vertices[k] = now
        return found

    def _read(self, measure: SeamMeasure, known: Known) -> tuple[float, int, int]:
        return self._placed(measure, *measure.read(known.head))

    def _placed(self, measure: SeamMeasure, millimetres: float, at: Place | None) -> tuple[float, int, int]:
        part = measure.seam.probe if at is None else at.part
        return millimetres, self._evaluator.meshes.names.index(part), 0 if at is None else at.vertex

    @staticmethod
    def _as_sizes(rows: Iterator[tuple[float, int, int]]) -> Sizes:
        found = list(rows)
        return Sizes(np.array([r[0] for r in found]), np.array([r[1] for r in found], int), np.array([r[2] for r in found], int))

    def skin_of(self, known: Known) -> SkinState | None:
        if known.skin is None and self._skin is not None:
            known.skin = self._skin.state(known.points[self._rows])
        return known.skin

    def _spots(self, known: Known, alone: Sequence[Known], by: tuple[Bools, Bools] | None) -> list[Spot]:
        if self._skin is None:
            return []
        states = [state for state in map(self.skin_of, alone) if state is not None]
        return self._skin.spots(known.points[self._rows], states, by, share=CLOSE if alone else 1.0)

    # -- telling

    def _told(self, known: Known, spots: Sequence[Spot], alone: Sequence[Known]) -> Mixed:
        sizes = known.measured()
        before = [a.measured() for a in alone]
        most = [s.millimetres if a.most is None else a.most for a, s in zip(alone, before, strict=True)]
        over = self._judges.over(sizes, before, most)
        found = [self._spotted(known.cell, spot) for spot in spots if spot.over]
        found += [self._over(known, k) for k in np.flatnonzero(over).tolist()]
        if not alone:
            return Mixed(found)
        near = np.flatnonzero(self._judges.near(sizes, most) & ~over)
        vertices = sorted({v for spot in spots if not spot.over for v in spot.vertices})
        return Mixed(found, tuple(vertices), tuple(near.tolist()))

    def with_alone(self, findings: Sequence[MixFinding], alone: Sequence[Known]) -> list[MixFinding]:
        """Findings with what each of the cells `alone` has there: of seams that is asked for only of what is told."""
        return [f if f.about == SKIN else replace(f, alone=tuple(self._alone(f, a) for a in alone)) for f in findings]

    def _alone(self, finding: MixFinding, alone: Known) -> float:
        k = next(k for k, m in enumerate(self.measures) if _measures(m, finding))
        size = self._read(self.measures[k], self.pose(alone.cell))[0] if alone.rough else alone.measured().millimetres[k]
        return float(size)

    def _over(self, known: Known, k: int) -> MixFinding:
        measure, sizes = self.measures[k], known.measured()
        part, vertex = self._evaluator.meshes.names[sizes.parts[k]], int(sizes.vertices[k])
        on_skin = self._skin is not None and self._skin_part is not None and part == self._skin_part.name
        place = self._skin.place_of(vertex) if on_skin and self._skin else measure.seam.label
        size = float(sizes.millimetres[k])
        at = part, vertex, (vertex,)
        return MixFinding(measure.kind, measure.seam.name, place, size, "mm", measure.limit, (), *at, known.cell)

    def _spotted(self, cell: Cell, spot: Spot) -> MixFinding:
        assert self._skin_part is not None
        at = self._skin_part.name, spot.vertex, spot.vertices
        return MixFinding(spot.kind, SKIN, spot.place, spot.size, spot.limit.unit, spot.limit.size, spot.alone, *at, cell)

    # -- what moves

    def touched_by(self, known: Known, against: Known) -> Bools:
        """Which measures (M,) hang on what stands otherwise in one cell than in another."""
        return self._of_measures(self._touched(self._moved(known, against), known, against))

    def _of_measures(self, places: Bools) -> Bools:
        """Which measures (M,) have any of some places."""
        return np.logical_or.reduceat(places, self._first) if len(places) else places

    def skin_moved(self, known: Known, against: Known) -> Bools:
        """Which vertices (N,) of the skin stand otherwise."""
        return self._moved(known, against)[self._rows]

    def turns_jaw(self, known: Known, against: Known) -> bool:
        """Does the jaw stand otherwise?"""
        jaws = [k for k, bone in enumerate(self.character.bones) if bone.region == "jaw"]
        return bool(_turned(known, against)[jaws].any())

    def _moved_by(self, known: Known, sides: tuple[Known, Known]) -> tuple[Bools, Bools]:
        """The vertices (N,) that each side moves: those that stand otherwise without it."""
        from tightseam.mix.reuse_kernels import moved

        by_first, by_second = (np.empty(len(known.points), np.bool_) for _ in sides)
        moved(known.points, sides[1].points, sides[0].points, LEAST, by_first, by_second)
        return by_first, by_second

    def _moved(self, known: Known, against: Known) -> Bools:
        return self._moved_by(known, (against, against))[0]

    def _touched(self, flags: Bools, known: Known, against: Known) -> Bools:
        from tightseam.mix.reuse_kernels import touched

        out = np.empty(len(self._starts) - 1, np.bool_)
        touched(read_only(flags), self._groups, self._starts, out)
        if self._carried:
            turned = _turned(known, against)
            for k in self._following:
                out[self._first[k]] |= turned[self.measures[k].bones].any()
        return out


def _measures(measure: SeamMeasure, finding: MixFinding) -> bool:
    """Is it what a finding was found by?"""
    return (measure.seam.name, measure.kind, measure.limit) == (finding.about, finding.kind, finding.limit)


def _turned(known: Known, against: Known) -> Bools:
    """Which bones (B,) stand otherwise to the head."""
    return np.asarray((np.abs(known.head.matrices - against.head.matrices) > STILL).any(axis=(1, 2)))


def _with_itself(character: Character, skin: str | None) -> Character:
    """The character with one seam for all of its skin on itself, in place of those for some of it."""
    if skin is None:
        return character
    own = [s for s in character.seams if s.measure == "self" and s.probe == skin]
    limit = min((s.limits.overlap for s in own if s.limits.overlap), default=SKIN_LIMITS.overlap)
    whole = Seam(ITSELF, "Skin · skin", "mouth", "apart", "self", skin, Limits(overlap=limit), skin)
    return replace(character, seams=(*(s for s in character.seams if s not in own), whole))
