"""What is wrong with the lower face and the neck: measured in every way of the jaw and the head."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import replace
from functools import cached_property, partial
from typing import Literal

import numpy as np

from tightseam.controls.starting_set import JAW_OPENING, JAW_SIDE, JAW_SLIDE, JAW_THRUST
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.pull import Pull, pulls
from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import remembered
from tightseam.document.labels import vertices_said
from tightseam.document.model import Character, Seam
from tightseam.document.poses import away_from_rest
from tightseam.document.progress import one_by_one
from tightseam.document.sections import MEASURED
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Finding, Repair, Unit
from tightseam.geometry.normals import vertex_normals
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.jaw.curves import JawMeter
from tightseam.jaw.face import LowerFace
from tightseam.jaw.movement import jaw_bone, movement_of, opened
from tightseam.jaw.neck import NeckMeter, neck_meter
from tightseam.jaw.poses import JawPose, jaw_poses
from tightseam.jaw.repairs import filling, hardening, sealing
from tightseam.seams.findings import rightful_carrier
from tightseam.seams.meter import SeamMeter
from tightseam.seams.reading import Reading
from tightseam.surfaces.limits import LIMITS
from tightseam.surfaces.patches import REGIONS
from tightseam.surfaces.strain import StrainGauge
from tightseam.surfaces.zones import zones_of

JawCheck = Literal["movement", "exaggerated", "hollow", "clash", "gape", "flip", "crumple", "squash"]
MOST_HOLLOW = LIMITS["hollow", "face"].size  # mm that a region may sink in unasked
MOST_CRUMPLE = LIMITS["crumple", "face"].size  # of its mean edge that a vertex may stand out of its surroundings
MOST_SQUASH = 0.1  # mm that a hard head may give
USUAL = {"opens": JAW_OPENING, "slides": JAW_SLIDE, "side": JAW_SIDE[0], "turns": JAW_SIDE[1], "forward": JAW_THRUST}
OPENINGS = (0.25, 0.5, 0.75, 1.0)


def jaw_findings(character: Character, store: ArrayStore, meter: JawMeter, neck: NeckMeter | None) -> list[Finding]:
    """All findings, in the order of the work: movement, hollows, contacts, the surface, the neck."""
    of = _Findings(character, store, meter)
    steps = [of.movement, of.exaggerated, of.hollows, of.contacts, of.surface]
    if neck:
        steps.append(partial(of.squash, neck))
    found = [f for step in one_by_one(steps, "check") for f in step()]
    return [replace(f, values=away_from_rest(character, f.values)) for f in found]


class _Findings:
    def __init__(self, character: Character, store: ArrayStore, meter: JawMeter) -> None:
        self._character, self._store, self._meter = character, store, meter
        self._skin = meter.face.skin.name

    def _found(
        self,
        check: JawCheck,
        about: str,
        size: float,
        title: str,
        text: str,
        moment: str,
        values: Mapping[str, float],
        vertices: tuple[int, ...] = (),
        repairs: tuple[Repair, ...] = (),
        unit: Unit = "mm",
    ) -> Finding:
        return Finding(
            check, about, title, text, size, unit, part=self._skin, vertices=vertices, values=values, moment=moment, repairs=repairs
        )

    @cached_property
    def _poses(self) -> list[JawPose]:
        return jaw_poses(self._character)

    def movement(self) -> Iterator[Finding]:
        jaw, still = jaw_bone(self._character), opened(self._character, 0)
        opens = movement_of(self._character).opens
        if opens <= 0:
            repair = Repair(f"Let it open by {USUAL['opens']:g}°", "jaw.set_movement", dict(USUAL))
            text = "Its control opens it by 0°, so no pose shows the mouth open." if opens == 0 else "It opens upwards."
            yield self._found("movement", jaw.name, 0.0, "The jaw does not open", text, "neutral", still, repairs=(repair,), unit="°")
        ahead = CM_TO_MM * (jaw.base[2] - self._meter.face.surface.mark("chin_front")[2])
        if ahead > 0:
            text = f"Its hinge lies {ahead:.0f} mm in front of the chin, so the mouth opens backwards."
            yield self._found("movement", jaw.name, ahead, "The hinge is in front of the chin", text, "neutral", still)

    def exaggerated(self) -> Iterator[Finding]:
        """Reliefs that somebody has not set back."""
        wide = opened(self._character, 1)
        for relief in (r for r in self._character.reliefs if r.exaggerate > 1):
            repair = Repair("Show it as it is meant", "relief.set", {"name": relief.name, "exaggerate": 1})
            title, text = f"{relief.label} is exaggerated", f"It is shown {relief.exaggerate:g} times as strong as it is meant."
            found = self._found(
                "exaggerated", relief.name, relief.exaggerate, title, text, "jaw open 100%", wide, repairs=(repair,), unit="times"
            )
            yield replace(found, part=relief.part)

    def hollows(self) -> Iterator[Finding]:
        """Regions that sink in deeper than reliefs ask for."""
        for name, of in self._meter.hollows.items():
            depths = np.stack([self._meter.unasked(name, opened(self._character, share)) for share in OPENINGS])
            worst, k = np.unravel_index(depths.argmax(), depths.shape)
            depth = float(depths[worst, k]) * CM_TO_MM
            if depth <= MOST_HOLLOW:
                continue
            share, vertex = OPENINGS[worst], int(of.vertices[k])
            values = opened(self._character, share)
            sunk = of.vertices[depths[worst] > 0.25 * depths[worst, k]]
            text = f"{depth:.1f} mm below its surroundings, jaw open {share:.0%}. {self._pushed_in(vertex, values)}"
            repairs = filling(self._character, self._store, self._meter, name)
            title, pose = f"{REGIONS[name]} sinks in", f"jaw open {share:.0%}"
            found = self._found("hollow", name, depth, title, text.strip(), pose, values, tuple(sunk.tolist()), repairs)
            yield replace(found, limit=MOST_HOLLOW)

    def _pushed_in(self, vertex: int, values: Mapping[str, float]) -> str:
        """What pushes a vertex in most, in words."""
        inward = self._inward(vertex, pulls(self._meter.evaluator, self._skin, [vertex], values))
        if not inward:
            return ""
        depth, cause = inward[0]
        return f"{cause.label} pushes it in by {depth:.1f} mm."

    def _inward(self, vertex: int, causes: list[Pull]) -> list[tuple[float, Pull]]:
        s = self._meter.face.surface
        normal = vertex_normals(s.points, s.triangles)[vertex]
        found = [(-float(c.vectors[0] @ normal), c) for c in causes if c.kind in ("shape", "relief", "bone")]
        return sorted((f for f in found if f[0] > 0.5), key=lambda f: -f[0])

    def contacts(self) -> Iterator[Finding]:
        """Seams of the mouth over their limits in any way of the jaw."""
        seams = {s.name: s for s in self._character.seams if s.region in ("mouth", "inside") and s.kind != "ride"}
        meter = SeamMeter(replace(self._character, seams=tuple(seams.values())), self._store, self._meter.evaluator)
        worst: dict[str, tuple[JawPose, Reading, list[Seam]]] = {}
        for pose in self._poses:
            readings = meter.measure(pose.values, pose.closes)
            behind = [seams[r.seam] for r in readings if r.lag is not None and not r.within]
            for reading in readings:
                over = reading.lag is None and not reading.within
                if over and (reading.seam not in worst or reading.excess > worst[reading.seam][1].excess):
                    worst[reading.seam] = pose, reading, behind
        for pose, reading, behind in sorted(worst.values(), key=lambda found: -found[1].excess):
            yield self._contact(seams[reading.seam], pose, reading, behind)

    def _contact(self, seam: Seam, pose: JawPose, reading: Reading, behind: list[Seam]) -> Finding:
        """A seam in its worst pose, in which some parts stay `behind` what should carry them."""
        over = reading.overlap or 0.0
        clash = over / (seam.limits.overlap or np.inf) >= (reading.gap or 0.0) / (reading.gap_limit or np.inf)
        size = over if clash else reading.gap or 0.0
        text = f"{size:.2f} mm, {pose.label}."
        lags = next((s for s in behind if s.probe in (seam.probe, seam.solid)), None)
        repairs: tuple[Repair, ...] = ()
        if lags is not None:
            part, _, carrier = lags.label.partition(" · ")
            text += f" {part} does not follow the {carrier}."
            repairs = (rightful_carrier(self._character, lags),)
        elif clash and "seal" in pose.label:
            repairs = sealing(self._character, self._store, seam, self._poses)
        assert reading.worst is not None
        title = f"{seam.label} {'overlap' if clash else 'gape'}"
        at = reading.worst
        limit = seam.limits.overlap if clash else reading.gap_limit
        found = self._found("clash" if clash else "gape", seam.name, size, title, text, pose.label, pose.values, (at.vertex,), repairs)
        return replace(found, part=at.part, point=at.point, limit=limit)

    def surface(self) -> Iterator[Finding]:
        s = self._meter.face.surface
        skin, own = StrainGauge(s.mesh), zones_of(s).face
        flipped: Bools = np.zeros(len(s.triangles), bool)
        crumpled: Floats = np.zeros(len(s.points))
        flip_pose, crumple_pose, worst = self._poses[0], self._poses[0], 0.0
        for pose in self._poses:
            posed = self._meter.in_head(pose.values)[self._meter.rows]
            strain = skin.read(posed)
            over = strain.turned & own[s.triangles].all(axis=1)
            if over.sum() > flipped.sum():
                flipped, flip_pose = over, pose
            stands = np.where(own, strain.crumple, 0)
            if stands.max() > worst:
                crumpled, crumple_pose, worst = stands, pose, float(stands.max())
        if flipped.any():
            text = f"{int(flipped.sum())} triangles of the face face inwards, {flip_pose.label}."
            yield self._broken("flip", float(flipped.sum()), "The skin turns over", text, flip_pose, np.unique(s.triangles[flipped]))
        if worst > MOST_CRUMPLE:
            vertices = np.flatnonzero(crumpled > MOST_CRUMPLE / 2)
            text = f"A vertex stands out by {worst:.0%} of its edges, {crumple_pose.label}; {vertices_said(len(vertices))} in all."
            yield self._broken("crumple", worst, "The skin crumples", text, crumple_pose, vertices)

    def _broken(self, check: JawCheck, size: float, title: str, text: str, pose: JawPose, vertices: Ints) -> Finding:
        rows = vertices.tolist()
        repair = Repair("Mend the weights there", "weights.mend", {"part": self._skin, "vertices": rows})
        unit: Unit = "share" if check == "crumple" else "vertices"
        return self._found(check, self._skin, size, title, text, pose.label, pose.values, tuple(rows), (repair,), unit)

    def squash(self, neck: NeckMeter) -> Iterator[Finding]:
        report = neck.measure()
        worst = max(report.readings, key=lambda r: r.squash, default=None)
        if worst is None or worst.squash <= MOST_SQUASH:
            return
        up_to = f"neck bones carry some of it, up to {CM_TO_MM * report.hard_from:.0f} mm"
        text = f"Above the line it shifts by {worst.squash:.1f} mm, {worst.label}: {up_to}."
        repairs = (hardening(self._skin, report.line),)
        found = self._found("squash", "head", worst.squash, "The head is soft", text, worst.label, worst.values, (worst.vertex,), repairs)
        yield replace(found, limit=MOST_SQUASH)


@remembered(list[Finding], *MEASURED)
def findings_of(character: Character, store: ArrayStore) -> list[Finding]:
    """All findings of a character. BadRequest where it has no skin, no jaw or not the landmarks."""
    face, evaluator = LowerFace(character, store), Evaluator(character, store)
    return jaw_findings(character, store, JawMeter(face, evaluator), neck_meter(face, store, evaluator))
