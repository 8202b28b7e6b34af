"""Does a character hold together? Run on everything that comes from outside."""

from __future__ import annotations

import itertools
from collections.abc import Callable
from graphlib import CycleError, TopologicalSorter

import numpy as np

from tightseam.document.channels import strength_of
from tightseam.document.control_chains import chain_depth
from tightseam.document.derived import DERIVED
from tightseam.document.errors import BadDocument
from tightseam.document.labels import control_label
from tightseam.document.limits import FARTHEST, MOST_KEYS, MOST_TURN
from tightseam.document.model import Binding, Bone, Character, CurveKeys, Relief, Seam
from tightseam.document.mouth_model import MOST_RELIEF
from tightseam.document.names import check_known
from tightseam.document.sections import keys_of

CLOSEST_KEYS = 1e-6
LEAST_RAMP = 1e-3  # of a driver of a corrective
SQUARE = 1e-4  # how far products of a bone's axes may be from 0 and 1


def check_names(character: Character) -> None:
    """BadDocument where a name is doubled or points nowhere, or what is said by numbers alone cannot be. An edit that leaves sections as
    they are has only the others looked at."""
    if not character.parts:
        raise BadDocument("The character has no parts.")
    check_known(character)
    for check, sections in CHECKS.items():
        DERIVED.get((check.__qualname__, *keys_of(character, sections)), lambda check=check: check(character))  # type: ignore[misc]


def _check_bones(character: Character) -> None:
    seen: set[str] = set()
    exported: set[str] = set()
    for bone in character.bones:
        if (name := bone.export or bone.name) in exported:
            raise BadDocument(f"Two bones are called “{name}” in exported files.")
        exported.add(name)
        if bone.parent is not None and bone.parent not in seen:
            raise BadDocument(f"The parent of the bone {bone.name}, {bone.parent}, does not come before it.")
        seen.add(bone.name)
        _check_bone(bone)


def _check_controls(character: Character) -> None:
    for c in character.controls:
        for link in c.links:
            check_curve(link.curve, f"control {c.name}")
            if max(abs(link.gain), *(abs(k.value) for k in link.curve), 0) > FARTHEST:
                raise BadDocument(f"The control {c.name} does more to {link.target} than can be meant.")
        for damping in c.damped:
            if damping.by == c.name:
                raise BadDocument(f"The control {c.name} damps itself.")
            if not _goes(damping.comes_in, damping.full):
                raise BadDocument(
                    f"What {damping.by} leaves of the control {c.name} has no way to go from where it begins to where it ends."
                )
    if chain_depth(character.controls) is None:
        raise BadDocument("Controls drive one another in a ring.")
    for pad in character.plan:
        if (pad.x is None and pad.y is None) or not all(0 <= c <= 1 for c in pad.place):
            raise BadDocument(f"The pad {pad.name} moves nothing, or lies beside the face plan.")


def _check_shapes(character: Character) -> None:
    correctives = {strength_of(s.name) for s in character.shapes if s.activation is not None}
    for shape in character.shapes:
        drivers = shape.activation.drivers if shape.activation is not None else ()
        if len({d.channel for d in drivers}) < len(drivers):
            raise BadDocument(f"The corrective {shape.label} has the same driver twice.")
        for d in drivers:
            if d.channel in correctives:
                raise BadDocument(f"The corrective {shape.label} is driven by a corrective, not by a control, a bone or a plain shape.")
            if not _goes(d.comes_in, d.full):
                by = control_label(character, d.channel)
                raise BadDocument(f"The corrective {shape.label} has no way to go from where {by} brings it in to where it is full.")


def _goes(comes_in: float, full: float) -> bool:
    """Is there a ramp between two values?"""
    return abs(full - comes_in) >= LEAST_RAMP and max(abs(full), abs(comes_in)) <= FARTHEST


def _check_rides(character: Character) -> None:
    for binding in character.bindings:
        _check_ride(binding, character)


def _check_lids(character: Character) -> None:
    for pair in character.lids:
        for keys in (pair.line, *(k for f in (pair.follow_upper, pair.follow_lower) for k in (f.height, f.across, f.slide))):
            check_curve(keys, f"lids {pair.side}")
    if len({name for pair in character.lids for name in pair.names}) < 2 * len(character.lids):
        raise BadDocument("Two pairs of lids are on the same side.")


def _check_mouth(character: Character) -> None:
    for relief in character.reliefs:
        _check_relief(relief)
    if len(character.lips) > 1:
        raise BadDocument("The character has more than one pair of lips.")
    for mouth in character.lips:
        check_curve(mouth.zip, "seal of the lips")


def _check_seams(character: Character) -> None:
    for seam in character.seams:
        _check_seam(seam, character)


def _check_seam(seam: Seam, character: Character) -> None:
    if seam.measure in ("ride", "clear") and seam.solid is None:
        raise BadDocument(f"The seam {seam.name} does not say on which part {seam.probe} lies.")
    if seam.measure == "ride":
        sets = next(p.sets for p in character.parts if p.name == seam.probe)
        if seam.probe_set not in sets:
            raise BadDocument(f"The seam {seam.name} speaks of a set “{seam.probe_set or ''}” that is not there.")


def _check_mix(character: Character) -> None:
    needs = {n.control: {m.other for m in character.mix.needs if m.control == n.control} for n in character.mix.needs}
    try:
        TopologicalSorter(needs).prepare()
    except CycleError as error:
        label = {c.name: c.label for c in character.controls}
        raise BadDocument(f"Controls need one another in a ring: {', '.join(label.get(n, n) for n in error.args[1])}.") from None
    if len({(n.control, n.other) for n in character.mix.needs}) < len(character.mix.needs):
        raise BadDocument("It is said twice with what a control is used.")


def _check_intended(character: Character) -> None:
    for it in character.intended:
        if np.abs(it.places).max() > FARTHEST or max(it.sizes.values()) > FARTHEST:
            raise BadDocument("A fault that is called intended lies farther out, or is larger, than can be meant.")


def check_curve(keys: CurveKeys, where: str) -> None:
    """BadDocument where keys do not go upwards one after another, or there are too many."""
    if len(keys) > MOST_KEYS:
        raise BadDocument(f"A curve of the {where} has {len(keys)} keys; {MOST_KEYS} are the most.")
    if any(b.at - a.at < CLOSEST_KEYS for a, b in itertools.pairwise(keys)):
        raise BadDocument(f"The keys of a curve of the {where} do not stand one after another.")


def _check_relief(relief: Relief) -> None:
    where = f"relief {relief.name}"
    check_curve(relief.profile, where)
    if abs(relief.cm) > MOST_RELIEF:
        raise BadDocument(f"The {where} goes {relief.cm:.3g} cm; {MOST_RELIEF:g} are the most.")
    if relief.direction == "along" and (relief.way is None or not np.linalg.norm(relief.way) > 0):
        raise BadDocument(f"The {where} goes along the surface, but does not say which way.")
    if relief.line and (len(relief.line) < 2 or np.ptp(relief.line, axis=0).max() <= 0):
        raise BadDocument(f"The line of the {where} has no length.")


def _check_ride(binding: Binding, character: Character) -> None:
    if (binding.ride is not None) != (binding.carrier == "ride") or (binding.ride and binding.influences):
        raise BadDocument(f"The binding of {binding.part} is half a ride: that has roots, and no bones of its own.")
    if binding.ride is not None and (
        binding.ride.on == binding.part or any(b.part == binding.ride.on and b.ride for b in character.bindings)
    ):
        raise BadDocument(f"{binding.part} rides on {binding.ride.on}, which rides itself.")


def _check_bone(bone: Bone) -> None:
    if np.abs([bone.base, bone.tip]).max() > FARTHEST:
        raise BadDocument(f"The bone {bone.name} lies {np.abs([bone.base, bone.tip]).max():.3g} cm out; check the units of the file.")
    axes = np.array(bone.axes).reshape(3, 3)
    if np.abs(axes @ axes.T - np.eye(3)).max() > SQUARE or np.linalg.det(axes) < 0:
        raise BadDocument(f"The axes of the bone {bone.name} are not at right angles, of length one and right-handed.")
    for spans, most in ((bone.turn, MOST_TURN), (bone.move, FARTHEST)):
        if any(not -most <= low <= 0 <= high <= most for low, high in spans):
            raise BadDocument(f"The limits of the bone {bone.name} do not hold its rest, or go beyond {most:g}.")


CHECKS: dict[Callable[[Character], None], tuple[str, ...]] = {
    _check_bones: ("bones",),
    _check_rides: ("bindings",),
    _check_lids: ("lids",),
    _check_mouth: ("reliefs", "lips"),
    _check_controls: ("controls", "plan"),
    _check_shapes: ("shapes",),
    _check_seams: ("parts", "seams"),
    _check_mix: ("mix", "controls"),
    _check_intended: ("intended",),
}
