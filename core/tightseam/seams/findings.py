"""Findings: seams over their limits, with place, size, cause and a proposed repair."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from tightseam.deform.evaluator import Evaluator
from tightseam.deform.pull import lag_list, pull_list
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import bone as find_bone
from tightseam.document.lookup import held_by_lids
from tightseam.document.lookup import part as find_part
from tightseam.document.lookup import pose as find_pose
from tightseam.document.lookup import seam as find_seam
from tightseam.document.model import Character, Pose, Seam
from tightseam.document.poses import pose_values
from tightseam.findings.cause import Cause
from tightseam.findings.finding import Finding, Repair
from tightseam.seams.follow import expected_weights
from tightseam.seams.reading import Place, Reading

Kind = Literal["clash", "gape", "lag", "drift"]
NOTHING = 1e-6  # of a total
SAID = 0.05  # mm from which what moves a place is worth a word


def findings(character: Character, store: ArrayStore, evaluator: Evaluator, readings: Mapping[str, list[Reading]]) -> list[Finding]:
    """One finding a seam that is over its limit in any of the measured poses (name -> readings), worst first."""
    worst: dict[str, tuple[str, Reading]] = {}
    for pose, row in readings.items():
        for reading in row:
            if not reading.within and reading.excess > worst.get(reading.seam, (pose, Reading("")))[1].excess:
                worst[reading.seam] = (pose, reading)
    ordered = sorted(worst.values(), key=lambda item: -item[1].excess)
    return [_finding(character, store, evaluator, pose, reading) for pose, reading in ordered]


def _finding(character: Character, store: ArrayStore, evaluator: Evaluator, pose_name: str, reading: Reading) -> Finding:
    seam, pose = find_seam(character, reading.seam), find_pose(character, pose_name)
    values = pose_values(character, pose)
    assert reading.worst is not None
    at = reading.worst
    if reading.lag is not None:
        expected = expected_weights(seam, character, store)[at.vertex]
        causes = lag_list(evaluator, at.part, at.vertex, values, expected)
        return _lag(character, seam, pose, reading, at, causes)
    causes = pull_list(evaluator, at.part, at.vertex, values)
    if reading.drift is not None:
        return _drift(character, seam, pose, reading, at, causes)
    over = reading.overlap or 0.0
    clash = over / (seam.limits.overlap or float("inf")) >= (reading.gap or 0.0) / (reading.gap_limit or float("inf"))
    size = over if clash else reading.gap or 0.0
    kind: Kind = "clash" if clash else "gape"
    verb = "overlap" if clash else "gape"
    text = f"{size:.2f} mm in {pose.label}."
    if causes and causes[0].millimetres >= SAID:
        text += f" Moved most by {causes[0].label}, {causes[0].millimetres:.1f} mm."
    repairs = _as_the_scalp(character, seam) if seam.measure == "clear" else ()
    limit = seam.limits.overlap if clash else reading.gap_limit
    return _of_seam(kind, seam, pose, at, size, limit, f"{seam.label} {verb}", text, causes, repairs)


def _of_seam(
    kind: Kind,
    seam: Seam,
    pose: Pose,
    at: Place,
    size: float,
    limit: float | None,
    title: str,
    text: str,
    causes: list[Cause],
    repairs: tuple[Repair, ...],
) -> Finding:
    return Finding(
        kind,
        seam.name,
        title,
        text,
        size,
        limit=limit,
        part=at.part,
        vertices=(at.vertex,),
        point=at.point,
        pose=pose.name,
        moment=f"in {pose.label}",
        causes=tuple(causes),
        repairs=repairs,
    )


def _lag(character: Character, seam: Seam, pose: Pose, reading: Reading, at: Place, causes: list[Cause]) -> Finding:
    part, _, carrier = seam.label.partition(" · ")
    text = f"{reading.lag:.1f} mm behind in {pose.label}."
    if causes and causes[0].kind == "total":
        carried = sum(c.weight or 0 for c in causes)
        text += " No deforming bone carries it." if carried < NOTHING else f" Its weights add up to {carried:.2f}, not to 1."
    elif causes:
        text += f" {causes[0].label} carries {causes[0].weight or 0:.0%} of it and holds it back."
    repair = rightful_carrier(character, seam)
    verb = "stay" if _several(character, seam) else "stays"
    title = f"{part} {verb} behind the {carrier}"
    return _of_seam("lag", seam, pose, at, reading.lag or 0.0, seam.limits.lag, title, text, causes, (repair,))


def _drift(character: Character, seam: Seam, pose: Pose, reading: Reading, at: Place, causes: list[Cause]) -> Finding:
    part, _, skin = seam.label.partition(" · ")
    drift = reading.drift or 0.0
    verb = "leave" if _several(character, seam) else "leaves"
    text = f"A root is {drift:.1f} mm {'beside' if reading.aside else 'off'} its place on the {skin} in {pose.label}."
    if find_part(character, seam.probe).kind == "hair":
        repairs = _as_the_scalp(character, seam)
    else:
        repairs = () if _carried_along(character, seam) else (_riding(seam, part, skin),)
    limit = seam.limits.aside if reading.aside else seam.limits.drift
    return _of_seam("drift", seam, pose, at, drift, limit, f"{part} {verb} the {skin}", text, causes, repairs)


def _several(character: Character, seam: Seam) -> bool:
    """Is a part spoken of as several things?"""
    return find_part(character, seam.probe).kind in ("teeth upper", "teeth lower", "whiskers")


def _carried_along(character: Character, seam: Seam) -> bool:
    """Does a part ride already, or turn with the lids?"""
    riding = any(b.part == seam.probe and b.ride is not None for b in character.bindings)
    return riding or held_by_lids(character.lids, seam.probe) is not None


def _riding(seam: Seam, part: str, skin: str) -> Repair:
    return Repair(f"Let {part} ride on the {skin}", "binding.ride", {"part": seam.probe, "on": seam.solid, "by": "tuft"})


def _as_the_scalp(character: Character, seam: Seam) -> tuple[Repair, ...]:
    """Hair of the head carried by what it stands on, where one bone carries it all, or none; as tufts it would be torn."""
    bound = find_binding(character, seam.probe)
    if bound is not None and bound.carrier != "rigid":
        return ()
    part = seam.label.partition(" · ")[0]
    return (Repair(f"Carry {part} as what it stands on", "binding.weigh", {"part": seam.probe, "how": "heat"}),)


def rightful_carrier(character: Character, seam: Seam) -> Repair:
    """The part of a follow seam given to what should carry it."""
    part, rightful = seam.label.partition(" · ")[0], " and ".join(find_bone(character, name).label for name in seam.expected)
    rigid = len(seam.expected) == 1
    params = {"part": seam.probe, "carrier": "rigid" if rigid else "chain", "bones": list(seam.expected)}
    return Repair(f"Bind {part} to {rightful}", "binding.set_carrier", params)
