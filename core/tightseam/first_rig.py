"""From parts and landmarks to a first working rig: bones, weights, shapes, eye relief, controls, seams, test poses."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from types import MappingProxyType

import numpy as np

from tightseam.binding.carriers import usual_carrier
from tightseam.binding.first_weights import heat
from tightseam.binding.ride import with_ride
from tightseam.controls.starting_set import starting_controls, starting_needs, starting_poses
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_of
from tightseam.document.change import with_binding
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import held_by_lids, polygons
from tightseam.document.make import make_delta, make_influences, make_point, put_sets
from tightseam.document.mix_model import MixRules
from tightseam.document.model import About, Binding, Carrier, Character, EyeRelief, Landmark, Lids, Part, Shape, Skeleton
from tightseam.document.part_mesh import part_mesh
from tightseam.document.progress import tell
from tightseam.geometry.adjacency import is_closed
from tightseam.geometry.types import Floats
from tightseam.head.hair import hair_of
from tightseam.head.regions import head_sets, mouth_width
from tightseam.head.roots import ROOTS, lash_feet
from tightseam.head.surface import surface_of
from tightseam.jaw.lips_setup import first_lips
from tightseam.landmarks.bones.rebuild import rebuilt
from tightseam.lids.setup import Eye, first_lids
from tightseam.seams.starting_set import hair_seams, starting_seams
from tightseam.shapes.expressions import brows_up, jaw_open_relief, pucker, smile
from tightseam.shapes.spread import carried_along
from tightseam.shapes.taken_along import taken_along


class RigBuilder:
    """Builds a first rig step by step; what one step finds the next ones use. Nothing depends on vertex numbers or names of sets."""

    def __init__(self, character: Character, choices: Skeleton, store: ArrayStore) -> None:
        self.store = store
        self.character = character
        self.choices = choices
        self.parts = character.parts
        self.landmarks = {m.name: np.array(m.point) for m in character.landmarks}
        self.points = {p.name: np.asarray(store.get(p.points)) for p in self.parts}
        self.triangles = {p.name: part_mesh(store, p).triangles for p in self.parts}
        self.skin = self._only("skin")
        self.surface = surface_of(character, store, self.skin)

    def build(self) -> Character:
        skin = replace(self.skin, sets=self.skin.sets | put_sets(self.store, head_sets(self.surface)))
        tell(0.0, "Finding the lids")
        lids, eye_reliefs = self._lids()
        tell(0.3, "Building bones")
        rigged = replace(
            rebuilt(self.character, self.choices, self.store),
            parts=tuple(skin if p is self.skin else self._rooted(p, skin, lids) for p in self.parts),
            eye_reliefs=eye_reliefs,
            lids=lids,
            lips=(first_lips(self.surface, skin.name, self.store),),
        )
        sides = [pair.side for pair in lids]
        poses = starting_poses(sides)
        neck, tongue = chain_of(rigged.bones, "neck"), chain_of(rigged.bones, "tongue")
        tell(0.4, "Weighing the parts")
        bound = self.bound(rigged)
        tell(0.7, "Making the first shapes, seams and poses")
        controls = starting_controls(neck[-1].name, [b.name for b in tongue], sides, mouth_width(self.surface))
        rigged = replace(
            bound,
            shapes=tuple(self._expressions(rigged, skin)),
            controls=controls,
            mix=MixRules(starting_needs(controls)),
            seams=(*starting_seams(self._roles(), tuple(b.name for b in tongue)), *hair_seams(rigged.parts, skin.name)),
            poses=(*poses, *(p for p in rigged.poses if p.name not in {q.name for q in poses})),
        )
        if any(b.region == "brows" for b in rigged.bones):  # bones that move the skin under a brow move the brow
            for brow in self._of_kind("brow"):
                rigged = with_ride(rigged, self.store, brow, skin, "vertex")
        return rigged

    def _rooted(self, part: Part, skin: Part, lids: tuple[Lids, ...]) -> Part:
        """A part with the set of its vertices that stand on the skin: a lash where its lid holds it, other hair strand by strand."""
        if ROOTS in part.sets or part.kind not in ("brow", "lash", "whiskers", "hair"):
            return part
        held = held_by_lids(lids, part.name)
        if held is not None:
            found = lash_feet(self.points[part.name], self.points[skin.name], np.asarray(self.store.get(held)))
        else:
            found = hair_of(self.character, self.store, part, skin).roots
        return replace(part, sets=part.sets | put_sets(self.store, {ROOTS: found})) if len(found) else part

    def _roles(self) -> dict[str, str]:
        """What the parts are called that seams speak of, by what they are."""
        single = {p.kind.replace(" ", "_"): p.name for p in self.parts if p.kind in ("skin", "teeth upper", "teeth lower", "tongue")}
        closed = [p.name for p in self._of_kind("cloth") if is_closed(polygons(self.store, p), p.vertex_count)]
        collar = {"collar": closed[0]} if closed else {}
        return single | collar | {f"eye_{p.side}": p.name for p in self._of_kind("eye")}

    def _only(self, kind: str) -> Part:
        found = [p for p in self.parts if p.kind == kind]
        if len(found) != 1:
            raise BadRequest(f"A first rig needs one part of kind {kind}; there are {len(found)}.")
        return found[0]

    def _of_kind(self, *kinds: str) -> list[Part]:
        return [p for p in self.parts if p.kind in kinds]

    def bound(self, character: Character) -> Character:
        """The character whose parts all have carriers, first ones where they had none: skin and cloth by weights, the tongue along its
        chain, hair and whiskers as what they stand on, the rest rigidly; parts of other kinds stay unbound."""
        names, has = [b.name for b in character.bones], {b.part for b in character.bindings}
        for part in sorted(character.parts, key=lambda p: p.kind != "skin"):  # what stands on the skin goes by it
            weighted = part.kind == "skin" or (part.kind == "cloth" and chain_of(character.bones, "neck"))
            single = usual_carrier(part) in names
            if part.name not in has and (weighted or single or (part.kind == "tongue" and chain_of(character.bones, "tongue"))):
                weights = heat(character, self.store, part, self.surface if part.kind == "skin" else None)
                alone = single and bool((weights.min(axis=0) == 1).any())
                carrier: Carrier = "rigid" if alone else "chain" if part.kind == "tongue" else "weighted"
                character = with_binding(character, Binding(part.name, carrier, make_influences(self.store, names, weights)))
        return character

    def _lids(self) -> tuple[tuple[Lids, ...], tuple[EyeRelief, ...]]:
        made = []
        for eye in self._of_kind("eye"):
            lashes = {p.name: self.points[p.name] for p in self._of_kind("lash") if p.side == eye.side}
            found = Eye(eye, self.points[eye.name], self.triangles[eye.name])
            made.append(first_lids(self.surface, self.skin.name, found, lashes, self.store))
        return tuple(pair for pair, _ in made), tuple(relief for _, relief in made)

    def _expressions(self, character: Character, skin: Part) -> list[Shape]:
        brows = self._of_kind("brow")
        brow_points = np.concatenate([self.points[p.name] for p in brows]) if brows else np.zeros((0, 3))
        lifted = brows_up(self.surface, brow_points)
        everywhere = np.ones(len(self.surface.points), bool)
        riding = {p.name: carried_along(self.surface, lifted, self.points[p.name], everywhere) for p in brows}
        hairy = [p for p in character.parts if p.kind in ("whiskers", "hair")]

        def shape(name: str, label: str, offsets: Floats, beside: Mapping[str, Floats] = MappingProxyType({})) -> Shape:
            along = {p.name: taken_along(character, self.store, p, skin, offsets) for p in hairy}
            deltas = [make_delta(self.store, part, x) for part, x in {skin.name: offsets, **beside, **along}.items()]
            return Shape(name, label, tuple(d for d in deltas if d is not None))

        return [
            shape("smile", "Smile", smile(self.surface)),
            shape("pucker", "Pucker", pucker(self.surface)),
            shape("brows_up", "Brows up", lifted, riding),
            shape("jaw_open_relief", "Jaw open relief", jaw_open_relief(self.surface)),
        ]


def first_rig(
    name: str, story: str, parts: tuple[Part, ...], landmarks: Mapping[str, Floats], store: ArrayStore, choices: Skeleton | None = None
) -> Character:
    """A first working rig for a head. `landmarks` (name -> point (3,) cm); arrays of the result lie in `store`.

    BadRequest where a needed landmark or part is missing.
    """
    marks = tuple(Landmark(n, make_point(np.asarray(p, float))) for n, p in sorted(landmarks.items()))
    return rigged(Character(About(name, story), parts, marks), choices or Skeleton(), store)


def rigged(character: Character, choices: Skeleton, store: ArrayStore) -> Character:
    """The character with a first working rig in place of what it had, built from its landmarks.

    BadRequest where a needed landmark or part is missing.
    """
    return RigBuilder(character, choices, store).build()


def with_first_bindings(character: Character, store: ArrayStore) -> Character:
    """The character with first carriers for those parts that nothing carries.

    BadRequest where a landmark or part is missing that the weights of the skin need.
    """
    return RigBuilder(character, character.skeleton or Skeleton(), store).bound(character)
