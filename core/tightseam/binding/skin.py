"""First weights of the skin: a hard head, a soft neck, lips that part at the seam."""

from __future__ import annotations

import numpy as np
from scipy.spatial import cKDTree

from tightseam.geometry.diffuse import diffused
from tightseam.geometry.distance import closest_points
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.polyline import arc_share
from tightseam.geometry.surface_distance import distance_onwards, distance_to_places, places_on
from tightseam.geometry.types import Floats, Ints
from tightseam.head.flesh import Flesh
from tightseam.head.near_rim import NearRim, near_rim
from tightseam.head.regions import Rim, along, lips, mouth_width
from tightseam.head.surface import Surface
from tightseam.weights.chain import chain_weights
from tightseam.weights.heat import heat_weights, nearest_shares

Mesh = tuple[Floats, Ints]  # points (N, 3), triangles (M, 3)
SKIN_BONES = ("head", "neck_2", "neck_1", "jaw")
HEAD, NECK_2, NECK_1, JAW = range(4)
LIP_ROUND, LIP_SLOPE = 2.2, 0.62  # a and b of the lip profile: an elliptical opening
LIP_FADE = 0.5  # cm over which the red of the lips lets go of the skin round it
JAW_REACH = 0.62  # how far along the line from chin to jaw angle the bone carries alone
CORNER_SOFT = (0.17, 0.41)  # of the mouth's width from a corner: smoothed wholly up to, and no more from
CORNER_TIME = 0.16  # cm²: how much
LINING = (0.65, 1.25)  # cm behind the lip line between which the lining goes over to the teeth it lies on
NECK_LOWER = 0.3  # of the neck's length from its base: what the lower neck bone holds
NECK_UPPER = (0.58, 0.82)  # of the neck's length: what the upper one holds at the nape
ANCHORS_REACH = 15.0  # cm: from farther away no anchor of face or jaw counts beside those of the neck
NECK_NEAR = 1.5  # cm from these regions where distance through space is that along the surface
NEXT = 0.5  # cm by which one anchor must be nearer than another
HARD_FADE = 0.5  # cm over which the hard head becomes soft


def skin_weights(surface: Surface, upper_teeth: Mesh | None = None, lower_teeth: Mesh | None = None) -> Floats:
    """Weights (N, 4) of `SKIN_BONES` for a skin with landmarks; where there are no teeth the lining goes with the lips."""
    rim = lips(surface)
    mouth = near_rim(surface, rim)
    jaw_share = _jaw_share_on_lips(surface, rim, mouth)
    behind = smoothstep((mouth.distance - LINING[0]) / (LINING[1] - LINING[0]))
    lining = np.where(rim.inside, behind, 0.0)
    jaw_share += lining * (_jaw_share_of_lining(surface, rim, upper_teeth, lower_teeth) - jaw_share)
    on_lips = np.where(rim.inside, 1.0, mouth.within(*lip_reaches(surface, mouth), LIP_FADE))
    hard = np.where(on_lips > 0, 0.0, _hard_head(surface))
    values = np.zeros((len(surface.points), len(SKIN_BONES)))
    values[:, HEAD], values[:, JAW] = np.where(hard > 0, 1.0, 1 - jaw_share), np.where(hard > 0, 0.0, jaw_share)
    distances = _to_anchors(surface)
    laplacian, mass = surface.laplacian
    anchored = nearest_shares(distances, NEXT)
    weights = heat_weights(laplacian, mass, distances.min(axis=1), anchored, np.maximum(hard, on_lips), values)
    return Flesh(surface, rim).moved_together(_softened_at_corners(surface, rim, lining, weights))


def lip_reaches(surface: Surface, mouth: NearRim) -> tuple[float, float]:
    """How far the red of the upper and of the lower lip goes, cm along the surface."""
    return float(mouth.to_upper[surface.vertex("lip_top")]), float(mouth.to_lower[surface.vertex("lip_bottom")])


def _softened_at_corners(surface: Surface, rim: Rim, lining: Floats, weights: Floats) -> Floats:
    """Weights (N, B) smoothed round the corners of the mouth, where lips that part at once would fold over each other; the corners stay
    half and half, and the lining on its teeth."""
    corners = rim.upper[[0, -1]]
    width = mouth_width(surface)
    away = distance_to_places(surface.mesh, places_on(surface.mesh, surface.points[corners]), width) / width
    share = (1 - smoothstep((away - CORNER_SOFT[0]) / (CORNER_SOFT[1] - CORNER_SOFT[0]))) * (1 - lining)
    share[corners] = 0
    return diffused(*surface.laplacian, weights, CORNER_TIME * share)


def over_neck(weights: Floats, points: Floats, joints: Floats) -> Floats:
    """Weights (N, B + 2) of head, neck bones from the top down and jaw, from those of `SKIN_BONES` (N, 4), for a neck of B bones with
    `joints` (B + 1, 3) from its base up: what the neck holds is shared along it."""
    if len(joints) == 3:
        return weights
    neck = weights[:, [NECK_2, NECK_1]].sum(axis=1)
    along = chain_weights(points, joints) * neck[:, None]
    return np.column_stack([weights[:, HEAD], along[:, ::-1], weights[:, JAW]])


def _hard_head(surface: Surface) -> Floats:
    """How far the bone under it holds the skin, (N,): wholly at 1. Everything above the lower lids, the ears, and the skull behind the
    hinge."""
    p, hinge = surface.points, surface.mark("jaw_hinge_L")
    above_cheeks = p[:, 1] - min(surface.mark(f"lid_fold_lower_{s}")[1] for s in "LR")
    skull = np.minimum(p[:, 1] - hinge[1], hinge[2] + 1.5 - p[:, 2])
    ears = np.minimum(np.abs(p[:, 0]) - (np.abs(hinge[0]) + 0.9), p[:, 1] - (hinge[1] - 2.0))
    return smoothstep(np.max([above_cheeks, skull, ears], axis=0) / HARD_FADE + 1)


def _to_anchors(surface: Surface) -> Floats:
    """How far each vertex is along the surface from what each of `SKIN_BONES` holds for itself, (N, 4) cm."""
    chin_front, chin_under = surface.mark("chin_front"), surface.mark("chin_under")
    jaw_line = [chin_front, chin_under]
    for side in "LR":
        angle = surface.mark(f"jaw_angle_{side}")
        for chin in (chin_under, chin_front):
            jaw_line += [chin + (angle - chin) * f for f in np.linspace(0.1, JAW_REACH, 7)]
    face = [surface.mark(n) for n in ("nose_tip", "nose_base", "nasion", "nose_wing_L", "nose_wing_R", "cheek_L", "cheek_R")]
    nape, base = (distance_onwards(surface.mesh, known, NECK_NEAR) for known in _to_neck(surface))
    places = places_on(surface.mesh, np.array(face + jaw_line))
    numbers = np.arange(len(places.points))
    parts = places[numbers < len(face)], places[numbers >= len(face)]
    of_face, of_jaw = (distance_to_places(surface.mesh, part, ANCHORS_REACH) for part in parts)
    return np.stack([of_face, nape, base, of_jaw], axis=1)


def _to_neck(surface: Surface) -> tuple[Floats, Floats]:
    """How far through space it is, (N,) cm, to the nape for the upper bone, because the neck's front lies under the jaw; and to the base
    of the neck all round for the lower one."""
    p, base, top = surface.points, surface.mark("neck_base"), surface.mark("neck_top")
    tall, height = top[1] - base[1], p[:, 1] - base[1]
    before = np.maximum(p[:, 2] - (surface.mark("jaw_hinge_L")[2] - 1.0), 0)
    beyond = np.maximum(np.maximum(NECK_UPPER[0] * tall - height, height - NECK_UPPER[1] * tall), 0)
    return np.hypot(before, beyond), np.maximum(height - NECK_LOWER * tall, 0)


def _jaw_share_on_lips(surface: Surface, rim: Rim, mouth: NearRim) -> Floats:
    """How much of the lips the jaw takes, (N,): half at the corners, all or nothing in the middle."""
    shares = []
    for line, middle, sign, at in ((rim.upper, "lip_upper", -1, mouth.along_upper), (rim.lower, "lip_lower", 1, mouth.along_lower)):
        t = np.interp(at, arc_share(surface.points[line]), along(surface, line, middle))
        shares.append(0.5 + sign * 0.5 * np.clip(1 - t**LIP_ROUND, 0, 1) ** LIP_SLOPE)
    return mouth.of_either(*shares)


def _jaw_share_of_lining(surface: Surface, rim: Rim, upper: Mesh | None, lower: Mesh | None) -> Floats:
    """The lining of the mouth goes with the teeth or the lip it lies on, (N,): 0 at the upper, 1 at the lower, smooth between."""
    lining = surface.points[rim.inside]
    up, low = (
        closest_points(lining, *teeth)[0] if teeth else cKDTree(surface.points[line]).query(lining)[0]
        for teeth, line in ((upper, rim.upper), (lower, rim.lower))
    )
    share = np.zeros(len(surface.points))
    share[rim.inside] = smoothstep((up - low) / np.maximum(up + low, 1e-9) + 0.5)
    return share
