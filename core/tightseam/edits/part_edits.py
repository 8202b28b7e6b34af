"""Edits of what a part is: name, kind, transform, pivot, and one part made into several."""

from __future__ import annotations

from dataclasses import replace
from typing import Literal

import numpy as np
from pydantic import Field
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components
from scipy.spatial import cKDTree

from tightseam.checkin.kinds import guess_kinds
from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding, part, polygons
from tightseam.document.make import make_part
from tightseam.document.model import Character, Part, PartKind
from tightseam.document.remesh import with_part
from tightseam.document.removal import without
from tightseam.document.rename import renamed
from tightseam.document.rescale import rescaled
from tightseam.document.units import UNITS
from tightseam.edits.base import Edit
from tightseam.geometry.adjacency import islands
from tightseam.geometry.sphere import fit_sphere
from tightseam.geometry.types import Ints
from tightseam.head.found import Piece, island_of

TOUCHING = 0.05  # cm within which islands are taken to belong together
TUFTS_APART = 0.8  # cm, the same for islands of a kind that comes in tufts
IN_TUFTS = ("brow", "lash", "hair", "whiskers", "other")


class Rename(Edit):
    """Give a part another name, wherever the character speaks of it."""

    part: str
    name: str = Field(min_length=1, max_length=80, pattern=r"^\S(.*\S)?$")

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part(character, self.part)
        if any(p.name == self.name for p in character.parts):
            raise BadRequest(f"There is a part called “{self.name}” already.")
        return renamed(character, "part", {self.part: self.name})

    def describe(self, character: Character) -> str:
        return f"Renamed {part_label(self.part)} to {self.name}"


class SetKind(Edit):
    """Say what a part is."""

    part: str
    kind: PartKind

    def apply(self, character: Character, store: ArrayStore) -> Character:
        old = part(character, self.part)
        sure = old.delivered and replace(old.delivered, sure=1.0)
        return with_part(character, old, replace(old, kind=self.kind, delivered=sure))

    def describe(self, character: Character) -> str:
        return f"Said that {part_label(self.part)} is {self.kind}"


class RemovePart(Edit):
    """Take a part out, with the bindings, deltas and seams that need it."""

    part: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        part(character, self.part)
        if len(character.parts) == 1:
            raise BadRequest("This is the only part; a character without parts is none.")
        return without(character, "part", {self.part})

    def describe(self, character: Character) -> str:
        return f"Took {part_label(self.part)} out"


class BakeTransform(Edit):
    """Let the points stand where they are and forget the transform that put them there."""

    part: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        old = part(character, self.part)
        if old.transform is None:
            raise BadRequest(f"{part_label(old.name)} has no hidden transform.")
        return with_part(character, old, replace(old, transform=None))

    def describe(self, character: Character) -> str:
        return f"Baked the transform of {part_label(self.part)}"


class SetUnits(Edit):
    """Say in which unit the file was made; every length follows."""

    unit: Literal["mm", "cm", "dm", "m", "inch"]

    def apply(self, character: Character, store: ArrayStore) -> Character:
        now = character.checkin.unit_cm or 1.0
        wanted = UNITS[self.unit]
        if abs(now - wanted) < 1e-12:
            raise BadRequest(f"One unit of the file is {wanted:g} cm already.")
        changed = rescaled(character, store, wanted / now)
        return replace(changed, checkin=replace(character.checkin, unit_cm=wanted))

    def describe(self, character: Character) -> str:
        return f"Set the unit of the file to {self.unit}"


class SplitIslands(Edit):
    """Make parts of the islands of one mesh; islands that touch stay together. Vertices keep their order within each part."""

    takes_long = True

    part: str

    def apply(self, character: Character, store: ArrayStore) -> Character:
        old = part(character, self.part)
        if binding(character, old.name) is not None or any(d.part == old.name for s in character.shapes for d in s.deltas):
            raise BadRequest(f"{part_label(old.name)} is bound or has shapes already. Split it before it is rigged.")
        whole = Piece(old, np.arange(old.vertex_count), np.asarray(store.get(old.points)), polygons(store, old))
        group = _groups(whole)
        if group.max(initial=0) == 0:
            raise BadRequest(f"{part_label(old.name)} is one piece; there is nothing to split.")
        group = _by_kind(whole, group)
        pieces = [island_of(whole, group == g) for g in range(int(group.max()) + 1)]
        guessed = guess_kinds({str(k): p.points for k, p in enumerate(pieces)})
        taken = {p.name for p in character.parts if p is not old}
        made = [_part(store, old, piece, *guessed[str(k)], taken) for k, piece in enumerate(pieces)]
        place = character.parts.index(old)
        return replace(character, parts=(*character.parts[:place], *made, *character.parts[place + 1 :]))

    def describe(self, character: Character) -> str:
        return f"Split {part_label(self.part)} by islands"


def _groups(whole: Piece) -> Ints:
    """Number of the group of each vertex: islands that touch are one, but the largest and the balls stand alone."""
    island = islands(whole.polygons, len(whole.points))
    sizes = np.bincount(island)
    reach = np.array([np.linalg.norm(np.ptp(whole.points[island == k], axis=0)) if sizes[k] > 2 else 0.0 for k in range(len(sizes))])
    alone = {int(reach.argmax())} | {k for k in range(len(sizes)) if sizes[k] >= 26 and _is_ball(whole, island == k)}
    joint = ~np.isin(island, list(alone))
    index = np.flatnonzero(joint)
    pairs = cKDTree(whole.points[index]).query_pairs(TOUCHING, output_type="ndarray") if len(index) else np.zeros((0, 2), int)
    a, b = island[index[pairs[:, 0]]], island[index[pairs[:, 1]]]
    graph = coo_matrix((np.ones(len(a)), (a, b)), shape=(len(sizes),) * 2)
    return np.asarray(connected_components(graph, directed=False)[1][island])


def _by_kind(whole: Piece, group: Ints) -> Ints:
    """Groups of one kind on one side made one: a brow or a head of hair comes in many tufts."""
    pieces = [island_of(whole, group == g) for g in range(int(group.max()) + 1)]
    guessed = guess_kinds({str(k): p.points for k, p in enumerate(pieces)})
    links: list[tuple[int, int]] = []
    for a, one in enumerate(pieces):
        for b in range(a):
            if guessed[str(a)][0] == guessed[str(b)][0] and guessed[str(a)][0] in IN_TUFTS:
                near = cKDTree(one.points).query(pieces[b].points, distance_upper_bound=TUFTS_APART)[0].min()
                if np.isfinite(near):
                    links.append((a, b))
    rows = np.array(links, int).reshape(-1, 2)
    graph = coo_matrix((np.ones(len(rows)), (rows[:, 0], rows[:, 1])), shape=(len(pieces),) * 2)
    return np.asarray(connected_components(graph, directed=False)[1][group])


def _is_ball(whole: Piece, chosen: np.ndarray) -> bool:
    centre, radius = fit_sphere(whole.points[chosen], rounds=4)
    miss = np.abs(np.linalg.norm(whole.points[chosen] - centre, axis=1) - radius)
    return bool(np.median(miss) < 0.03 * radius and np.ptp(whole.points[chosen], axis=0).min() > 1.4 * radius)


def _part(store: ArrayStore, old: Part, piece: Piece, kind: PartKind, sure: float, taken: set[str]) -> Part:
    side = "" if kind not in ("eye", "brow", "lash") else "_L" if piece.points[:, 0].mean() > 0 else "_R"
    name = free_name(kind.replace(" ", "_") + side, taken)
    taken.add(name)
    colours = None if old.colours is None else np.asarray(store.get(old.colours))[piece.vertices]
    made = make_part(store, name, kind, piece.points, piece.polygons, colours)
    source = np.arange(old.vertex_count) if old.source is None else np.asarray(store.get(old.source))
    delivered = old.delivered and replace(old.delivered, sure=sure)
    return replace(
        made, delivered=delivered, source=store.put(source[piece.vertices].astype(np.int32)), transform=old.transform, pivot=None
    )
