"""Edits of the skeleton: bones added and taken away, sides mirrored and swapped, names for export."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np
from pydantic import AliasChoices, Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.change_bones import with_bones
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import bone as find_bone
from tightseam.document.model import Bone, BoneRole, Character
from tightseam.document.rename import with_bones_renamed
from tightseam.document.twins import other_side, side_of
from tightseam.edits.base import Edit
from tightseam.edits.bone_twins import SHORTEST, Name, Place, check_free, twin_bone
from tightseam.head.found import plane_of
from tightseam.landmarks.bones.maker import turn_of
from tightseam.landmarks.bones.mirror import mirrored_limits, mirrored_place


class AddBone(Edit):
    """A new bone; with `mirror` and a name that speaks of a side also its twin."""

    name: Name
    label: Name
    parent: str | None
    base: Place = Field(validation_alias=AliasChoices("base", "head"))
    tip: Place = Field(validation_alias=AliasChoices("tip", "tail"))
    role: BoneRole = "deform"
    mirror: bool = True

    def apply(self, character: Character, store: ArrayStore) -> Character:
        check_free(character, self.name, None)
        parent = None if self.parent is None else find_bone(character, self.parent)
        if np.linalg.norm(np.array(self.tip) - self.base) < SHORTEST:
            raise BadRequest("The ends of the new bone lie on one another.")
        axes, region = (parent.axes, parent.region) if parent else (turn_of(np.eye(3)), "other")
        bone = Bone(self.name, self.label, self.parent, self.base, self.tip, side_of(self.name), self.role, region, axes=axes, by_hand=True)
        added = [bone]
        twin_name = other_side(self.name) if self.mirror else None
        if twin_name is not None:
            check_free(character, twin_name, None)
            under = None if parent is None else (twin_bone(character, parent) or parent).name
            label = other_side(self.label) or f"{self.label} {side_of(twin_name)}"
            twin = replace(bone, name=twin_name, label=label, side=side_of(twin_name), twin=bone.name, parent=under)
            added = [replace(bone, twin=twin_name), mirrored_place(bone, twin, plane_of(character, store))]
        return replace(character, bones=(*character.bones, *added))

    def describe(self, character: Character) -> str:
        return f"Added the bone {self.label}"


class RemoveBones(Edit):
    """Take bones away. What they carried goes to the bone above, what hung on them as well."""

    bones: list[str] = Field(min_length=1, max_length=500)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        gone = {find_bone(character, name).name for name in self.bones}
        return with_bones(character, [b for b in character.bones if b.name not in gone], store)

    def describe(self, character: Character) -> str:
        return f"Removed the bone {self.bones[0]}" if len(self.bones) == 1 else f"Removed {len(self.bones)} bones"


class MirrorBones(Edit):
    """Put the twins of all bones of one side to their mirror images."""

    side: Literal["L", "R"]

    def apply(self, character: Character, store: ArrayStore) -> Character:
        plane = plane_of(character, store)
        changed = {}
        for bone in character.bones:
            twin = twin_bone(character, bone)
            if bone.side == self.side and twin is not None:
                changed[twin.name] = mirrored_limits(bone, mirrored_place(replace(bone, by_hand=True), twin, plane))
        if not changed:
            raise BadRequest(f"No bone of side {self.side} has a twin.")
        return with_bones(character, [changed.get(b.name, b) for b in character.bones], store)

    def describe(self, character: Character) -> str:
        return f"Mirrored the bones of side {self.side}"


class SwapSides(Edit):
    """Exchange the names of all twins: for rigs whose left is the viewer's."""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        pairs = [(b.name, b.twin) for b in character.bones if b.side == "L" and b.twin is not None]
        if not pairs:
            raise BadRequest("No bone has a twin.")
        swapped = with_bones_renamed(character, dict(pairs) | {right: left for left, right in pairs})
        said = {b.name: (b.side, b.label) for b in character.bones}
        bones = tuple(replace(b, side=said[b.name][0], label=said[b.name][1]) for b in swapped.bones)
        return replace(swapped, bones=bones)

    def describe(self, character: Character) -> str:
        return "Swapped the sides of all twins"


class SetExportNames(Edit):
    """What bones are called in exported files; a bone that is not in the table keeps its own name."""

    names: dict[str, Name] = Field(max_length=2000)

    def apply(self, character: Character, store: ArrayStore) -> Character:
        for name in self.names:
            find_bone(character, name)
        named = tuple(replace(b, export=_export(b, self.names.get(b.name))) for b in character.bones)
        exported = [b.export or b.name for b in named]
        twice = next((n for n in exported if exported.count(n) > 1), None)
        if twice is not None:
            raise BadRequest(f"Two bones would be called “{twice}” in exported files.")
        return replace(character, bones=named)

    def describe(self, character: Character) -> str:
        return f"Set the export names of {len(self.names)} bones" if self.names else "Removed the export names"


def _export(bone: Bone, name: str | None) -> str | None:
    return None if name is None or name == bone.name else name
