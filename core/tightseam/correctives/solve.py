"""A corrective solved for one place in one pose."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from itertools import product

import numpy as np

from tightseam.correctives.bending import Bending, around
from tightseam.correctives.filling import filled
from tightseam.correctives.holding import CLOSE, Solid, held_out, touched
from tightseam.correctives.surface import PosedSkin
from tightseam.deform.activation import compile_activations
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import seam as find_seam
from tightseam.document.lookup import skin as find_skin
from tightseam.document.lookup import vertex_set
from tightseam.document.model import Activation, Character
from tightseam.document.part_mesh import part_mesh
from tightseam.document.poses import rest_values
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.head.regions import lips
from tightseam.head.surface import surface_of
from tightseam.seams.probe import belong, probe_of
from tightseam.shapes.offsets import Offsets
from tightseam.shapes.taken_along import with_riders

STRENGTHS = (0.5, 0.75, 1.0)  # of each driver, at which a mix is held
MOST_FREE = 20_000  # vertices that one corrective is solved for
MOST_POSES = 9  # of three controls and more only the halves and the whole,
MOST_APART = 6  # and of more than these all at once: every mixture of a whole frame would never end
LEAST = 1e-4  # cm: a corrective that moves nothing farther does nothing


@dataclass(frozen=True)
class Place:
    """What is to be put right in the pose of these `values`: the skin about some `vertices`; or wherever it has to be `held` out of a part,
    by the name of their seam, and then in some other poses `also`."""

    values: Mapping[str, float]
    vertices: tuple[int, ...] = ()
    held: str | None = None
    also: tuple[Mapping[str, float], ...] = ()


def solved(character: Character, store: ArrayStore, place: Place, activation: Activation, reach: float) -> Offsets:
    """Offsets by part of a corrective that puts a place right, moving nothing farther than `reach` cm from it over the skin; what lies on
    the skin goes along. BadRequest where there is nothing to do, or no way to do it."""
    skin = find_skin(character, "correct")
    mesh, evaluator = part_mesh(store, skin), Evaluator(character, store)
    rows, values = evaluator.meshes.rows(skin.name), rest_values(character) | dict(place.values)
    seeds = np.array(sorted(set(place.vertices)), int)
    if place.held is None:
        if not len(seeds) or seeds[0] < 0 or seeds[-1] >= len(mesh):
            raise BadRequest(f"The skin has vertices 0 to {len(mesh) - 1}; say which of them are to be put right.")
        offsets = filled(evaluator, rows, mesh, values, seeds, reach, _apart_from_the_mouth(character, store, seeds))
    else:
        offsets = _held(character, store, evaluator, place, values, activation, reach)
    if np.abs(offsets).max(initial=0.0) < LEAST:
        raise BadRequest("Nothing has to move there.")
    return with_riders(character, store, skin, offsets)


def _apart_from_the_mouth(character: Character, store: ArrayStore, seeds: Ints) -> Bools:
    """What may move with the seeds (N,): the lining stays where it is, unless they are on it."""
    skin = find_skin(character, "correct")
    try:
        inside = lips(surface_of(character, store, skin)).inside
    except BadRequest:  # a head without a mouth
        return np.ones(skin.vertex_count, bool)
    return np.ones(len(inside), bool) if inside[seeds].any() else ~inside


def touching(character: Character, store: ArrayStore, values: Mapping[str, float], seam: str) -> Ints:
    """The vertices of the skin that are in the part that a seam keeps it out of, or nearly, in a pose. BadRequest where it keeps the
    skin out of none."""
    evaluator, skin = Evaluator(character, store), find_skin(character, "correct")
    pose = PosedSkin(evaluator, evaluator.meshes.rows(skin.name), rest_values(character) | dict(values), 0.0)
    return touched(_contact(character, store, evaluator, seam).first([pose]))


def _held(
    character: Character,
    store: ArrayStore,
    evaluator: Evaluator,
    place: Place,
    values: Mapping[str, float],
    activation: Activation,
    reach: float,
) -> Floats:
    skin = find_skin(character, "correct")
    mesh, rows = part_mesh(store, skin), evaluator.meshes.rows(skin.name)
    contact = _contact(character, store, evaluator, place.held or "")
    meant = [values, *(rest_values(character) | dict(v) for v in place.also)]
    poses = [PosedSkin(evaluator, rows, v, w) for m in meant for v, w in _strengths(character, evaluator, m, activation)]
    first = contact.first(poses)
    seeds = touched(first)
    if not len(seeds):
        raise BadRequest("The skin does not overlap there in this pose.")
    bending = Bending(mesh, _few(around(mesh, seeds, reach)))
    offsets = np.zeros((len(mesh), 3))
    offsets[bending.free], left = held_out(bending, contact, poses, first)
    if left > CLOSE:
        raise BadRequest(f"{CM_TO_MM * left:.2f} mm of overlap stay: what moves within {reach:g} cm does not reach it.")
    return offsets


def _few(free: Ints) -> Ints:
    """BadRequest where more is to move than can be solved for."""
    if len(free) > MOST_FREE:
        raise BadRequest(f"{len(free):,} vertices would move; {MOST_FREE:,} are the most that are solved for. Give it a smaller reach.")
    return free


def _contact(character: Character, store: ArrayStore, evaluator: Evaluator, name: str) -> Solid:
    """The skin against the part that a seam keeps it out of."""
    skin, seam = find_skin(character, "correct"), find_seam(character, name)
    if seam.measure not in ("solid", "clear") or skin.name not in (seam.probe, seam.solid) or seam.solid is None:
        raise BadRequest(f"{seam.label}: the skin is held out of a part, which this seam does not speak of.")
    other = find_part(character, seam.solid if seam.probe == skin.name else seam.probe)
    mesh, solid = part_mesh(store, skin), part_mesh(store, other)
    own = seam.probe_set if seam.probe == skin.name else seam.solid_set
    triangles = mesh.triangles if own is None else mesh.triangles[belong(mesh.triangles, vertex_set(store, skin, own))]
    socket = seam.margin is not None  # it winds round its eye: what is inside it is not inside the skin
    flesh = None if socket else probe_of(skin.name, None, character, store, evaluator).closed
    of = evaluator.meshes.rows
    return Solid(of(skin.name), triangles, mesh.points, of(other.name), solid.points, solid.triangles, flesh)


def _strengths(
    character: Character, evaluator: Evaluator, values: Mapping[str, float], activation: Activation
) -> Sequence[tuple[dict[str, float], float]]:
    """Poses between rest and a pose, by what is away from rest there, with how far the corrective is in."""
    rest = rest_values(character)
    away = [name for name, value in values.items() if value != rest.get(name, 0.0)]
    shares = STRENGTHS if len(STRENGTHS) ** len(away) <= MOST_POSES else (STRENGTHS[0], STRENGTHS[-1])
    apart = len(away) <= MOST_APART
    brought_in = compile_activations([activation])
    found = []
    for each in product(shares, repeat=len(away)) if apart else ((s,) * len(away) for s in STRENGTHS):
        posed = rest | {n: rest.get(n, 0.0) + s * (values[n] - rest.get(n, 0.0)) for n, s in zip(away, each, strict=True)}
        amounts = brought_in.amounts(evaluator.skeleton, posed, evaluator.rig.strengths(posed))
        found.append((posed, float(amounts[0])))
    return found
