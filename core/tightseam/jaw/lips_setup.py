"""Lips that can seal, from landmarks."""

from __future__ import annotations

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Lips
from tightseam.geometry.easing import smoothstep
from tightseam.geometry.geodesic import distance_from
from tightseam.geometry.types import Bools, Floats
from tightseam.head.flesh import Flesh
from tightseam.head.regions import Rim, lips, mouth_place
from tightseam.head.surface import Surface
from tightseam.shapes.expressions import held_still, mouth_scale
from tightseam.shapes.spread import spread

# for a mouth of the reference width, cm
LINING = 0.5  # behind the lip line that goes with the lips wholly
LINING_END = 2.0  # behind it from where nothing does
REACH = 2.4  # over which the skin round the lips goes along
CORNER = 2.2  # from a corner to where its pull ends
LEAST = 1e-3  # of a share


def first_lips(surface: Surface, skin: str, store: ArrayStore) -> Lips:
    """The lips of a skin. BadRequest where landmarks of the mouth are missing or lie on no loop."""
    rim = lips(surface)
    flesh = Flesh(surface, rim)
    share, corner = flesh.moved_together(np.stack([sealing_share(surface, rim), corner_share(surface, rim)], axis=1)).T
    vertices = np.flatnonzero((share > LEAST) | (corner > LEAST))

    def put(values: Floats) -> str:
        return store.put(np.clip(values[vertices], -1, 1).astype(np.float32))

    upper, lower = (store.put(line.astype(np.int32)) for line in (rim.upper, rim.lower))
    return Lips(
        skin, upper, lower, store.put(vertices.astype(np.int32)), put(share), put(mouth_place(surface, surface.points)), put(corner)
    )


def sealing_share(surface: Surface, rim: Rim) -> Floats:
    """How much of the sealing each vertex takes, (N,): all of it on the red of the lips and just behind it, none on nose, chin and teeth's
    side of the lining; between them as soft as a membrane."""
    red = {line: rim.reach(surface, edge) for line, edge in (("upper", "lip_top"), ("lower", "lip_bottom"))}
    above = rim.nearest_to(rim.upper)
    whole = np.where(above, red["upper"], red["lower"])
    scale = mouth_scale(surface)
    whole = np.where(rim.inside, LINING * scale, whole)
    prescribed = rim.distance <= whole
    held = (held_still(surface, rim) | _beyond(surface, rim) | (rim.inside & (rim.distance > LINING_END * scale))) & ~prescribed
    ones = np.tile(prescribed.astype(float)[:, None], (1, 3))
    return np.clip(spread(surface, prescribed, ones, held, REACH * scale)[:, 0], 0, 1)


def _beyond(surface: Surface, rim: Rim) -> Bools:
    """What lies farther from the lips than the chin, or the base of the nose."""
    above = rim.nearest_to(rim.upper)
    nose, chin = (rim.reach(surface, name) for name in ("nose_base", "chin_front"))
    return ~rim.inside & (rim.distance > np.where(above, 1.2 * nose, chin))


def corner_share(surface: Surface, rim: Rim) -> Floats:
    """How much of a corner's pull each vertex takes, (N,): all of it at the corner, none from CORNER on, along the surface."""
    corners = np.array([rim.upper[0], rim.upper[-1]])
    distance, _ = distance_from(surface.graph, corners)
    return np.asarray(1 - smoothstep(distance / (CORNER * mouth_scale(surface))))
