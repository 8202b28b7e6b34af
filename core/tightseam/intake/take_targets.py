"""Taking in delivered targets as shapes of a character: one file a shape, or one with many morph targets."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from pathlib import PurePosixPath

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest, TightSeamError
from tightseam.document.labels import part_label
from tightseam.document.lookup import polygons
from tightseam.document.model import Character, Part, Shape
from tightseam.document.progress import part_of_it, tell
from tightseam.exchange.archive import unpacked
from tightseam.exchange.delivery import Mesh
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats
from tightseam.intake.take_in import MESH_FILES, read_delivery
from tightseam.shapes.from_mesh import target_of
from tightseam.shapes.offsets import Offsets, made_shape


@dataclass(frozen=True)
class TargetReport:
    """What became of one file: the shapes it gave, what was found and done on the way, and why nothing came of it where nothing did."""

    file: str
    shapes: tuple[str, ...]
    notes: tuple[str, ...]
    refused: str | None = None


def take_targets(character: Character, files: Mapping[str, bytes], store: ArrayStore) -> tuple[list[Shape], list[TargetReport]]:
    """Shapes of the character's parts from files by their path (OBJ, glTF, USD, zips of them). A file that does not fit is reported, and
    the others are taken all the same. BadRequest where there is nothing to read."""
    every = unpacked(files)
    wanted = sorted(name for name in every if PurePosixPath(name).suffix.lower() in MESH_FILES)
    if not wanted:
        raise BadRequest("There is no target in these files. Targets come as OBJ, glTF, GLB or USD, one shape a file or many in one.")
    shapes: dict[str, Shape] = {}
    reports = []
    for k, name in enumerate(wanted):
        tell(k / len(wanted), f"Fitting {PurePosixPath(name).name}")
        try:
            with part_of_it(k / len(wanted), (k + 1) / len(wanted)):
                found, notes = _read(character, store, name, every)
        except TightSeamError as error:
            reports.append(TargetReport(name, (), (), str(error)))
            continue
        shapes |= {n: made_shape(store, n, n, offsets) for n, offsets in found.items()}
        reports.append(TargetReport(name, tuple(found), tuple(notes)))
    return list(shapes.values()), reports


def _read(character: Character, store: ArrayStore, name: str, files: Mapping[str, bytes]) -> tuple[dict[str, Offsets], list[str]]:
    """Offsets by shape and part."""
    delivery = read_delivery(name, files)
    unit = delivery.unit_cm or character.checkin.unit_cm or 1.0
    found: dict[str, Offsets] = {}
    notes: list[str] = []
    title = PurePosixPath(name).stem
    for mesh in delivery.meshes:
        part = _part_of(character, mesh, len(delivery.meshes) == 1)
        if part is None:
            notes.append(f"“{mesh.name}” fits no part and was left out.")
            continue
        for shape, points in _targets(mesh, title):
            rest, said = np.asarray(store.get(part.points)), f"{title}, {part_label(part.name)}"
            placed, faces = _in_our_order(part, mesh, unit * points, rest, store)
            target = target_of(rest, polygons(store, part), placed, faces, said)
            found.setdefault(shape, {})[part.name] = target.offsets
            notes += [f"{part_label(part.name)}: {note}" for note in target.notes]
    if not found:
        raise BadRequest(f"{title} fits no part: {', '.join(f'“{m.name}” has {len(m.points):,} vertices' for m in delivery.meshes)}.")
    return found, notes


def _part_of(character: Character, mesh: Mesh, alone: bool) -> Part | None:
    """The part a mesh is a target of: by its name, else by its vertex count where only one part has that many."""
    names = {p.name: p for p in character.parts} | {p.delivered.name: p for p in character.parts if p.delivered}
    if mesh.name in names:
        return names[mesh.name]
    counts = [p for p in character.parts if len(mesh.points) in (p.vertex_count, p.delivered and p.delivered.vertex_count)]
    if len(counts) == 1:
        return counts[0]
    skins = [p for p in character.parts if p.kind == "skin"]
    return skins[0] if alone and skins else None


def _targets(mesh: Mesh, title: str) -> Iterator[tuple[str, Floats]]:
    """Names and points (N, 3) of the shapes in a mesh: its morph targets, or the mesh itself."""
    if not mesh.targets:
        yield title, mesh.points
    for name, offsets in mesh.targets.items():
        yield name, mesh.points + offsets


def _in_our_order(part: Part, mesh: Mesh, points: Floats, rest: Floats, store: ArrayStore) -> tuple[Floats, Polygons]:
    """Points (N, 3) in the order of the part, through its source map where the file is in the order that was delivered. Vertices made
    since then stay where they are."""
    delivered = part.delivered
    if part.source is None or delivered is None or mesh.file_count != delivered.vertex_count or len(points) == part.vertex_count:
        return points, mesh.polygons
    whole = np.full((mesh.file_count, 3), np.nan)
    whole[np.arange(len(points)) if mesh.source is None else mesh.source] = points
    source = np.asarray(store.get(part.source))
    placed = np.where((source >= 0)[:, None], whole[source], rest)
    return np.where(np.isfinite(placed), placed, rest), polygons(store, part)
