"""What the lower face does over the opening of the jaw, as numbers."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Floats
from tightseam.geometry.volume import PatchVolume
from tightseam.jaw.face import LowerFace
from tightseam.jaw.lip_gap import LipGap
from tightseam.jaw.movement import opened
from tightseam.surfaces.hollow import Hollow

OPENINGS = tuple(k / 20 for k in range(21))


@dataclass(frozen=True)
class JawCurves:
    """For each of some `openings` (M) of the jaw, 0 to 1: `hollow` by region in mm, that of it which reliefs `asked` for, the volume of
    the lower face in per cent of the neutral's, the lip gap in mm (M, T) at `places` (T) from the right corner (-1) to the left (1),
    and the ways of the chin and of a lower tooth, forward and up in mm, as seen from the head."""

    openings: Sequence[float]
    hollow: Mapping[str, Floats]
    asked: Mapping[str, Floats]
    volume: Floats
    places: Floats
    gap: Floats
    chin: Floats
    tooth: Floats | None


class JawMeter:
    """Measures the lower face of one character in any pose. Compiled once; one caller at a time."""

    def __init__(self, face: LowerFace, evaluator: Evaluator) -> None:
        self.face, self.evaluator = face, evaluator
        self.rows = evaluator.meshes.rows(face.skin.name)

    @cached_property
    def hollows(self) -> dict[str, Hollow]:
        return {name: Hollow(self.face.surface.mesh, patch) for name, patch in self.face.patches.items()}

    @cached_property
    def _volume(self) -> PatchVolume:
        return PatchVolume(self.face.lower)

    @cached_property
    def gaps(self) -> LipGap:
        return LipGap(self.face.surface, self.face.mouth)

    def in_head(self, values: Mapping[str, float]) -> Floats:
        """The posed points (N, 3) of all parts in the space of the neutral head, float64."""
        return self.evaluator.in_head(values)

    def asked(self, values: Mapping[str, float]) -> Floats:
        """How far (N,) in cm reliefs ask the skin to go in."""
        depth = np.zeros(len(self.face.surface.points))
        strengths = self.evaluator.skeleton.relief_strengths(values)
        for k, relief in enumerate(self.face.character.reliefs):
            if relief.direction == "out" and not relief.muted and relief.part == self.face.skin.name:
                own, region = (np.asarray(self.face.store.get(key)) for key in (relief.vertices, relief.region))
                depth[own] += np.maximum(-strengths[k] * relief.cm * relief.exaggerate * region, 0)
        return depth

    def unasked(self, region: str, values: Mapping[str, float]) -> Floats:
        """How deep (K,) in cm a region sinks in beyond what reliefs ask for."""
        of = self.hollows[region]
        return of.depths(self.in_head(values)[self.rows]) - self.asked(values)[of.vertices]

    def measure(self, values: Mapping[str, float], openings: Sequence[float] = OPENINGS) -> JawCurves:
        """With whatever else `values` of controls say."""
        face = self.face
        neutral = self._volume.of(face.surface.points)
        hollow: dict[str, list[float]] = {name: [] for name in self.hollows}
        asked: dict[str, list[float]] = {name: [] for name in self.hollows}
        volumes, gaps, chin, tooth = [], [], [], []
        for share in openings:
            now = opened(face.character, share, values)
            points = self.in_head(now)
            skin, wanted = points[self.rows], self.asked(now)
            for name, of in self.hollows.items():
                hollow[name].append(max(0.0, float(of.depths(skin).max(initial=0.0))) * CM_TO_MM)
                asked[name].append(float(wanted[of.vertices].max(initial=0.0)) * CM_TO_MM)
            volumes.append(100 * self._volume.of(skin) / max(neutral, 1e-9))
            gaps.append(self.gaps.of(skin) * CM_TO_MM)
            chin.append((skin[face.chin] - face.surface.points[face.chin])[[2, 1]] * CM_TO_MM)
            if face.tooth is not None:
                part, vertex = face.tooth
                at = self.evaluator.meshes.rows(part).start + vertex
                tooth.append((points[at] - self.evaluator.meshes.rest[at])[[2, 1]] * CM_TO_MM)
        return JawCurves(
            openings,
            {name: np.array(row) for name, row in hollow.items()},
            {name: np.array(row) for name, row in asked.items()},
            np.array(volumes),
            self.gaps.places,
            np.array(gaps),
            np.array(chin),
            np.array(tooth) if tooth else None,
        )
