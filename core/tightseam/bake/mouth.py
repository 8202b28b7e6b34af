"""Reliefs, and lips that seal, as shapes: for formats that know nothing else."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from tightseam.bake.controls import with_effects_baked
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.meshes import Meshes, compile_meshes
from tightseam.deform.reliefs import relief_offsets
from tightseam.deform.skinned_alike import all_linear
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.change import with_links_to
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.kept import remembered
from tightseam.document.lookup import part as find_part
from tightseam.document.make import make_delta
from tightseam.document.model import Character, Control, LinkKind, Relief, Shape
from tightseam.document.poses import far_end, rest_values
from tightseam.document.removal import without
from tightseam.document.sections import MEASURED
from tightseam.document.units import CM_TO_MM
from tightseam.jaw.movement import opened

OPENINGS = tuple(k / 10 for k in range(11))
MOUTH: tuple[LinkKind, ...] = ("seal", "corner")
SEALED = (0.0, 0.25, 0.5, 0.75, 1.0)


@dataclass(frozen=True)
class BakeError:
    """How far in mm what shapes stand in for is off at most, and where: in words."""

    what: str
    worst: float
    pose: str


def with_relief_baked(character: Character, store: ArrayStore, relief: Relief, meshes: Meshes) -> Character:
    """The character with a shape in place of a relief, driven by the same controls along the same curves: nothing moves. A muted one is
    gone."""
    if relief.muted:
        return without(character, "relief", {relief.name})
    vertices, offsets = relief_offsets(relief, store, meshes)
    whole = np.zeros((find_part(character, relief.part).vertex_count, 3))
    whole[vertices] = relief.exaggerate * offsets
    delta = make_delta(store, relief.part, whole)
    name = free_name(relief.name, {s.name for s in character.shapes})

    def linked(control: Control) -> Control:
        own = tuple(replace(n, kind="shape", target=name) for n in control.links if (n.kind, n.target) == ("relief", relief.name))
        return replace(control, links=(*control.links, *own))

    shape = Shape(name, relief.label, (delta,) if delta else ())
    baked = replace(character, shapes=(*character.shapes, shape), controls=tuple(map(linked, character.controls)))
    return without(baked, "relief", {relief.name})


def with_lips_baked(character: Character, store: ArrayStore) -> Character:
    """The character without lips that seal: each control that seals them or pulls a corner gets a shape in their place, as they are with
    the jaw wide open and the control at its far end. With the jaw less open, and mixed, it comes out otherwise."""
    if not character.lips:
        return character
    return replace(with_effects_baked(character, store, MOUTH, opened(character, 1.0)), lips=())


def with_mouth_baked(character: Character, store: ArrayStore) -> Character:
    """The character with all reliefs and the lips as shapes. Without a jaw that opens the lips are left out."""
    meshes = compile_meshes(character, store)
    for relief in character.reliefs:
        character = with_relief_baked(character, store, relief, meshes)
    try:
        return with_lips_baked(character, store)
    except BadRequest:
        return replace(character, lips=(), controls=with_links_to(character.controls, dict.fromkeys(MOUTH, ())))


@remembered(list[BakeError], *MEASURED)
def bake_errors(character: Character, store: ArrayStore) -> list[BakeError]:
    """How far off shapes are that stand in for reliefs, for the lips, and what is lost without dual quaternions, over the opening."""
    scratch = MemoryStore(store)
    meshes = compile_meshes(character, scratch)
    found = []
    if character.reliefs:
        baked = character
        for relief in character.reliefs:
            baked = with_relief_baked(baked, scratch, relief, meshes)
        found.append(_error("Reliefs", character, baked, scratch))
    if character.lips:
        found.append(_error("Lip seal and corners", character, with_lips_baked(character, scratch), scratch))
    if any(b.dual is not None for b in character.bindings):
        found.append(_error("Dual quaternions", character, all_linear(character), scratch))
    return found


def _error(what: str, true: Character, baked: Character, store: ArrayStore) -> BakeError:
    one, other = Evaluator(true, store), Evaluator(baked, store)
    worst = BakeError(what, 0.0, "nowhere")
    for said, values in _tried(true):
        off = float(np.linalg.norm(one.points(values) - other.points(values), axis=1).max()) * CM_TO_MM
        if off > worst.worst:
            worst = BakeError(what, off, said)
    return worst


def _tried(character: Character) -> Iterator[tuple[str, dict[str, float]]]:
    """The jaw at every opening with all seals as far, and every control alone at its far end."""
    seals = [c for c in character.controls if any(n.kind == "seal" for n in c.links) and all(n.kind == "seal" for n in c.links)]
    for share in OPENINGS:
        for sealed in SEALED if seals else (0.0,):
            values = opened(character, share) | {c.name: c.rest + sealed * (far_end(c) - c.rest) for c in seals}
            yield f"open {share:.0%}" + (f", lips sealed {sealed:.0%}" if sealed else ""), values
    rest = rest_values(character)
    for control in character.controls:
        yield control.label, rest | {control.name: far_end(control)}
