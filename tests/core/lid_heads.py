"""How tests look at lids: the board, what is found and repaired, and an eye as libigl sees it."""

from __future__ import annotations

from itertools import product

import igl
import numpy as np
from tightseam.brush.canvas import Canvas
from tightseam.document.model import LidDriver
from tightseam.findings.finding import Finding
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.head.found import FoundHead
from tightseam.lids.board import LidBoard
from tightseam.lids.findings import lid_findings

from tests.head import Head, repaired

GRID = list(product((-30, -15, 0, 12, 25), (-35, -17, 0, 17, 35)))  # degrees up, and to the left
GAP = 0.01  # cm between closed margins
PASSED = 0.05  # cm by which they may pass each other
NOTHING = 5e-5  # cm; points are float32


DRIVERS = {
    "arc": LidDriver(),
    "shapes": LidDriver("shapes", 2),
    "shapes, gaze": LidDriver("shapes", 1, gaze=True),
    "bones": LidDriver("bones"),
}


def board_of(head: Head):
    return LidBoard(head.character, head.store, head.evaluator).measure(head.values())


def canvas_of(head: Head) -> Canvas:
    return Canvas(SurfaceMesh(head.rest("skin"), head.polygons("skin")), FoundHead(head.character, head.store).plane)


def partners(head: Head) -> np.ndarray:
    return canvas_of(head).partners


def found(head: Head) -> list[Finding]:
    return lid_findings(head.character, head.store)


def until_clean(head: Head, most: int) -> tuple[Head, int]:
    """The head after accepting the first proposal again and again, and how many there were."""
    for done in range(most + 1):
        left = found(head)
        if not left:
            return head, done
        head = repaired(head, left[0])
    raise AssertionError([f.title for f in left])


class Eye:
    """One eye of a head and the skin about it, as libigl sees them."""

    def __init__(self, head: Head, side: str) -> None:
        self.head, self.side = head, side
        self.lids = next(x for x in head.character.lids if x.side == side)
        names = head.evaluator.meshes.names
        self.skin, self.eye = (
            head.evaluator.meshes.part_triangles[names.index(n)].astype(np.int64) for n in (self.lids.skin, self.lids.eye)
        )
        self.margins = [head.store.get(k) for k in (self.lids.upper_margin, self.lids.lower_margin)]
        self.patches = []
        for lid in ("upper", "lower"):
            inside = np.zeros(len(head.rest(self.lids.skin)), bool)
            inside[head.set(f"lid_{lid}_{side}", self.lids.skin)] = True
            self.patches.append(self.skin[inside[self.skin].all(axis=1)])

    def pose(self, values: dict[str, float]) -> tuple[np.ndarray, np.ndarray]:
        points, rows = self.head.evaluator.points(self.head.values(values)).astype(float), self.head.evaluator.meshes.rows
        return points[rows(self.lids.skin)], points[rows(self.lids.eye)]

    def deepest(self, values: dict[str, float]) -> float:
        """How deep vertices, edge middles and face centres of the lids lie in the eye, or vertices of the eye in the flesh, cm."""
        skin, eye = self.pose(values)
        faces = np.concatenate(self.patches)
        corners = skin[faces]
        middles = [(corners[:, k] + corners[:, k - 1]) / 2 for k in range(3)]
        samples = np.concatenate([skin[np.unique(faces)], corners.mean(axis=1), *middles])
        lid_in_eye = igl.signed_distance(samples, eye, self.eye)[0].min()
        # only what is well before the ball's equator: near it the pocket is open
        forward = eye[:, 2] - eye[:, 2].mean()
        front = eye[forward > 0.3 * forward.max()]
        in_flesh = igl.signed_distance(front, skin, self.skin, sign_type=igl.SIGNED_DISTANCE_TYPE_PSEUDONORMAL)[0]
        # lids are 2.2 mm thick; where margins pass each other the sign of what is farther off is that of the wrong sheet
        eye_in_lid = in_flesh[np.abs(in_flesh) < 0.11].min(initial=0.0)
        return float(-min(lid_in_eye, eye_in_lid, 0))

    def gap(self, values: dict[str, float]) -> float:
        """How far the margins stand off the other lid where they do not pass it, cm."""
        skin, _ = self.pose(values)
        gaps = []
        for k, sign in ((0, 1), (1, -1)):
            own, other = skin[self.margins[k]], skin[self.margins[1 - k]]
            apart = np.sqrt(igl.point_mesh_squared_distance(own, skin, self.patches[1 - k])[0])
            passed = sign * (own[:, 1] - np.interp(np.abs(own[:, 0]), np.abs(other[:, 0]), other[:, 1])) <= 0
            gaps.append(np.where(passed, 0, apart).max())
            assert apart.max() < PASSED
        return float(max(gaps))


def gazes(**more: float) -> list[dict[str, float]]:
    return [{"gaze_height": h, "gaze_across": a, **more} for h, a in GRID]
