"""From parts and landmarks to a first working rig: bones, weights, shapes, eye relief, controls, seams, test poses."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace

import numpy as np

from tightseam.binding.carriers import usual_carrier
from tightseam.binding.first_weights import heat
from tightseam.binding.ride import as_rooted, with_ride
from tightseam.controls.starting_set import starting_controls, starting_poses
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_of
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import held_by_lids, polygons
from tightseam.document.make import make_delta, make_influences, make_point, put_sets
from tightseam.document.model import About, Binding, Bone, Carrier, Character, EyeRelief, Landmark, Lids, Part, Shape, Skeleton
from tightseam.geometry.adjacency import is_closed
from tightseam.geometry.triangulate import triangulate
from tightseam.geometry.types import Floats
from tightseam.jaw.lips_setup import first_lips
from tightseam.landmarks.bones.rebuild import rebuilt
from tightseam.landmarks.regions import head_sets, mouth_width
from tightseam.landmarks.roots import ROOTS, heights, lash_feet, seen, strand_roots
from tightseam.landmarks.surface import Surface
from tightseam.lids.setup import Eye, first_lids
from tightseam.seams.starting_set import ride_seams, starting_seams
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
        self.triangles = {p.name: triangulate(self.points[p.name], polygons(store, p)) for p in self.parts}
        self.skin = self._only("skin")
        self.surface = Surface(self.points[self.skin.name], polygons(store, self.skin), self.landmarks)

    def build(self) -> Character:
        skin = replace(self.skin, sets=self.skin.sets | put_sets(self.store, head_sets(self.surface)))
        lids, reliefs = self._lids()
        rigged = replace(
            rebuilt(self.character, self.choices, self.store),
            parts=tuple(skin if p is self.skin else self._rooted(p, skin, lids) for p in self.parts),
            reliefs=reliefs,
            lids=lids,
            lips=(first_lips(self.surface, skin.name, self.store),),
        )
        sides = [pair.side for pair in lids]
        poses = starting_poses(sides)
        neck, tongue = chain_of(rigged.bones, "neck"), chain_of(rigged.bones, "tongue")
        rigged = replace(
            rigged,
            shapes=tuple(self._expressions(rigged, skin)),
            bindings=self.bindings(rigged.bones),
            controls=starting_controls(neck[-1].name, [b.name for b in tongue], sides, mouth_width(self.surface)),
            seams=(*starting_seams(self._roles(), tuple(b.name for b in tongue)), *ride_seams(rigged.parts, skin.name)),
            poses=(*poses, *(p for p in rigged.poses if p.name not in {q.name for q in poses})),
        )
        if any(b.region == "brows" for b in rigged.bones):  # bones that move the skin under a brow move the brow
            for brow in self._of_kind("brow"):
                rigged = with_ride(rigged, self.store, brow, skin, "vertex")
        for part in rigged.parts:  # the jaw moves the skin under whiskers, at the corners of the mouth
            if part.kind == "whiskers" and ROOTS in part.sets:
                rigged = as_rooted(rigged, self.store, part, skin)
        return rigged

    def _rooted(self, part: Part, skin: Part, lids: tuple[Lids, ...]) -> Part:
        """A part with the set of its vertices that stand on the skin: a lash where its lid holds it, other hair strand by strand."""
        if ROOTS in part.sets or part.kind not in ("brow", "lash", "whiskers"):
            return part
        held = held_by_lids(lids, part.name)
        points, under, triangles = self.points[part.name], self.points[skin.name], self.triangles[skin.name]
        if held is not None:
            found = lash_feet(points, under, np.asarray(self.store.get(held)))
        else:
            over = heights(points, under, triangles, seen(triangles, skin, self.store))
            found = strand_roots(over, polygons(self.store, part))
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

    def bindings(self, bones: tuple[Bone, ...]) -> tuple[Binding, ...]:
        """First carriers: skin and cloth by weights, the tongue along its chain, the rest rigidly; parts of other kinds stay unbound."""
        names = {b.name for b in bones}
        character = replace(self.character, bones=bones)
        bindings = []
        for part in self.parts:
            single = usual_carrier(part) in names
            weighted = part.kind == "skin" or (part.kind == "cloth" and chain_of(bones, "neck"))
            if weighted or single or (part.kind == "tongue" and chain_of(bones, "tongue")):
                carrier: Carrier = "weighted" if weighted else "rigid" if single else "chain"
                weights = heat(character, self.store, part, self.surface if part is self.skin else None)
                bindings.append(Binding(part.name, carrier, make_influences(self.store, [b.name for b in bones], weights)))
        return tuple(bindings)

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
        whiskers = [p for p in character.parts if p.kind == "whiskers"]

        def mouth_shape(name: str, label: str, offsets: Floats) -> Shape:
            riding = {p.name: taken_along(character, self.store, p, skin, offsets) for p in whiskers}
            return self._shape(name, label, {skin.name: offsets, **riding})

        return [
            mouth_shape("smile", "Smile", smile(self.surface)),
            mouth_shape("pucker", "Pucker", pucker(self.surface)),
            self._shape("brows_up", "Brows up", {self.skin.name: lifted, **riding}),
            mouth_shape("jaw_open_relief", "Jaw open relief", jaw_open_relief(self.surface)),
        ]

    def _shape(self, name: str, label: str, offsets: Mapping[str, Floats]) -> Shape:
        deltas = [make_delta(self.store, part, x) for part, x in offsets.items()]
        return Shape(name, label, tuple(d for d in deltas if d is not None))


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


def first_bindings(character: Character, store: ArrayStore) -> tuple[Binding, ...]:
    """First carriers of all parts for the bones that a character has.

    BadRequest where a landmark or part is missing that the weights of the skin need.
    """
    return RigBuilder(character, character.skeleton or Skeleton(), store).bindings(character.bones)
