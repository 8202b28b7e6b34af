"""What is wrong with weights: findings with the vertices, the bone to blame, and an edit that repairs them."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from tightseam.binding.automatic import OWN_PARTS
from tightseam.binding.carriers import made_bone, usual_carrier
from tightseam.binding.face import face_bones
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_of
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.lookup import polygons
from tightseam.document.model import Bone, Character, Part, PartKind
from tightseam.geometry.adjacency import neighbours
from tightseam.geometry.types import Bools, Floats, Ints
from tightseam.weights.patch import Patch
from tightseam.weights.rows import MOST_RECEIVED

RIGID: dict[PartKind, str] = {"eye": "its eye bone", "teeth upper": "the skull", "teeth lower": "the jaw"}
OFF = 1e-3  # a total may be from 1
HOME = 0.02  # weight from where a bone counts as being somewhere
NOTABLE = 0.05  # weight from where a stray patch matters
ROUGH = 0.42  # of its weight that a vertex may differ from the mean of its neighbours; corners of a mouth come to 0.37
ROUGH_FACE = 0.6  # the same for the small bones of the face, which hand over within few vertices


@dataclass(frozen=True)
class WeightFinding:
    """What is wrong with the weights of a part. `vertices` (sorted) are concerned; `edit` with `params` would repair it."""

    check: str
    part: str
    bone: str | None
    title: str
    text: str
    vertices: tuple[int, ...]
    edit: str | None = None
    params: dict[str, Any] = field(default_factory=dict)


def weight_findings(character: Character, store: ArrayStore) -> list[WeightFinding]:
    """All findings of all parts, in the order of the parts; none without bones."""
    if not character.bones:
        return []
    return [finding for part in character.parts for finding in _of_part(character, store, part)]


def _of_part(character: Character, store: ArrayStore, part: Part) -> Iterator[WeightFinding]:
    bound = find_binding(character, part.name)
    label = part_label(part.name)
    if bound is None or not bound.influences:
        bone = _rightful(character, part)
        repair = _carrier(part, bone)
        said = "Nothing carries it: it stays where it is while the head moves."
        yield WeightFinding("idle", part.name, None, f"{label} is idle", said, (), *repair)
        return
    patch = Patch(character, store, part.name, range(part.vertex_count), [])
    rows = patch.rows * [b.role == "deform" for b in character.bones]
    yield from _mixed(character, part, rows, label)
    yield from _off_chain(character, part, rows, label)
    if part.kind not in RIGID:
        yield from _strays(character, store, part, rows, label)
    yield from _totals(part, rows, label)
    many = np.flatnonzero((rows > 0).sum(axis=1) > MOST_RECEIVED)
    if len(many):
        said = f"{_count(many)} more than {MOST_RECEIVED} influences; receivers drop the rest."
        yield _finding("too_many", part, None, f"Too many influences on {label}", said, many, "weights.cap", most=MOST_RECEIVED)


def _mixed(character: Character, part: Part, rows: Floats, label: str) -> Iterator[WeightFinding]:
    """Parts that are hard are carried by one bone alone."""
    if part.kind not in RIGID:
        return
    shares = rows.sum(axis=0) / max(float(rows.sum()), 1e-12)
    main = _rightful(character, part) or character.bones[int(shares.argmax())]
    others = [k for k in np.argsort(-shares) if shares[k] > 1e-6 and character.bones[k].name != main.name]
    if not others:
        return
    guilty = character.bones[int(others[0])]
    touched = np.flatnonzero(rows[:, others].sum(axis=1) > 1e-6)
    said = f"{guilty.label} carries {shares[others[0]]:.0%} of it. It is hard, and belongs to {RIGID[part.kind]} alone."
    yield WeightFinding(
        "mixed", part.name, guilty.name, f"{label} is carried by {guilty.label}", said, tuple(touched.tolist()), *_carrier(part, main)
    )


def _off_chain(character: Character, part: Part, rows: Floats, label: str) -> Iterator[WeightFinding]:
    """A tongue is carried along its own bones."""
    chain = [b.name for b in chain_of(character.bones, "tongue")]
    if part.kind != "tongue" or not chain:
        return
    others = [k for k, b in enumerate(character.bones) if b.name not in chain]
    foreign = rows[:, others].sum(axis=1)
    touched = np.flatnonzero(foreign > OFF)
    if len(touched):
        guilty = character.bones[others[int(rows[:, others].sum(axis=0).argmax())]]
        said = f"{guilty.label} carries {foreign.mean():.0%} of it, beside its own bones."
        repair = {"part": part.name, "carrier": "chain" if len(chain) > 1 else "rigid", "bones": chain}
        title = f"{label} is carried by {guilty.label}"
        yield WeightFinding("mixed", part.name, guilty.name, title, said, tuple(touched.tolist()), "binding.set_carrier", repair)


def _strays(character: Character, store: ArrayStore, part: Part, rows: Floats, label: str) -> Iterator[WeightFinding]:
    """Weight of a bone away from its home, which on each island is the patch where it has most; and single vertices out of line with
    their neighbours."""
    beside = neighbours(polygons(store, part), part.vertex_count)
    island = connected_components(beside, directed=False)[1]
    told = np.zeros(part.vertex_count, bool)
    for k, bone in enumerate(character.bones):
        # what the bones of the face carry of a head or a jaw still hangs together with the rest of it
        through = rows[:, k] + rows[:, face_bones(character.bones, bone.name)].sum(axis=1)
        for stray in _away_from_home(beside, island, through > HOME, rows[:, k], part.kind == "skin" and bone.region in OWN_PARTS):
            most = float(rows[stray, k].max())
            if most >= NOTABLE:
                told[stray] = True
                said = f"{bone.label} pulls at {_number(stray)} of {label}, up to {most:.0%}, away from where it belongs."
                yield _finding("stray", part, bone.name, f"{bone.label} strays", said, stray, "weights.mend")
    sound = ~told & (np.abs(rows.sum(axis=1) - 1) <= OFF)  # what is told already makes no neighbour jump
    jumps = np.flatnonzero(_jumping(beside, rows, sound, ROUGH_FACE) | _jumping(beside, _by_trunk(character, rows), sound, ROUGH))
    if len(jumps):
        guilty = character.bones[int(rows[jumps].sum(axis=0).argmax())]
        said = f"{_count(jumps)} weights that jump against all neighbours, most of them {guilty.label}."
        yield _finding("jump", part, guilty.name, f"Weights jump on {label}", said, jumps, "weights.mend")


def _jumping(beside: csr_matrix, rows: Floats, sound: Bools, rough: float) -> Bools:
    """Which `sound` vertices (N,) differ by more than `rough` from the mean of their neighbours, at least half of which are sound."""
    around = beside @ sound.astype(float)
    mean = (beside @ (rows * sound[:, None])) / np.maximum(around, 1)[:, None]
    all_around = np.asarray(beside.sum(axis=1)).ravel()
    return np.asarray((np.abs(rows - mean).sum(axis=1) / 2 > rough) & sound & (2 * around >= all_around) & (all_around > 0))


def _by_trunk(character: Character, rows: Floats) -> Floats:
    """Weights (N, B) with those of the bones of the face given to the head or jaw that they hang on."""
    rows = rows.copy()
    for k, bone in enumerate(character.bones):
        face = face_bones(character.bones, bone.name)
        rows[:, k] += rows[:, face].sum(axis=1)
        rows[:, face] = 0
    return rows


def _away_from_home(beside: csr_matrix, island: Ints, reached: Bools, weights: Floats, homeless: bool) -> Iterator[Ints]:
    """Where a bone has weight in the patches of `reached` (N,) that are not the largest, by weight, on their island; in all of them
    where a bone has no home here."""
    own = np.flatnonzero(reached)
    if not len(own):
        return
    _, patch = connected_components(beside[own][:, own], directed=False)
    mass = np.bincount(patch, weights[own])
    where = np.zeros(len(mass), int)
    where[patch] = island[own]
    homes = set() if homeless else {int(np.flatnonzero(where == n)[mass[where == n].argmax()]) for n in np.unique(where)}
    for number in range(len(mass)):
        stray = own[(patch == number) & (weights[own] > HOME)]
        if number not in homes and len(stray):
            yield stray


def _totals(part: Part, rows: Floats, label: str) -> Iterator[WeightFinding]:
    total = rows.sum(axis=1)
    bare = np.flatnonzero(total < 1e-6)
    if len(bare):
        said = f"{_count(bare)} no weight at all and stay where they are."
        yield _finding("unweighted", part, None, f"Unweighted vertices on {label}", said, bare, "weights.mend")
    off = np.flatnonzero((np.abs(total - 1) > OFF) & (total >= 1e-6))
    if len(off):
        said = f"{_count(off)} totals from {total[off].min():.2f} to {total[off].max():.2f}: they shrink or swell as the head moves."
        yield _finding("total", part, None, f"Totals are not 1 on {label}", said, off, "weights.normalise")


def _finding(check: str, part: Part, bone: str | None, title: str, text: str, vertices: Ints, edit: str, **more: object) -> WeightFinding:
    picked = vertices.tolist()
    return WeightFinding(check, part.name, bone, title, text, tuple(picked), edit, {"part": part.name, "vertices": picked, **more})


def _number(vertices: Ints) -> str:
    return "1 vertex" if len(vertices) == 1 else f"{len(vertices)} vertices"


def _count(vertices: Ints) -> str:
    return f"{_number(vertices)} {'has' if len(vertices) == 1 else 'have'}"


def _rightful(character: Character, part: Part) -> Bone | None:
    """The bone that should carry a part of that kind, where it is there."""
    wanted = usual_carrier(part)
    return made_bone(character.bones, wanted) if wanted else None


def _carrier(part: Part, bone: Bone | None) -> tuple[str | None, dict[str, Any]]:
    if bone is None:
        return None, {}
    return "binding.set_carrier", {"part": part.name, "carrier": "rigid", "bones": [bone.name]}
