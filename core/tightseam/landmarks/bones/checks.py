"""Is a skeleton as it should be? Findings with their size, their place and, where there is one, an edit that repairs them."""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import replace

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_joints, chain_of
from tightseam.document.kept import remembered
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.make import make_point
from tightseam.document.model import Bone, Character
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Finding, Repair, Unit, repair
from tightseam.geometry.distance import closest_points, winding
from tightseam.geometry.types import Floats
from tightseam.head.found import FoundHead, Piece, found_head

OFF_CENTRE = 0.2  # mm an eye bone may be from the centre of the ball
OFF_HINGE = 1.0  # mm the line of the jaw's axis may pass a hinge
OFF_LEVEL = 1.0  # degrees that axis may lean against the head
OFF_MIRROR = 0.5  # mm twins may be from each other's mirror image
OUTSIDE = 0.5  # mm a joint may stand outside of what it should be in
INSIDE = 0.5  # winding number from which a point counts as inside


@remembered(list[Finding], "parts", "bones", "landmarks", "bindings", "skeleton")
def bone_findings_of(character: Character, store: ArrayStore) -> list[Finding]:
    """All findings of a character's bones."""
    return bone_findings(found_head(character, store), character)


def bone_findings(head: FoundHead, character: Character) -> list[Finding]:
    """All findings of a character's bones, in the order of the checks; none without bones."""
    if not character.bones:
        return []
    checks: tuple[Callable[[FoundHead, Character], Iterator[Finding]], ...] = (_eyes, _jaw, _twins, _helpers, _tongue, _outside)
    return [finding for check in checks for finding in check(head, character)]


def _of_bone(kind: str, bone: Bone, title: str, said: str, size: float, repairs: tuple[Repair, ...], unit: Unit = "mm") -> Finding:
    return Finding(kind, bone.name, title, said, size, unit, point=bone.base, repairs=repairs)


def _eyes(head: FoundHead, character: Character) -> Iterator[Finding]:
    """The bone that carries an eye turns it about the centre of its ball."""
    for side, ball in head.balls.items():
        names = (f"eye_{side}", _rigid_carrier(character, ball.piece.part.name))
        bone = next((b for b in character.bones if b.name in names and b.region in ("eyes", "other")), None)
        if bone is None:
            continue
        off = float(np.linalg.norm(np.array(bone.base) - ball.centre)) * CM_TO_MM
        if off > OFF_CENTRE:
            said = f"It turns the eye about a point {off:.1f} mm from the centre of its ball, so the eye swings through the lids."
            centred = _to_centre(character, bone, ball.centre, f"eye_centre_{side}")
            yield _of_bone("eye_centre", bone, f"{bone.label} off centre", said, off, centred)


def _to_centre(character: Character, bone: Bone, centre: Floats, name: str) -> tuple[Repair, ...]:
    """Landmarks may place the bone again where theirs is right; else it is moved as it is."""
    again = _again(character, bone)
    mark = next((m for m in character.landmarks if m.name == name), None)
    if again and mark is not None and np.linalg.norm(centre - mark.point) * CM_TO_MM <= OFF_CENTRE:
        return again
    tip = make_point(np.array(bone.tip) + centre - bone.base)
    params = {"bone": bone.name, "base": make_point(centre), "tip": tip, "twist": 0, "mirror": False}
    return repair("bone.place", params, "Move it to the centre of the ball")


def _rigid_carrier(character: Character, part: str) -> str | None:
    bound = find_binding(character, part)
    return bound.influences[0].bone if bound is not None and bound.carrier == "rigid" and bound.influences else None


def _jaw(head: FoundHead, character: Character) -> Iterator[Finding]:
    """The jaw's x axis is level in the head and passes through both hinges."""
    jaw = next((b for b in character.bones if b.name == "jaw" or b.region == "jaw"), None)
    if jaw is None:
        return
    axis = np.array(jaw.axes).reshape(3, 3)[0]
    if head.frame is not None:
        lean = float(np.degrees(np.arccos(np.clip(abs(axis @ head.frame.axes[0]), 0, 1))))
        if lean > OFF_LEVEL:
            said = f"It leans by {lean:.1f}° against the head, so the chin goes sideways as the jaw opens."
            yield _of_bone("jaw_level", jaw, "Jaw axis not level", said, lean, _again(character, jaw), unit="°")
    marks = {m.name: np.array(m.point) for m in character.landmarks}
    hinges = [marks[n] for n in ("jaw_hinge_L", "jaw_hinge_R") if n in marks]
    if len(hinges) == 2:
        miss = max(float(np.linalg.norm(np.cross(h - jaw.base, axis))) for h in hinges) * CM_TO_MM
        if miss > OFF_HINGE:
            said = f"It passes a hinge by {miss:.1f} mm, so the jaw slides like a drawer instead of turning."
            yield _of_bone("jaw_hinge", jaw, "Jaw axis not through the hinge", said, miss, _again(character, jaw))


def _again(character: Character, bone: Bone) -> tuple[Repair, ...]:
    """Letting landmarks place a bone again, where they did so before."""
    before = character.skeleton is not None and bone.by_hand
    return repair("bones.follow_landmarks" if before else None, {"bones": [bone.name]})


def _twins(head: FoundHead, character: Character) -> Iterator[Finding]:
    bones = {b.name: b for b in character.bones}
    for left in (b for b in character.bones if b.side == "L" and b.twin in bones):
        right = bones[str(left.twin)]
        mine, other = np.array([left.base, left.tip]), np.array([right.base, right.tip])
        off = float(np.linalg.norm(head.plane.mirrored(mine) - other, axis=1).max()) * CM_TO_MM
        if off > OFF_MIRROR:
            params = {"bone": left.name, "base": left.base, "tip": left.tip, "twist": 0, "mirror": True}
            apart = f"{left.label} and {right.label} are {off:.1f} mm from each other's mirror image"
            said = f"{apart}: poses come out different left and right."
            mirrored = repair("bone.place", params, f"Let {right.label} stand as {left.label}, mirrored")
            yield replace(_of_bone("twins", left, "Twins not mirrored", said, off, mirrored), point=right.base)


def _helpers(head: FoundHead, character: Character) -> Iterator[Finding]:
    """A part that speaks of helper bones alone, with no deforming bone below them, is carried by nothing."""
    bones = {b.name: b for b in character.bones}
    for binding in character.bindings:
        carriers = [bones[i.bone] for i in binding.influences]
        if not carriers or any(b.role == "deform" for b in carriers):
            continue
        helper = carriers[0]
        below = _deforming_below(helper.name, character.bones)
        part = next(p for p in character.parts if p.name == binding.part)
        said = f"{part_label(part.name)} is bound to it alone, and a helper deforms nothing: the part stays behind."
        if below is None:
            params = {"bone": helper.name, "role": "deform", "mirror": False}
            mended = repair("bone.set_role", params, f"Let {helper.label} deform")
        else:
            said += f" {below.label} below it could carry the part."
            params = {"part": part.name, "carrier": "rigid", "bones": [below.name]}
            mended = repair("binding.set_carrier", params, f"Bind {part_label(part.name)} to {below.label}")
        yield _of_bone("helper", helper, f"{helper.label} carries nothing", said, part.vertex_count, mended, unit="vertices")


def _deforming_below(name: str, bones: tuple[Bone, ...]) -> Bone | None:
    family = {name}
    for bone in bones:  # parents stand before children
        if bone.parent in family:
            family.add(bone.name)
            if bone.role == "deform":
                return bone
    return None


def _tongue(head: FoundHead, character: Character) -> Iterator[Finding]:
    piece = next((p for p in head.pieces if p.part.kind == "tongue"), None)
    chain = chain_of(character.bones, "tongue")
    if piece is None or not chain:
        return
    joints = chain_joints(chain)
    out = _how_far_outside(joints, piece)
    worst = int(out.argmax())
    if out[worst] > OUTSIDE:
        bone = chain[min(worst, len(chain) - 1)]
        said = f"A joint of the tongue's chain lies {out[worst]:.1f} mm outside the tongue, which then bends about a point beside it."
        found = _of_bone("tongue", bone, "Tongue chain outside the tongue", said, float(out[worst]), _again(character, bone))
        yield replace(found, point=make_point(joints[worst]))


def _outside(head: FoundHead, character: Character) -> Iterator[Finding]:
    """Bones of neck, head and jaw stand in the head; one that carries a part rigidly stands in that part's bounds."""
    if head.skin is not None:
        inner = [b for b in character.bones if b.region in ("head", "neck", "jaw")]
        out = _how_far_outside(np.array([b.base for b in inner]).reshape(-1, 3), head.skin)
        for bone, far in zip(inner, out.tolist(), strict=True):
            if far > OUTSIDE:
                said = f"It turns about a point {far:.1f} mm outside the head."
                yield _of_bone("outside", bone, f"{bone.label} outside the head", said, far, _again(character, bone))
    for bone in (b for b in character.bones if b.region == "teeth"):
        pieces = [p for p in head.pieces if _rigid_carrier(character, p.part.name) == bone.name]
        for piece in pieces:
            far = _how_far_from_bounds(np.array(bone.base), piece.points)
            if far > OUTSIDE:
                said = f"It lies {far:.1f} mm outside {part_label(piece.part.name)}, which it carries."
                title = f"{bone.label} outside its part"
                yield _of_bone("outside", bone, title, said, far, _again(character, bone))


def _how_far_outside(points: Floats, piece: Piece) -> Floats:
    """How far points (K, 3) lie outside a mesh that may be open, mm; 0 inside."""
    triangles = piece.surface.triangles
    inside = winding(points, piece.points, triangles) > INSIDE
    return np.where(inside, 0.0, closest_points(points, piece.points, triangles)[0] * CM_TO_MM)


def _how_far_from_bounds(point: Floats, points: Floats) -> float:
    """Distance of a point from the bounding box of points (K, 3), mm."""
    return float(np.linalg.norm(np.maximum(np.maximum(points.min(axis=0) - point, point - points.max(axis=0)), 0))) * CM_TO_MM
