"""Delivered files made into a character: parts with guessed kinds, lengths in cm, skins and shapes taken along."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, replace
from pathlib import PurePosixPath

import numpy as np

from tightseam.checkin.kinds import guess_kinds
from tightseam.document.arrays import ArrayStore
from tightseam.document.check import check_names
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument
from tightseam.document.limits import FARTHEST, MOST_BONES, MOST_PARTS
from tightseam.document.make import make_delta, make_influences, make_part, make_point
from tightseam.document.model import About, Binding, Bone, Character, CheckIn, Control, Delivered, Link, Part, Shape
from tightseam.document.progress import part_of_it, tell
from tightseam.document.twins import with_twins
from tightseam.document.units import UNITS
from tightseam.exchange.archive import unpacked
from tightseam.exchange.character_file import read_character
from tightseam.exchange.delivery import Delivery, Joint, Mesh
from tightseam.exchange.glb_extras import is_ours
from tightseam.exchange.glb_read import read_glb
from tightseam.exchange.gltf_read import read_gltf
from tightseam.exchange.obj_read import read_obj
from tightseam.exchange.usd_read import ENDINGS as USD
from tightseam.exchange.usd_read import read_usd
from tightseam.geometry.types import Floats
from tightseam.intake.units import guess_unit

MESH_FILES = (".obj", ".glb", ".gltf", *USD)
READ = 0.8  # of the work is to read the files
SMALLEST_WEIGHT = 1e-5
UPWARDS = np.array([0.0, 1.0, 0.0])  # cm, how a bone points that nothing gives a direction


@dataclass(frozen=True)
class TakenIn:
    """The character, and what the rigger should know about how it came."""

    character: Character
    notes: tuple[str, ...] = ()


def take_in(files: Mapping[str, bytes], store: ArrayStore) -> TakenIn:
    """A character from one or several files by their path (OBJ, glTF, USD, zips of them, or a character file of ours).

    Arrays go into `store`. BadDocument says in words what is wrong.
    """
    found = unpacked(files)
    own = _ours(found, store)
    if own is not None:
        return TakenIn(own)
    meshes = [name for name in found if PurePosixPath(name).suffix.lower() in MESH_FILES]
    if not meshes:
        kinds = ", ".join(sorted({PurePosixPath(n).suffix or n for n in found})) or "nothing"
        raise BadDocument(f"There is no head in {kinds}. OBJ, GLB, glTF, USD and character files can be read, alone or zipped.")
    deliveries = []
    for k, name in enumerate(meshes):
        with part_of_it(READ * k / len(meshes), READ * (k + 1) / len(meshes)):
            deliveries.append(read_delivery(name, found))
    _check_counts(deliveries)
    tell(READ, "Looking at the parts")
    return _Builder(deliveries, store).build()


def _check_counts(deliveries: list[Delivery]) -> None:
    meshes, joints = sum(len(d.meshes) for d in deliveries), sum(len(d.joints) for d in deliveries)
    for count, noun, most in ((meshes, "meshes", MOST_PARTS), (joints, "joints", MOST_BONES)):
        if count > most:
            raise BadDocument(f"There are {count:,} {noun} in these files; {most:,} are the most.")


def _ours(files: Mapping[str, bytes], store: ArrayStore) -> Character | None:
    if len(files) != 1:
        return None
    name, data = next(iter(files.items()))
    if PurePosixPath(name).suffix.lower() == ".seam":
        return read_character(data, store)
    return read_glb(data, store) if data[:4] == b"glTF" and is_ours(data) else None


def read_delivery(name: str, files: Mapping[str, bytes]) -> Delivery:
    """One mesh file taken apart; `files` holds what lies beside it as well."""
    ending = PurePosixPath(name).suffix.lower()
    if ending == ".obj":
        return read_obj(files[name], name)
    if ending in USD:
        return read_usd(files[name], name, files)
    return read_gltf(files[name], name, files)


class _Builder:
    def __init__(self, deliveries: list[Delivery], store: ArrayStore) -> None:
        self._store = store
        self._deliveries = deliveries
        names = _unique([m.name for d in deliveries for m in d.meshes])
        self._meshes = list(zip(names, [(d, m) for d in deliveries for m in d.meshes], strict=True))
        self._unstated = self._guessed_unit()
        self._kinds = guess_kinds({n: m.points * self._scale(d) for n, (d, m) in self._meshes})
        self._unit = self._scale(deliveries[0])

    def build(self) -> TakenIn:
        parts = tuple(self._part(name, d, m) for name, (d, m) in self._meshes)
        bones = self._bones()
        shapes = self._shapes()
        character = Character(
            About(_title(self._deliveries[0].file)),
            parts,
            bones=bones,
            bindings=self._bindings(bones) if bones else (),
            shapes=shapes,
            controls=tuple(Control(s.name, s.label, 0, 1, 0, (Link("shape", s.name, 1),)) for s in shapes),
            checkin=CheckIn(unit_cm=self._unit),
        )
        check_names(character)
        check_arrays(character, self._store)
        return TakenIn(character, tuple(n for d in self._deliveries for n in d.notes))

    def _scale(self, delivery: Delivery) -> float:
        """Centimetres in a unit of that file."""
        return delivery.unit_cm or self._unstated

    def _guessed_unit(self) -> float:
        """The unit of the files that state none, from the size of the head they hold; as others state where they hold none."""
        silent = {n: m.points for n, (d, m) in self._meshes if not d.unit_cm}
        stated = next((d.unit_cm for d in self._deliveries if d.unit_cm), None)
        kinds = guess_kinds(silent)
        telling = any(kind in ("skin", "eye") and sure > 0.5 for kind, sure in kinds.values())
        if stated and not telling:
            return stated
        return UNITS[guess_unit({n: (kinds[n][0], points) for n, points in silent.items()})]

    def _part(self, name: str, delivery: Delivery, mesh: Mesh) -> Part:
        scale = self._scale(delivery)
        kind, sure = self._kinds[name]
        points = mesh.points * scale
        if np.abs(points).max() > FARTHEST:
            raise BadDocument(f"{name} lies {np.abs(points).max():.3g} cm out; check the units of {delivery.file}.")
        part = make_part(self._store, name, kind, points, mesh.polygons, mesh.colours)
        put = self._store.put
        return replace(
            part,
            delivered=Delivered(delivery.file, mesh.name, mesh.file_count, sure),
            source=None if mesh.source is None else put(np.asarray(mesh.source, np.int32)),
            split=None if mesh.split is None else put(np.asarray(mesh.split, np.int32)),
            transform=None if mesh.linear is None else tuple(float(v) for v in mesh.linear.ravel()),  # type: ignore[arg-type]
            pivot=None if mesh.pivot is None else make_point(mesh.pivot * scale),
        )

    def _bones(self) -> tuple[Bone, ...]:
        found: dict[str, Bone] = {}
        for d in self._deliveries:
            bases = {j.name: np.array(j.base) * self._scale(d) for j in d.joints}
            below: dict[str | None, list[Floats]] = {}
            for joint in d.joints:
                below.setdefault(joint.parent, []).append(bases[joint.name])
            for joint in d.joints:
                if joint.name not in found:
                    parent = joint.parent if joint.parent in found else None
                    ends = make_point(bases[joint.name]), make_point(_tip(joint, below.get(joint.name), bases))
                    found[joint.name] = Bone(joint.name, joint.name, parent, *ends, axes=joint.axes)
        return with_twins(tuple(found.values()))

    def _bindings(self, bones: tuple[Bone, ...]) -> tuple[Binding, ...]:
        names = [b.name for b in bones]
        at = {name: k for k, name in enumerate(names)}
        found = []
        for name, (d, mesh) in self._meshes:
            if mesh.weights is None:
                continue
            columns = [at[j.name] for j in d.joints]
            dense = np.zeros((len(mesh.points), len(names)))
            dense[:, columns] = np.where(mesh.weights > SMALLEST_WEIGHT, mesh.weights, 0)
            found.append(Binding(name, "weighted", make_influences(self._store, names, dense)))
        return tuple(found)

    def _shapes(self) -> tuple[Shape, ...]:
        """Targets of one name on several parts are one shape."""
        by_name: dict[str, list[tuple[str, Floats]]] = {}
        for name, (d, mesh) in self._meshes:
            for target, offsets in mesh.targets.items():
                by_name.setdefault(target, []).append((name, offsets * self._scale(d)))
        made = []
        for target, rows in by_name.items():
            deltas = [make_delta(self._store, part, offsets) for part, offsets in rows]
            made.append(Shape(target, target, tuple(x for x in deltas if x is not None)))
        return tuple(made)


def _tip(joint: Joint, children: list[Floats] | None, bases: Mapping[str, Floats]) -> Floats:
    """A bone reaches to the middle of its children; one without goes on as its parent came."""
    base = bases[joint.name]
    if children:
        tip = np.mean(children, axis=0)
    elif joint.parent is not None and joint.parent in bases:
        tip = base + 0.5 * (base - bases[joint.parent])
    else:
        tip = base + UPWARDS
    return np.asarray(tip if np.linalg.norm(tip - base) > 1e-6 else base + UPWARDS)


def _unique(names: list[str]) -> list[str]:
    taken: set[str] = set()
    result = []
    for name in names:
        plain = " ".join(name.split())[:80] or "unnamed"
        candidate, k = plain, 2
        while candidate in taken:
            candidate, k = f"{plain} {k}", k + 1
        taken.add(candidate)
        result.append(candidate)
    return result


def _title(file: str) -> str:
    stem = PurePosixPath(file).stem.replace("_", " ").strip()
    return (stem[:1].upper() + stem[1:])[:80] or "Unnamed head"
