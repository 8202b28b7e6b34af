"""First weights of the skin: a hard head, a soft neck, lips that part at the seam."""

from __future__ import annotations

import numpy as np
from scipy.sparse import csr_matrix
from scipy.spatial import cKDTree

from tightseam.geometry.adjacency import directed_edges, unique_pairs
from tightseam.geometry.distance import closest_points
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.geodesic import distance_from
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.flesh import Flesh
from tightseam.head.regions import Rim, along, lips, mouth_width
from tightseam.head.surface import Surface
from tightseam.weights.chain import chain_weights
from tightseam.weights.heat import heat_weights

Mesh = tuple[Floats, Ints]  # points (N, 3), triangles (M, 3)
SKIN_BONES = ("head", "neck_2", "neck_1", "jaw")
HEAD, NECK_2, NECK_1, JAW = range(4)
LIP_ROUND, LIP_SLOPE = 2.2, 0.62  # a and b of the lip profile: an elliptical opening
JAW_REACH = 0.62  # how far along the line from chin to jaw angle the bone carries alone
CORNER_SOFT = (0.17, 0.41)  # of the mouth's width from a corner: smoothed wholly up to, and no more from
CORNER_STEPS = 14
LINING_REACH = 0.7  # cm behind the lip line from where the lining goes with the teeth it lies on
NECK_LOWER = 0.3  # of the neck's length from its base: what the lower neck bone holds
NECK_UPPER = (0.58, 0.82)  # of the neck's length: what the upper one holds at the nape


def skin_weights(surface: Surface, upper_teeth: Mesh | None = None, lower_teeth: Mesh | None = None) -> Floats:
    """Weights (N, 4) of `SKIN_BONES` for a skin with landmarks; where there are no teeth the lining goes with the lips."""
    fixed = np.zeros(len(surface.points), bool)
    values = np.zeros((len(surface.points), len(SKIN_BONES)))
    anchors = _anchors(surface)
    hard = _hard_head(surface)
    mouth = lips(surface)
    lining = mouth.inside & (mouth.distance > LINING_REACH)
    hard &= ~mouth.inside
    fixed[hard], values[hard, HEAD] = True, 1.0
    share = _jaw_share_of_lining(surface, lining, upper_teeth, lower_teeth)
    fixed[lining] = True
    values[lining, HEAD], values[lining, JAW] = 1 - share, share
    lip, share = _jaw_share_on_lips(surface)
    fixed[lip] = True
    values[lip] = 0
    values[lip, HEAD], values[lip, JAW] = 1 - share[lip], share[lip]

    sources = np.concatenate(anchors)
    owner = np.repeat(np.arange(len(anchors)), [len(a) for a in anchors])
    distance, nearest = distance_from(surface.graph, sources)
    order = np.argsort(sources)
    label = owner[order[np.searchsorted(sources[order], nearest)]]
    laplacian, mass = surface.laplacian
    shortest = float(np.sqrt(mass.mean()))
    weights = heat_weights(laplacian, mass, distance, np.eye(len(SKIN_BONES))[label], fixed, values, shortest)
    return Flesh(surface, mouth).moved_together(_softened_at_corners(surface, mouth, weights))


def _softened_at_corners(surface: Surface, mouth: Rim, weights: Floats) -> Floats:
    """Weights (N, B) smoothed round the corners of the mouth, where lips that part at once would fold over each other."""
    width = mouth_width(surface)
    distance, _ = distance_from(surface.graph, np.array([mouth.upper[0], mouth.upper[-1]]))
    share = 0.5 * (1 - smoothstep((distance / width - CORNER_SOFT[0]) / (CORNER_SOFT[1] - CORNER_SOFT[0])))
    share[[mouth.upper[0], mouth.upper[-1]]] = 0  # the corners stay half and half
    share[mouth.inside] *= 1 - smoothstep((mouth.distance[mouth.inside] - LINING_REACH) / LINING_REACH)  # it lies on the teeth
    ends = unique_pairs(directed_edges(surface.triangles), len(weights))
    both = np.concatenate([ends, ends[:, ::-1]])
    beside = csr_matrix((np.ones(len(both)), (both[:, 0], both[:, 1])), shape=(len(weights), len(weights)))
    count = np.maximum(np.asarray(beside.sum(axis=1)), 1)
    for _ in range(CORNER_STEPS):
        weights = weights + share[:, None] * (beside @ weights / count - weights)
    return weights


def over_neck(weights: Floats, points: Floats, joints: Floats) -> Floats:
    """Weights (N, B + 2) of head, neck bones from the top down and jaw, from those of `SKIN_BONES` (N, 4), for a neck of B bones with
    `joints` (B + 1, 3) from its base up: what the neck holds is shared along it."""
    if len(joints) == 3:
        return weights
    neck = weights[:, [NECK_2, NECK_1]].sum(axis=1)
    along = chain_weights(points, joints) * neck[:, None]
    return np.column_stack([weights[:, HEAD], along[:, ::-1], weights[:, JAW]])


def _hard_head(surface: Surface) -> Bools:
    """Everything above the lower lids, and the skull behind the hinge: 1.0 on the head."""
    p, hinge = surface.points, surface.mark("jaw_hinge_L")
    above_cheeks = p[:, 1] > min(surface.mark(f"lid_fold_lower_{s}")[1] for s in "LR")
    skull = (p[:, 1] > hinge[1]) & (p[:, 2] < hinge[2] + 1.5)
    ears = np.abs(p[:, 0]) > np.abs(surface.mark("jaw_hinge_L")[0]) + 0.9
    return above_cheeks | skull | (ears & (p[:, 1] > hinge[1] - 2.0))


def _anchors(surface: Surface) -> list[Ints]:
    """Vertices each of `SKIN_BONES` holds for itself."""
    chin_front, chin_under = surface.mark("chin_front"), surface.mark("chin_under")
    jaw_line = [chin_front, chin_under]
    for side in "LR":
        angle = surface.mark(f"jaw_angle_{side}")
        jaw_line += [chin_under + (angle - chin_under) * f for f in np.linspace(0.1, JAW_REACH, 7)]
        jaw_line += [chin_front + (angle - chin_front) * f for f in np.linspace(0.1, JAW_REACH, 7)]
    face = [surface.mark(n) for n in ("nose_tip", "nose_base", "nasion", "nose_wing_L", "nose_wing_R", "cheek_L", "cheek_R")]
    neck_2, neck_1 = _neck_anchors(surface)
    return [surface.nearest_vertices(np.array(face)), neck_2, neck_1, surface.nearest_vertices(np.array(jaw_line))]


def _neck_anchors(surface: Surface) -> tuple[Ints, Ints]:
    """The base of the neck all round for the lower bone; the nape for the upper one, because its front lies under the jaw."""
    p, base, top = surface.points, surface.mark("neck_base"), surface.mark("neck_top")
    height = (p[:, 1] - base[1]) / (top[1] - base[1])
    lower = np.flatnonzero(height < NECK_LOWER)
    nape = (p[:, 2] < surface.mark("jaw_hinge_L")[2] - 1.0) & (height > NECK_UPPER[0]) & (height < NECK_UPPER[1])
    return np.flatnonzero(nape), lower


def _jaw_share_on_lips(surface: Surface) -> tuple[Bools, Floats]:
    """Where the lips are, and how much of them the jaw takes: half at the corners, all or nothing in the middle."""
    mouth = lips(surface)
    t = np.zeros(len(surface.points))
    sign = np.zeros(len(surface.points))
    for line, middle, s in ((mouth.upper, "lip_upper", -1.0), (mouth.lower, "lip_lower", 1.0)):
        t[line], sign[line] = along(surface, line, middle), s
    profile = 0.5 + sign * 0.5 * np.clip(1 - t**LIP_ROUND, 0, 1) ** LIP_SLOPE
    reach = np.where(mouth.nearest_to(mouth.upper), mouth.reach(surface, "lip_top"), mouth.reach(surface, "lip_bottom"))
    on_lips = mouth.distance <= np.where(mouth.inside, LINING_REACH, reach)
    return on_lips, profile[mouth.nearest]


def _jaw_share_of_lining(surface: Surface, lining: Bools, upper: Mesh | None, lower: Mesh | None) -> Floats:
    """The lining of the mouth goes with the teeth or the lip it lies on: 0 at the upper, 1 at the lower, smooth between."""
    mouth = lips(surface)
    up, low = (
        closest_points(surface.points[lining], *teeth)[0] if teeth else cKDTree(surface.points[line]).query(surface.points[lining])[0]
        for teeth, line in ((upper, mouth.upper), (lower, mouth.lower))
    )
    return smoothstep((up - low) / np.maximum(up + low, 1e-9) + 0.5)
