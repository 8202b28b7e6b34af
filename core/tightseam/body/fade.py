"""How the neck fades into the body that it stands on."""

from __future__ import annotations

from dataclasses import replace

from tightseam.document.arrays import ArrayStore
from tightseam.document.change import with_binding
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import points as points_of
from tightseam.document.make import dense_weights, make_influences
from tightseam.document.model import Bone, Character
from tightseam.geometry.easing import smoothstep
from tightseam.weights.change import at_most
from tightseam.weights.rows import MOST_RECEIVED

FADED = ("skin", "cloth")
OVER = 0.6  # of the way up the lowest bone of the neck: there its own weights are whole again


def with_neck_faded(character: Character, store: ArrayStore, root: Bone, under: str) -> Character:
    """The character whose skin and cloth go with the bone `under` the neck's `root` at their lowest, and with the root as before from a
    little up: what the root carried at height y the bone below takes by 1 - smoothstep, so that totals stay."""
    names = [b.name for b in character.bones]
    top = root.base[1] + OVER * (root.tip[1] - root.base[1])
    for part in (p for p in character.parts if p.kind in FADED):
        bound = find_binding(character, part.name)
        if bound is None or bound.ride is not None or all(i.bone != root.name for i in bound.influences):
            continue
        heights = points_of(character, store, part.name)[:, 1]
        weights = dense_weights(store, bound.influences, names, part.vertex_count)
        own, below = names.index(root.name), names.index(under)
        bottom = float(heights[weights[:, own] > 0].min())
        if bottom >= top:
            continue
        taken = (1 - smoothstep((heights - bottom) / (top - bottom))) * weights[:, own]
        weights[:, below] += taken
        weights[:, own] -= taken
        influences = make_influences(store, names, at_most(weights, MOST_RECEIVED))
        character = with_binding(character, replace(bound, carrier="weighted", influences=influences))
    return character
