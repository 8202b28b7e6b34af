"""Edits of one bone. With `mirror` its twin goes along in the mirror."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from pydantic import AliasChoices, Field
from scipy.spatial.transform import Rotation

from tightseam.document.arrays import ArrayStore
from tightseam.document.change_bones import in_order, with_bones
from tightseam.document.errors import BadRequest
from tightseam.document.limits import MOST_TURN
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import BoneRole, Character, Spans
from tightseam.document.rename import with_bones_renamed
from tightseam.edits.base import Edit
from tightseam.edits.bone_twins import SHORTEST, Name, Place, and_twin, both_changed, check_free, twin_bone, with_changed
from tightseam.head.found import plane_of
from tightseam.landmarks.bones.maker import turn_of
from tightseam.landmarks.bones.mirror import mirrored_limits, mirrored_place
from tightseam.landmarks.bones.rebuild import rebuilt


class PlaceBone(Edit):
    """Put the ends of a bone elsewhere, cm, and twist its axes about its length by degrees. Landmarks no longer move it."""

    bone: str
    base: Place | None = Field(default=None, validation_alias=AliasChoices("base", "head"))
    tip: Place | None = Field(default=None, validation_alias=AliasChoices("tip", "tail"))
    twist: float = Field(default=0.0, ge=-360, le=360, validation_alias=AliasChoices("twist", "roll"))
    mirror: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        bone = find_bone(character, self.bone)
        placed = replace(bone, base=self.base or bone.base, tip=self.tip or bone.tip, by_hand=True)
        length = np.array(placed.tip) - placed.base
        if np.linalg.norm(length) < SHORTEST:
            raise BadRequest(f"The ends of {bone.label} would lie on one another. Pull one away first.")
        if self.twist:
            turn = Rotation.from_rotvec(np.radians(self.twist) * length / np.linalg.norm(length)).as_matrix()
            placed = replace(placed, axes=turn_of(np.array(bone.axes).reshape(3, 3) @ turn.T))
        changed = {bone.name: placed}
        twin = twin_bone(character, bone) if self.mirror else None
        if twin is not None:
            changed[twin.name] = mirrored_place(placed, twin, plane_of(character, store))
        return with_changed(character, changed)

    def describe(self, character: Character) -> str:
        done = "Twisted" if self.twist and not (self.base or self.tip) else "Moved"
        return f"{done} {find_bone(character, self.bone).label}{and_twin(character, self.bone, self.mirror)}"


class FollowLandmarks(Edit):
    """Let landmarks place bones again whose ends a person had set."""

    bones: list[str] = Field(min_length=1, max_length=500)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if character.skeleton is None:
            raise BadRequest("These bones were not built from landmarks. Build bones first.")
        freed = {name: replace(find_bone(character, name), by_hand=False) for name in self.bones}
        changed = rebuilt(with_changed(character, freed), character.skeleton, store)
        gone = set(self.bones) - {b.name for b in changed.bones}
        if gone:
            raise BadRequest(f"No landmark places {', '.join(sorted(gone))}: a bone that was added by hand stays where it was put.")
        return changed

    def describe(self, character: Character) -> str:
        return f"Let landmarks place {find_bone(character, self.bones[0]).label if len(self.bones) == 1 else f'{len(self.bones)} bones'}"


class SetRole(Edit):
    """Make a bone deform, or only help: a helper moves the bones below it and no vertex."""

    bone: str
    role: BoneRole
    mirror: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        return both_changed(character, self.bone, self.mirror, lambda b: replace(b, role=self.role))

    def describe(self, character: Character) -> str:
        what = "a helper" if self.role == "helper" else "deform"
        return f"Made {find_bone(character, self.bone).label}{and_twin(character, self.bone, self.mirror)} {what}"


class SetBoneLimits(Edit):
    """How far a bone turns (degrees) about and moves (cm) along its own axes; each span holds the rest, 0."""

    bone: str
    turn: Spans
    move: Spans
    mirror: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        bone = find_bone(character, self.bone)
        for spans, most, unit in ((self.turn, MOST_TURN, "°"), (self.move, 100.0, " cm")):
            for low, high in spans:
                if not -most <= low <= 0 <= high <= most:
                    raise BadRequest(f"{bone.label}: {low:g} to {high:g}{unit} must hold the rest, 0, and stay within {most:g}{unit}.")
        limited = replace(bone, turn=self.turn, move=self.move)
        twin = twin_bone(character, bone) if self.mirror else None
        changed = {bone.name: limited} | ({twin.name: mirrored_limits(limited, twin)} if twin else {})
        return with_bones(character, [changed.get(b.name, b) for b in character.bones], store)

    def describe(self, character: Character) -> str:
        return f"Set the limits of {find_bone(character, self.bone).label}{and_twin(character, self.bone, self.mirror)}"


class RenameBone(Edit):
    """Give a bone another name and label."""

    bone: str
    name: Name
    label: Name

    def apply(self, character: Character, store: ArrayStore) -> Character:
        bone = find_bone(character, self.bone)
        check_free(character, self.name, bone.name)
        changed = with_bones_renamed(character, {bone.name: self.name}) if self.name != bone.name else character
        return with_changed(changed, {self.name: replace(find_bone(changed, self.name), label=self.label)})

    def describe(self, character: Character) -> str:
        return f"Renamed the bone {self.bone} to {self.label}"


class SetParent(Edit):
    """Hang a bone on another one, or on none."""

    bone: str
    parent: str | None

    def apply(self, character: Character, store: ArrayStore) -> Character:
        bone = find_bone(character, self.bone)
        above = None if self.parent is None else find_bone(character, self.parent)
        parents = {b.name: b.parent for b in character.bones}
        at = self.parent
        while at is not None:
            if at == bone.name:
                raise BadRequest(f"{above.label if above else at} stands below {bone.label} and cannot be its parent.")
            at = parents[at]
        moved = replace(bone, parent=self.parent, by_hand=True)
        return replace(character, bones=in_order([moved if b is bone else b for b in character.bones]))

    def describe(self, character: Character) -> str:
        above = "nothing" if self.parent is None else find_bone(character, self.parent).label
        return f"Made {above} the parent of {find_bone(character, self.bone).label}"
