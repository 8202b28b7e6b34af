"""What brings a corrective in beside the mix that it was made for."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

from tightseam.deform.activation import compile_activations
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.lookup import shape as find_shape
from tightseam.document.model import Character
from tightseam.document.poses import away_from_rest, pose_values, shown_poses
from tightseam.mix.cell import Cell, Dialled
from tightseam.mix.ends import ends
from tightseam.mix.words import said_cell

FAINT = 0.02  # of it that nobody sees
MOST = 6


@dataclass(frozen=True)
class Woken:
    """Where a corrective comes in, in words, and how much of it."""

    moment: str
    amount: float


def woken(character: Character, store: ArrayStore, name: str) -> list[Woken]:
    """The most of a corrective in poses of the strip, in expressions alone and in pairs of them, but where nothing acts but what drives it:
    that is what it is for. Nothing of a shape that is none."""
    shape = find_shape(character, name)
    if shape.activation is None:
        return []
    evaluator, activation = Evaluator(character, store), compile_activations([shape.activation])
    meant = {d.channel for d in shape.activation.drivers}
    found = []
    for moment, values, controls in _moments(character):
        amount = float(activation.amounts(evaluator.skeleton, values, evaluator.rig.strengths(values))[0])
        if abs(amount) > FAINT and not controls <= meant:
            found.append(Woken(moment, amount))
    return sorted(found, key=lambda w: -abs(w.amount))[:MOST]


def _moments(character: Character) -> Iterator[tuple[str, dict[str, float], set[str]]]:
    """In words, all values, and what is away from rest."""
    for pose in shown_poses(character):
        values = pose_values(character, pose)
        yield pose.label, values, set(away_from_rest(character, values))
    known = {e.name: e for e in ends(character)}
    cells = [(name,) for name in known] + [p for p in combinations(known, 2) if known[p[0]].control != known[p[1]].control]
    for names in cells:
        cell = Cell(tuple(Dialled(n) for n in names))
        yield said_cell(cell, known), cell.values(character, known), {known[n].control for n in names}
