"""What is wrong with lids: measured over all closings and gazes, alone and under the shapes that move them."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from tightseam.brush.canvas import Canvas
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import remembered
from tightseam.document.labels import vertices_said
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Character, Control
from tightseam.document.part_mesh import part_mesh
from tightseam.document.poses import far_end, rest_values
from tightseam.document.progress import one_by_one
from tightseam.document.sections import MEASURED
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Finding, repair
from tightseam.geometry.symmetry import MIDDLE
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.lids.board import STRAIGHT, LidBoard, Moment
from tightseam.lids.gauge import EyeGauge
from tightseam.lids.repairs import LIDS, MOST_PASSED, Lid, LidCheck, LidRepair, LidRepairs
from tightseam.lids.surface import LidSurface

CLOSINGS = (0.0, 0.25, 0.5, 0.75, 1.0)
MOVED = 0.01  # cm by which a shape must move a lid to be looked at
ROOM = 1e-3  # mm of rounding


@dataclass
class _Worst:
    """The worst of one check on one lid so far: where and when, and all vertices that were over the limit at any time."""

    size: float
    vertex: int
    moment: Moment
    beside: Control | None
    over: Bools


@remembered(list[Finding], *MEASURED)
def lid_findings(character: Character, store: ArrayStore) -> list[Finding]:
    """All findings of all lids, the worst of each check first. None without lids."""
    if not character.lids:
        return []
    evaluator = Evaluator(character, store)
    board = LidBoard(character, store, evaluator)
    eyes = {eye.side: _OfEye(character, store, evaluator, board, eye) for eye in board.eyes}
    rest = rest_values(character)
    for beside in one_by_one([None, *_beside(character, store)], "closings, alone and with each shape,"):
        values = rest if beside is None else rest | {beside.name: far_end(beside)}
        for moment in board.moments(values, CLOSINGS):
            eyes[moment.gauge.side].see(moment, beside)
    return [f for eye in eyes.values() for f in eye.findings()]


def _beside(character: Character, store: ArrayStore) -> list[Control]:
    """Controls that move lids by shapes and do not close them."""
    moving = {pair.skin: np.asarray(store.get(pair.vertices)) for pair in character.lids}
    found = set()
    for shape in character.shapes:
        for delta in shape.deltas:
            far = np.linalg.norm(np.asarray(store.get(delta.offsets)), axis=1) > MOVED
            if delta.part in moving and np.isin(np.asarray(store.get(delta.vertices))[far], moving[delta.part]).any():
                found.add(shape.name)
    return [
        c
        for c in character.controls
        if any(k.kind == "shape" and k.target in found for k in c.links) and all(k.kind != "lid" for k in c.links)
    ]


class _OfEye:
    def __init__(self, character: Character, store: ArrayStore, evaluator: Evaluator, board: LidBoard, gauge: EyeGauge) -> None:
        self.character, self.store, self.evaluator, self.board, self.gauge = character, store, evaluator, board, gauge
        self.pair = gauge.pair
        self.label = {lid: f"{lid.capitalize()} lid {self.pair.side}" for lid in LIDS}
        part = find_part(character, self.pair.skin)
        self.canvas = Canvas(part_mesh(store, part), MIDDLE)
        self.surface = LidSurface(character, store, self.pair, self.canvas)
        self.repairs = LidRepairs(character, store, gauge, self.canvas, self.surface)
        self._worst: dict[tuple[LidCheck, Lid], _Worst] = {}

    def findings(self) -> Iterator[Finding]:
        ordered = sorted(self._worst.items(), key=lambda item: -item[1].size)
        yield from (self._contact(check, lid, worst) for (check, lid), worst in ordered)
        yield from self._of_surface()

    def see(self, moment: Moment, beside: Control | None) -> None:
        """Note what is over its limits at a moment."""
        reading, limits = moment.reading, self.gauge.limits
        deep = self._by_vertex(self.gauge.owner, -reading.stands)
        self._note("lid_in_eye", deep, limits.overlap, moment, beside)
        self._note("off_eye", self._by_vertex(self.gauge.margin, reading.off), limits.gap, moment, beside)
        if moment.closing == 1:
            self._note("short", self._to_guilty(reading.slit), limits.closed_gap, moment, beside)
            self._note("crossing", self._to_guilty(reading.passed), MOST_PASSED, moment, beside)

    def _by_vertex(self, owner: Ints, values: Floats) -> Floats:
        """The largest of some values for each vertex of the skin, (N,), 0 elsewhere."""
        found = np.zeros(len(self.canvas.mesh.points))
        np.maximum.at(found, owner, values)
        return found

    def _to_guilty(self, at_upper: Floats) -> Floats:
        """What was read at the upper margin (U,) for each vertex of the skin (N,): given to that of the lower margin across from it where
        that one takes less of the closing."""
        found = np.zeros(len(self.canvas.mesh.points))
        np.maximum.at(found, self._guilty, at_upper)
        return found

    @cached_property
    def _guilty(self) -> Ints:
        upper, lower = self.gauge.margins
        share = self.surface.share
        across = lower[self.gauge.opposite(self.canvas.mesh.points)]
        least = across[np.arange(len(upper)), share[across].argmin(axis=1)]
        return np.where(share[upper] <= share[least], upper, least)

    def _note(self, check: LidCheck, values: Floats, limit: float | None, moment: Moment, beside: Control | None) -> None:
        if limit is None:
            return
        for lid in LIDS:
            here = np.where(self.surface.of(lid), values, 0)
            over = here > (limit + ROOM) / CM_TO_MM
            if not over.any():
                continue
            known, vertex = self._worst.get((check, lid)), int(here.argmax())
            if known is not None:
                over |= known.over
            if known is None or here[vertex] > known.size:
                self._worst[check, lid] = _Worst(float(here[vertex]), vertex, moment, beside, over)
            else:
                known.over = over

    def _contact(self, check: LidCheck, lid: Lid, worst: _Worst) -> Finding:
        size, label = worst.size * CM_TO_MM, self.label[lid]
        if check == "lid_in_eye" and not self._deep_straight(worst):
            check = "eye_in_lid"
        title, said = {
            "short": (f"{label} stops short", f"{size:.2f} mm stay open"),
            "lid_in_eye": (f"{label} goes through the eye", f"{size:.2f} mm deep"),
            "eye_in_lid": (f"The eye comes through {label[0].lower()}{label[1:]}", f"The cornea by {size:.2f} mm"),
            "off_eye": (f"{label} stands off the eye", f"{size:.2f} mm at the margin"),
            "crossing": (f"{label} crosses the other", f"Margins pass by {size:.2f} mm"),
        }[check]
        pose, values = self._pose(worst.moment, worst.beside)
        repair = self.repairs.of_contact(check, worst.over, self._steep)
        text = f"{said}, {pose}. {repair.cause}".strip()
        limits = self.gauge.limits
        limit = {"off_eye": limits.gap, "short": limits.closed_gap, "crossing": MOST_PASSED}.get(check, limits.overlap)
        return replace(self._finding(check, lid, size, title, text, pose, values, repair), limit=limit)

    def _deep_straight(self, worst: _Worst) -> bool:
        """Does the lid lie in the eye while that looks straight ahead too? Then it is the lid's own doing, else the cornea's."""
        values = rest_values(self.character) | ({worst.beside.name: far_end(worst.beside)} if worst.beside else {})
        moment = self._moment(values, worst.moment.closing)
        return bool(self._by_vertex(self.gauge.owner, -moment.reading.stands)[worst.vertex] * CM_TO_MM > (self.gauge.limits.overlap or 0))

    @property
    def _steep(self) -> bool:
        """Do the margins miss one another where they take all of the closing?"""
        missed = [w.over for (check, _), w in self._worst.items() if check in ("short", "crossing")]
        return any(self.surface.whole(over) for over in missed)

    def _moment(self, values: Mapping[str, float], closing: float) -> Moment:
        """This eye looking straight ahead."""
        return next(m for m in self.board.moments(values, (closing,), (STRAIGHT,)) if m.gauge is self.gauge)

    def _of_surface(self) -> Iterator[Finding]:
        """Creases and stretches of the closed lids."""
        rest = rest_values(self.character)
        moment = self._moment(rest, 1.0)
        closed = self.evaluator.lids_at(rest, 1.0, np.eye(3))[self.gauge.rows]
        pose, values = self._pose(moment, None)
        for lid in LIDS:
            label = self.label[lid]
            creased = self.surface.creased & self.surface.of(lid)
            if creased.any():
                repair = self.repairs.of_crease(creased)
                deepest = int(np.argmax(np.where(creased, self.surface.step, 0)))
                size = float(np.linalg.norm(closed[deepest] - self.canvas.mesh.points[deepest])) * CM_TO_MM
                own, around = self.surface.share[deepest], self.surface.around[deepest]
                text = (
                    f"A vertex takes {own:.0%} of the closing, its neighbours {around:.0%}; {vertices_said(len(repair.vertices))} in all."
                )
                yield self._finding("crease", lid, size * abs(float(own - around)), f"{label} creases", text, pose, values, repair)
            ratio, over = self.surface.stretched(closed, lid)
            if over.any() and not creased.any():
                repair = self.repairs.of_stretch(over & self.surface.of(lid), self._steep)
                text = f"Edges grow to {ratio:.1f} times their length, {pose}. {repair.cause}".strip()
                yield self._finding("stretch", lid, ratio, f"{label} is stretched", text, pose, values, repair)

    def _finding(
        self, check: LidCheck, lid: Lid, size: float, title: str, text: str, pose: str, values: Mapping[str, float], found: LidRepair
    ) -> Finding:
        return Finding(
            check,
            self.pair.names[LIDS.index(lid)],
            title,
            text,
            size,
            "times" if check == "stretch" else "mm",
            part=self.pair.skin,
            vertices=tuple(found.vertices.tolist()),
            values=values,
            moment=pose,
            repairs=repair(found.edit, {"side": self.pair.side} | found.params),
        )

    def _pose(self, moment: Moment, beside: Control | None) -> tuple[str, dict[str, float]]:
        """A pose in words, and the values of controls that bring it about."""
        height, outward = moment.gaze
        looks = "looking up" if height > 0 else "looking down" if height < 0 else "looking out" if outward > 0 else "looking in"
        said = [f"closed {moment.closing:.0%}" if moment.closing else "open"]
        said += [looks] if moment.gaze != STRAIGHT else []
        said += [f"with {beside.label}"] if beside else []
        values = self.board.pose(self.gauge, moment.closing, moment.gaze)
        return ", ".join(said), values | ({beside.name: far_end(beside)} if beside else {})
