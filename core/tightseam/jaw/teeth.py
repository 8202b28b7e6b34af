"""Upper teeth against lower teeth."""

from __future__ import annotations

from tightseam.contact.clash import across_edges, crossings, deepest_of, islands_of, whole
from tightseam.contact.gap import nearest_pair
from tightseam.contact.tree import PosedTree, TriangleTree
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.document.part_mesh import part_mesh
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Ints

REACH = 3.0  # cm within which teeth are looked at


def teeth_gap(character: Character, store: ArrayStore) -> float | None:
    """mm between the teeth in the neutral, REACH at most, negative where they overlap; None without both."""
    found = [next((p for p in character.parts if p.kind == kind), None) for kind in ("teeth upper", "teeth lower")]
    if found[0] is None or found[1] is None:
        return None
    meshes = [part_mesh(store, p) for p in found if p]
    upper, lower = (TriangleTree(m.points, m.triangles).at(m.points) for m in meshes)
    crossed = crossings(upper, lower)
    deep = max(_depth(upper, lower, crossed[:, 0]), _depth(lower, upper, crossed[:, 1]))
    return (-deep if deep else nearest_pair(upper, lower, REACH)[0]) * CM_TO_MM


def _depth(teeth: PosedTree, others: PosedTree, crossed: Ints) -> float:
    beside = across_edges(teeth.tree.triangles)
    return deepest_of(teeth, whole(others), crossed, beside, islands_of(beside)).depth
