"""Test poses made from what a rig can do: jaw, head, eyes, lids, and every control at its ends."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass

from tightseam.document.channels import channels
from tightseam.document.model import Axis, Bone, BoneRegion, Character, Control, Pose
from tightseam.document.poses import pose_name

NEAR = 1e-9
QUIET: tuple[BoneRegion, ...] = ("head", "neck", "eyes")  # regions that move no lip and no lid


@dataclass(frozen=True)
class Move:
    """A movement to be tested: the bones of a region, about or along an axis, towards one end, so far of the way."""

    label: str
    region: BoneRegion
    kind: str
    axis: Axis
    up: bool
    share: float = 1.0


MOVES = (
    Move("Jaw 25 %", "jaw", "turn", "x", True, 0.25),
    Move("Jaw 50 %", "jaw", "turn", "x", True, 0.5),
    Move("Jaw 100 %", "jaw", "turn", "x", True),
    Move("Jaw to the left", "jaw", "move", "x", True),
    Move("Jaw to the right", "jaw", "move", "x", False),
    Move("Jaw thrust", "jaw", "move", "z", True),
    Move("Head turns left", "head", "turn", "y", True),
    Move("Head turns right", "head", "turn", "y", False),
    Move("Head nods down", "head", "turn", "x", True),
    Move("Head nods up", "head", "turn", "x", False),
    Move("Head tilts left", "head", "turn", "z", False),
    Move("Head tilts right", "head", "turn", "z", True),
    Move("Eyes left", "eyes", "turn", "y", True),
    Move("Eyes right", "eyes", "turn", "y", False),
    Move("Eyes up", "eyes", "turn", "x", False),
    Move("Eyes down", "eyes", "turn", "x", True),
)
CORNERS = (("Eyes up", "Eyes left"), ("Eyes up", "Eyes right"), ("Eyes down", "Eyes left"), ("Eyes down", "Eyes right"))


def range_of_motion(character: Character) -> tuple[Pose, ...]:
    """Poses the rig can take and the strip does not hold yet: the movements of `MOVES` by the control that drives them, or else by the
    bone's own, the corners of the gaze, and each remaining control at its ends. A pose that moves no lip and no lid claims to close what
    the neutral closes."""
    wanted = {move.label: _values(character, move) for move in MOVES}
    for height, side in CORNERS:
        wanted[f"{height} and {side.removeprefix('Eyes ')}"] = wanted[height] | wanted[side]
    used = {name for values in wanted.values() for name in values}
    for control in character.controls:
        if control.name not in used:
            wanted |= dict(_ends(control))
    known = [dict(p.values) for p in character.poses]
    labels = {p.label for p in character.poses}
    closes = next((p.closes for p in character.poses if not p.values), ())
    made: list[Pose] = []
    for label, values in wanted.items():
        if values and label not in labels and not any(_same(values, other) for other in known):
            known.append(values)
            name = pose_name(label, {p.name for p in (*character.poses, *made)})
            made.append(Pose(name, label, values, closes if _quiet(character, values) else ()))
    return tuple(made)


def _values(character: Character, move: Move) -> dict[str, float]:
    """The values that make a movement; none where no bone of the region can."""
    bones = [b for b in character.bones if b.region == move.region and b.role == "deform"]
    own = channels(bones)
    found: dict[str, float] = {}
    for bone in bones:
        control = _driver(character, bone, move)
        if control is not None:
            gain = next(n.gain for n in control.links if n.by == "turn" and n.target == bone.name and n.axis == move.axis)
            end = control.high if (gain > 0) == move.up else control.low
            found[control.name] = control.rest + (end - control.rest) * move.share
        elif (name := f"{bone.name}.{move.kind}_{move.axis}") in own:
            low, high = own[name].span
            found[name] = (high if move.up else low) * move.share
    return {name: value for name, value in found.items() if abs(value) > NEAR}


def _driver(character: Character, bone: Bone, move: Move) -> Control | None:
    """The control that turns a bone about an axis."""
    if move.kind != "turn":
        return None
    links = ((c, n) for c in character.controls for n in c.links if n.kind == "bone" and n.by == "turn" and n.target == bone.name)
    return next((c for c, n in links if n.axis == move.axis and n.gain), None)


def _ends(control: Control) -> Iterator[tuple[str, dict[str, float]]]:
    for end, word in ((control.high, "high"), (control.low, "low")):
        if abs(end - control.rest) > NEAR:
            only = abs(control.high - control.rest) <= NEAR or abs(control.low - control.rest) <= NEAR
            yield (control.label if only else f"{control.label}, {word}"), {control.name: end}


def _quiet(character: Character, values: Mapping[str, float]) -> bool:
    """Do values move bones of head, neck and eyes alone?"""
    region = {b.name: b.region for b in character.bones}
    links = {c.name: c.links for c in character.controls}
    own = channels(character.bones)
    moved = [n for name in values for n in links.get(name, ())]
    bones = [n.target for n in moved] + [own[name].bone for name in values if name not in links]
    return all(n.kind == "bone" for n in moved) and all(region[bone] in QUIET for bone in bones)


def _same(a: Mapping[str, float], b: Mapping[str, float]) -> bool:
    return a.keys() == b.keys() and all(abs(a[name] - b[name]) < 1e-6 for name in a)
