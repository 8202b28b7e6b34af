"""Margins of lids picked as edge loops."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import points
from tightseam.document.make import put_sets
from tightseam.document.model import Character, Lids
from tightseam.document.part_mesh import part_mesh
from tightseam.head.regions import Rim, lid_sets, loop_among_triangles, rim_of
from tightseam.head.surface import Surface
from tightseam.lids.maps import margins_of
from tightseam.lids.setup import Eye, first_lids
from tightseam.lids.starts import skin_surface
from tightseam.lids.tune import with_eye_relief, with_lids

FEWEST_ROUND = 4  # picked vertices that a loop is drawn through where no edge loop closes


def with_margins(character: Character, store: ArrayStore, pair: Lids, picked: Sequence[int]) -> Character:
    """The character with the margins of `pair` along the closed edge loop through `picked` vertices of the skin; maps, swell and lashes
    are set up anew for it, line, gaze follow and driver stay. The seams go by the new margins.

    BadRequest where no closed loop runs through what is picked, or it does not lie about the eye.
    """
    surface = skin_surface(character, store, pair)
    rim = _rim(surface, store, pair, picked)
    part = find_part(character, pair.eye)
    mesh = part_mesh(store, part)
    lashes = {name: points(character, store, name) for name, _ in pair.lashes}
    found = Eye(part, mesh.points, mesh.triangles)
    made, relief = first_lids(surface, pair.skin, found, lashes, store, rim)
    kept = replace(made, line=pair.line, follow_upper=pair.follow_upper, follow_lower=pair.follow_lower, driver=pair.driver)
    changed = with_eye_relief(with_lids(character, kept), relief)
    sets = put_sets(store, lid_sets(surface, rim, pair.side))
    return replace(changed, parts=tuple(replace(p, sets=p.sets | sets) if p.name == pair.skin else p for p in changed.parts))


def _round(surface: Surface, picked: Sequence[int]) -> list[int] | None:
    """Where no edge loop closes, as among triangles: the shortest edges from one to the next of four or more that are picked, in the order
    in which they stand round their middle."""
    if len(picked) < FEWEST_ROUND:
        return None
    away = surface.points[list(picked)] - surface.points[list(picked)].mean(axis=0)
    along, across = np.linalg.svd(away)[2][:2]
    order = np.argsort(np.arctan2(away @ across, away @ along))
    return loop_among_triangles(surface, [picked[k] for k in order])


def _rim(surface: Surface, store: ArrayStore, pair: Lids, picked: Sequence[int]) -> Rim:
    loop = surface.walker.loop_through(picked[0], list(picked[1:])) or _round(surface, picked)
    if loop is None:
        raise BadRequest("No closed loop runs through what is picked. Pick two or more vertices of one loop round the eye.")
    before, _ = margins_of(store, pair)
    ring = surface.points[loop]
    inner, outer = (int(np.linalg.norm(ring - surface.points[corner], axis=1).argmin()) for corner in before[[0, -1]])
    span = np.linalg.norm(surface.points[before[-1]] - surface.points[before[0]])
    if inner == outer or np.linalg.norm(ring[outer] - ring[inner]) < span / 2 or np.ptp(ring, axis=0).max() > 3 * span:
        raise BadRequest(f"The loop through what is picked does not run round the eye {pair.side} from corner to corner.")
    loop = loop[inner:] + loop[:inner]
    end = (outer - inner) % len(loop)
    halves = [surface.points[loop[1:end]], surface.points[loop[end + 1 :]]]
    if min(len(h) for h in halves) < 1:
        raise BadRequest("The loop through what is picked has no vertices between the corners.")
    higher = 0 if halves[0][:, 1].mean() > halves[1][:, 1].mean() else 1
    top = loop[1] if higher == 0 else loop[-1]
    return rim_of(surface, loop, loop[end], top)
