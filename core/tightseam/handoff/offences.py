"""What of a rig offends the limits of who is to receive it: findings, with all their vertices and an edit where one mends them."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np
from scipy.spatial.transform import Rotation

from tightseam.binding.checks import unsound_weights
from tightseam.binding.finding import count_said
from tightseam.document.arrays import ArrayStore
from tightseam.document.frames import local_frames, parent_numbers, rest_frames
from tightseam.document.joint_names import joint_names
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.make import dense_weights
from tightseam.document.model import Character, Part
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Finding, repair
from tightseam.handoff.fitting_names import PLAIN, name_repair
from tightseam.handoff.profile import Profile
from tightseam.shapes.name_list import NameList, WantedShape, matched

TURNED = 0.5  # degrees between two rests that nobody sees
MOST_NAMED = 5
HEAD = "head"
STANDS = 0.5  # mm that nobody sees


def offences(character: Character, store: ArrayStore, profile: Profile) -> list[Finding]:
    """All that a receiver would drop, refuse or set in its own way: first what every one refuses, then in the order of its profile."""
    found = [f for part in character.parts for f in _influences(character, store, part, profile)]
    return [
        *unsound_weights(character, store),
        *found,
        *_counts(character, profile),
        *_names(character, profile),
        *_resets(character, profile),
        *_height(character, profile),
        *_unheard(character, profile),
    ]


def _influences(character: Character, store: ArrayStore, part: Part, profile: Profile) -> Iterator[Finding]:
    bound, most = find_binding(character, part.name), profile.influences
    if bound is None or most is None:
        return
    names = [i.bone for i in bound.influences]
    carrying = (dense_weights(store, bound.influences, names, part.vertex_count) > 0).sum(axis=1)
    many = np.flatnonzero(carrying > most)
    if not len(many):
        return
    rows = many.tolist()
    title = f"Too many influences on {part_label(part.name)}"
    text = f"{count_said(many)} up to {carrying.max()} bones; {profile.label} takes {most} and drops the rest."
    mended = repair("weights.cap", {"part": part.name, "vertices": rows, "most": most}, f"Leave the {most} largest")
    yield Finding("influences", part.name, title, text, float(len(rows)), "vertices", part=part.name, vertices=tuple(rows), repairs=mended)


def _counts(character: Character, profile: Profile) -> Iterator[Finding]:
    for kind, count, most in (
        ("bones", sum(b.role == "deform" for b in character.bones), profile.bones),
        ("shapes", len(character.shapes), profile.shapes),
        ("vertices", sum(p.vertex_count for p in character.parts), profile.vertices),
    ):
        if most is not None and count > most:
            text = f"There are {count:,}; {profile.label} takes {most:,}."
            yield Finding(kind, kind, f"Too many {kind}", text, count / most, "times", 1.0)


def _names(character: Character, profile: Profile) -> Iterator[Finding]:
    named = [("bone", b.export or b.name) for b in character.bones] + [("shape", s.name) for s in character.shapes]
    named += [("part", p.name) for p in character.parts]
    for kind in ("part", "bone", "shape"):
        names = [name for of, name in named if of == kind]
        odd = [n for n in names if profile.plain_names and not PLAIN.fullmatch(n)]
        if odd:
            text = f"{profile.label} takes the letters a to z, digits and underscores alone: {_listed(odd)}."
            mended = name_repair(character, kind, profile)
            yield Finding("plain", kind, f"Names of {kind}s that are not plain", text, len(odd) / len(names), "share", repairs=mended)
        long = [n for n in names if profile.name_length is not None and len(n) > profile.name_length]
        if long:
            text = f"{profile.label} takes {profile.name_length} letters: {_listed(long)}."
            mended = name_repair(character, kind, profile)
            yield Finding("long", kind, f"Names of {kind}s that are too long", text, len(long) / len(names), "share", repairs=mended)


def _resets(character: Character, profile: Profile) -> Iterator[Finding]:
    """Bones that the receiver sets to its own rest: all that hangs on them jumps by the difference."""
    bones = character.bones
    rests = local_frames(rest_frames(bones), parent_numbers(bones))[:, :3, :3]
    called = joint_names(character)
    for k, bone in enumerate(bones):
        reset = profile.resets.get(called[bone.name])
        if reset is not None:
            theirs = Rotation.from_euler("XYZ", reset, degrees=True)
            off = float(np.degrees((theirs.inv() * Rotation.from_matrix(rests[k])).magnitude()))
            if off > TURNED:
                text = f"{profile.label} sets {bone.label} to its own rest, {off:.1f}° from ours: all that it carries jumps by that."
                yield Finding("rest", bone.name, f"{bone.label} rests in another way", text, off, "°", TURNED)


def _height(character: Character, profile: Profile) -> Iterator[Finding]:
    head = next((b for b in character.bones if b.name == HEAD), None)
    if head is None or profile.head_height is None:
        return
    off = abs(head.base[1] - profile.head_height) * CM_TO_MM
    if off > STANDS:
        text = (
            f"{profile.label} has its head {profile.head_height:g} cm above the ground; here {head.label} begins at {head.base[1]:.1f} cm."
        )
        moved = repair("character.stand_at", {"bone": HEAD, "height": profile.head_height}, "Move all of it there")
        yield Finding("height", HEAD, "It stands at another height", text, off, "mm", STANDS, repairs=moved)


def _unheard(character: Character, profile: Profile) -> Iterator[Finding]:
    if not profile.listens:
        return
    match = matched([s.name for s in character.shapes], NameList(profile.name, tuple(WantedShape(n) for n in profile.listens)))
    for ours, theirs in match.near:
        text = f"{profile.label} does not listen to “{ours}”; it does to “{theirs}”."
        renamed = repair("shape.rename", {"names": {ours: theirs}}, f"Call it {theirs}")
        yield Finding("unheard", ours, f"{ours} is not heard", text, 1.0, "times", repairs=renamed)
    for ours in match.extra:
        yield Finding("unheard", ours, f"{ours} is not heard", f"{profile.label} does not listen to “{ours}”.", 1.0, "times")


def _listed(names: list[str]) -> str:
    shown = ", ".join(f"“{n[:60]}”" for n in names[:MOST_NAMED])
    return f"{shown} and {len(names) - MOST_NAMED} more" if len(names) > MOST_NAMED else shown
