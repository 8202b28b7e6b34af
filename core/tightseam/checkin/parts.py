"""Checks of what came: parts named, missing, double, unsure; transforms that hid in the file; size."""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from tightseam.checkin.check import Check, Verdict, place
from tightseam.checkin.kinds import is_generic
from tightseam.checkin.subject import Subject
from tightseam.document.labels import part_label
from tightseam.document.model import Part, PartKind
from tightseam.document.units import UNITS
from tightseam.findings.finding import Repair
from tightseam.geometry.adjacency import islands
from tightseam.head.found import Piece
from tightseam.landmarks.guides import crown_and_chin

NEEDED: tuple[tuple[PartKind, int, Verdict], ...] = (
    ("skin", 1, "fault"), ("eye", 2, "fault"), ("teeth upper", 1, "look"), ("teeth lower", 1, "look"), ("tongue", 1, "look"),
)  # fmt: skip
UNSURE = 0.7
SAME = 1e-4  # cm within which two parts lie on one another
STRAIGHT = 1e-6


def part_checks(subject: Subject) -> Iterator[Check]:
    parts = subject.character.parts
    yield _missing(subject)
    unsure = [p for p in parts if p.delivered is not None and p.delivered.sure < UNSURE]
    yield Check(
        "parts_recognised", "Parts recognised", "parts", "look" if unsure else "fine",
        f"unsure: {_names(unsure)}" if unsure else f"all {len(parts)}",
        "Seams, carriers and checks follow from what a part is.",
        "Look at the kinds that were guessed and set them.",
    )  # fmt: skip
    generic = [p for p in parts if is_generic(p.name)]
    yield Check(
        "parts_named", "Parts named", "parts", "look" if generic else "fine",
        f"no telling name: {_names(generic)}" if generic else f"all {len(parts)}",
        "Names lead from the modeller's file to the rig and back; a number says nothing and changes with the next export.",
        "Rename them here, and ask for names.",
    )  # fmt: skip
    yield _double(subject)
    yield _transforms(subject)
    yield _size(subject)


def _missing(subject: Subject) -> Check:
    have = [p.kind for p in subject.character.parts]
    lacking = [(kind, n - have.count(kind), verdict) for kind, n, verdict in NEEDED if have.count(kind) < n]
    verdict: Verdict = "fault" if any(v == "fault" for _, _, v in lacking) else "look" if lacking else "fine"
    mixed = _mixed(subject) if lacking else None
    said = "missing: " + ", ".join(f"{n} × {kind}" if n > 1 else kind for kind, n, _ in lacking) if lacking else "all there"
    what = (
        f"{part_label(mixed.name)} holds several islands: split it into parts."
        if mixed
        else "Ask for the missing parts, or set the kind of what came."
    )
    repairs = (Repair(f"Split {part_label(mixed.name)} by islands", "part.split_islands", {"part": mixed.name}),) if mixed else ()
    return Check(
        "parts_missing", "Parts there", "parts", verdict, said,
        "Lids are measured against eyeballs, lips against teeth. What is not there cannot be bound or measured.", what, repairs=repairs,
    )  # fmt: skip


def _mixed(subject: Subject) -> Part | None:
    """The part that seems to hold the others: a skin of several islands."""
    for piece in subject.pieces:
        if piece.part.kind in ("skin", "other", "body") and len(np.unique(islands(piece.polygons, len(piece.points)))) > 2:
            return piece.part
    return None


def _double(subject: Subject) -> Check:
    doubles = _doubles(subject.pieces)
    places = tuple(spot for _, b in doubles for spot in place(b.part.name, b.vertices))
    return Check(
        "parts_double", "Parts only once", "parts", "fault" if doubles else "fine",
        "; ".join(f"{part_label(b.part.name)} lies on {part_label(a.part.name)}" for a, b in doubles) or "none twice",
        "Two meshes on one another flicker, and one of the two is always forgotten in the rig.",
        "Ask which is meant, and take the other out.", places=places,
        repairs=tuple(Repair(f"Take {part_label(b.part.name)} out", "part.remove", {"part": b.part.name}) for _, b in doubles),
    )  # fmt: skip


def _doubles(pieces: list[Piece]) -> list[tuple[Piece, Piece]]:
    """Each part that lies on an earlier one, with the first it lies on."""
    doubles = []
    heads = np.array([p.points[0] for p in pieces])
    counts = np.array([len(p.points) for p in pieces])
    free = np.ones(len(pieces), bool)
    for k, a in enumerate(pieces):
        near = free[k + 1 :] & (counts[k + 1 :] == counts[k]) & (np.abs(heads[k + 1 :] - heads[k]).max(axis=1) < SAME)
        for j in k + 1 + np.flatnonzero(near):
            if np.abs(a.points - pieces[j].points).max() < SAME:
                doubles.append((a, pieces[j]))
                free[j] = False
    return doubles


def _transforms(subject: Subject) -> Check:
    hidden = [
        p
        for p in subject.character.parts
        if p.transform is not None and np.abs(np.reshape(p.transform, (3, 3)) - np.eye(3)).max() > STRAIGHT
    ]
    said = "; ".join(f"{part_label(p.name)}: {transform_said(p)}" for p in hidden) or "none"
    places = tuple(spot for p in hidden for spot in place(p.name, np.arange(p.vertex_count)))
    return Check(
        "transforms", "Hidden transforms", "parts", "fault" if hidden else "fine", said,
        "The points stand where a transform in the file puts them. Shapes that come later without it are off by that scale or turn.",
        "Bake it: the points stay, the transform goes, and the modeller gets the mesh as it stands.",
        places=places,
        repairs=tuple(Repair(f"Bake the transform of {part_label(p.name)}", "part.bake_transform", {"part": p.name}) for p in hidden),
    )  # fmt: skip


def transform_said(part: Part) -> str:
    """Scale and turn of a hidden transform, in words."""
    matrix = np.reshape(part.transform or np.eye(3).ravel(), (3, 3))
    u, scale, vt = np.linalg.svd(matrix)
    turn = np.degrees(np.arccos(np.clip((np.trace(u @ vt) - 1) / 2, -1, 1)))
    words = []
    if np.abs(scale - 1).max() > STRAIGHT:
        words.append(
            "scale "
            + (f"{scale.mean():.3f}" if np.ptp(scale) < 1e-4 else " × ".join(f"{np.linalg.norm(matrix[:, k]):.3f}" for k in range(3)))
        )
    if np.linalg.det(matrix) < 0:
        words.append("mirrored")
    elif turn > 1e-3:
        words.append(f"turned by {turn:.1f}°")
    return ", ".join(words) or "sheared"


def _size(subject: Subject) -> Check:
    height = head_height(subject)
    least, most = subject.limits["head_least"], subject.limits["head_most"]
    beyond = height is not None and not least <= height <= most
    unit = subject.character.checkin.unit_cm
    said = (
        "no skin to measure"
        if height is None
        else f"{height:.1f} cm from chin to crown" + (f", one unit of the file is {unit:g} cm" if unit else "")
    )
    return Check(
        "size", "Size of the head", "parts", "fault" if beyond else "fine", said,
        "Limits are in millimetres. A head in the wrong unit passes or fails every one of them.",
        "Set the units of the file.", ("head_least", "head_most"), repairs=_units(subject, height, least, most) if beyond else (),
    )  # fmt: skip


def _units(subject: Subject, height: float | None, least: float, most: float) -> tuple[Repair, ...]:
    """Units in which the head would have a likely size."""
    now = subject.character.checkin.unit_cm or 1.0
    fitting = [name for name, size in UNITS.items() if height and least <= height * size / now <= most]
    return tuple(Repair(f"The file is in {name}", "character.set_units", {"unit": name}) for name in fitting)


def head_height(subject: Subject) -> float | None:
    """Chin to crown in cm; None without a skin."""
    if subject.frame is None:
        return None
    crown, chin = crown_and_chin(subject)
    return float(crown[1] - chin[1])


def _names(parts: list[Part]) -> str:
    return ", ".join(part_label(p.name) for p in parts[:6]) + (" …" if len(parts) > 6 else "")
