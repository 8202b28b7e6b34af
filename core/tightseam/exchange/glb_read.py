"""A GLB that this program wrote, back as a character."""

from __future__ import annotations

import json
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.check_arrays import check_arrays
from tightseam.document.errors import BadDocument, TightSeamError
from tightseam.document.limits import MOST_VERTICES
from tightseam.document.load import load_sections
from tightseam.document.make import make_delta, make_influences, make_part
from tightseam.document.model import (
    About,
    Activation,
    Binding,
    Cap,
    Character,
    Delivered,
    EyeRelief,
    Lids,
    Lips,
    Part,
    PartDelta,
    Relief,
    Ride,
    Selection,
    Shape,
)
from tightseam.document.sections import dump_sections
from tightseam.exchange.glb_container import GlbReader
from tightseam.exchange.glb_extras import LID_ARRAYS, LIP_ARRAYS, REGION_ARRAYS, find_extras
from tightseam.exchange.glb_write import CM_TO_M
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.types import Floats

WITH_ARRAYS = ("parts", "bindings", "shapes", "eye_reliefs", "lids", "reliefs", "lips", "selections", "caps")


def read_glb(data: bytes, store: ArrayStore) -> Character:
    """The character of a GLB written by `write_glb`; its arrays go into `store`. BadDocument for anything else."""
    try:
        return _read(GlbReader(data), store)
    except TightSeamError:
        raise
    except (KeyError, TypeError, ValueError, IndexError, AttributeError, OverflowError) as error:
        raise BadDocument(f"The extras of the GLB do not hold together ({type(error).__name__}: {error}).") from None


def _read(reader: GlbReader, store: ArrayStore) -> Character:
    extras = find_extras(reader.tree)
    texts: dict[str, bytes | str] = dict.fromkeys(WITH_ARRAYS, b"[]")
    texts |= {name: json.dumps(section) for name, section in dict(extras["sections"]).items()}
    meshes = {str(reader.item("meshes", k).get("name")): reader.item("meshes", k) for k in range(len(reader.tree.get("meshes") or []))}
    parts = tuple(_part(reader, meshes, entry, store) for entry in extras["parts"])
    bones = [str(b["name"]) for b in extras["sections"]["bones"]]
    frame = _Frame(reader, meshes, {p.name: p for p in parts}, bones, store)
    bindings = tuple(_ride(e, store) if e.get("ride") else frame.binding(e["part"], e["carrier"]) for e in extras["bindings"])
    shapes = _with_ridden(tuple(frame.shape(e, {b.part for b in bindings if b.ride}) for e in extras["shapes"]), extras, store)
    eye_reliefs = tuple(_eye_relief(e, store) for e in extras["eyeReliefs"])
    lids = tuple(_lids(e, store) for e in extras.get("lids", ()))
    kept = tuple(Selection(e["name"], e["part"], store.put(np.array(e["vertices"], np.int32))) for e in extras.get("selections", ()))
    bare = Character(
        About("x"),
        parts=parts,
        bindings=tuple(_with_dual(b, e.get("dual"), store) for b, e in zip(bindings, extras["bindings"], strict=True)),
        shapes=shapes,
        eye_reliefs=eye_reliefs,
        lids=lids,
        reliefs=tuple(Relief(**(e | _put(e, REGION_ARRAYS, store))) for e in extras.get("reliefs", ())),
        lips=tuple(Lips(**(e | _put(e, LIP_ARRAYS, store))) for e in extras.get("lips", ())),
        selections=kept,
        caps=tuple(Cap(**(e | _put(e, REGION_ARRAYS, store))) for e in extras.get("caps", ())),
    )
    made = dump_sections(bare)
    character = load_sections(texts | {name: made[name] for name in WITH_ARRAYS})
    check_arrays(character, store)
    return character


def _mesh(reader: GlbReader, meshes: Mapping[str, dict[str, Any]], name: str) -> dict[str, Any]:
    if name not in meshes or not isinstance(meshes[name].get("primitives"), list) or not meshes[name]["primitives"]:
        raise BadDocument(f"The GLB has no mesh for the part “{name}”.")
    return dict(meshes[name]["primitives"][0])


def _part(reader: GlbReader, meshes: Mapping[str, dict[str, Any]], entry: dict[str, Any], store: ArrayStore) -> Part:
    name = str(entry["name"])
    points = np.asarray(reader.array(_mesh(reader, meshes, name)["attributes"]["POSITION"], 3, f"points of {name}"), float) / CM_TO_M
    if not 0 < len(points) <= MOST_VERTICES:
        raise BadDocument(f"{name} has {len(points)} vertices.")
    polygons = Polygons(np.array(entry["sizes"], np.int32), np.array(entry["corners"], np.int32))
    colours = {k: None if entry[f] is None else np.array(entry[f], np.float32) for k, f in (("v", "colours"), ("f", "faceColours"))}
    part = make_part(store, name, entry["kind"], points, polygons, colours["v"], colours["f"], dict(entry["sets"]))

    def indices(key: str) -> str | None:
        return None if entry.get(key) is None else store.put(np.array(entry[key], np.int32))

    return replace(
        part,
        delivered=entry.get("delivered") and Delivered(**entry["delivered"]),
        source=indices("source"),
        split=indices("split"),
        transform=entry.get("transform"),
        pivot=entry.get("pivot"),
    )


class _Frame:
    """What bindings and shapes are read from: the meshes, and the bones in the order of the skin's joints."""

    def __init__(
        self, reader: GlbReader, meshes: Mapping[str, dict[str, Any]], parts: Mapping[str, Part], bones: list[str], store: ArrayStore
    ) -> None:
        self._reader, self._meshes, self._parts, self._store = reader, meshes, parts, store
        self._bones = bones

    def binding(self, part: str, carrier: Any) -> Binding:
        attributes = _mesh(self._reader, self._meshes, part)["attributes"]
        joints = self._reader.array(attributes["JOINTS_0"], 4, f"joints of {part}").astype(np.int64)
        weights = np.asarray(self._reader.array(attributes["WEIGHTS_0"], 4, f"weights of {part}"), float)
        if len(joints) and joints.max() >= len(self._bones):
            raise BadDocument(f"The weights of {part} speak of bone {joints.max()}; there are {len(self._bones)}.")
        totals = weights.sum(axis=1)
        off = np.flatnonzero(np.abs(totals - 1) > 1e-3)
        if len(off):
            raise BadDocument(f"The weights of {len(off)} vertices of {part} do not add up to 1; vertex {off[0]} has {totals[off[0]]:.3f}.")
        dense = np.zeros((len(joints), len(self._bones)))
        np.add.at(dense, (np.arange(len(joints))[:, None], joints), weights)
        return Binding(part, carrier, make_influences(self._store, self._bones, dense))

    def shape(self, entry: dict[str, Any], riding: set[str]) -> Shape:
        """A shape on all parts but those that ride, whose targets hold what riding makes of it as well."""
        deltas = [make_delta(self._store, p, self._offsets(p, str(entry["name"]))) for p in entry["parts"] if p not in riding]
        activation = entry.get("activation") and Activation(**entry["activation"])
        return Shape(entry["name"], entry["label"], tuple(d for d in deltas if d is not None), activation=activation)

    def _offsets(self, part: str, name: str) -> Floats:
        names = self._meshes[part].get("extras", {}).get("targetNames", []) if part in self._meshes else []
        targets = _mesh(self._reader, self._meshes, part).get("targets", [])
        if name not in names or names.index(name) >= len(targets):
            raise BadDocument(f"The GLB has no target “{name}” on {part}.")
        offsets = np.asarray(self._reader.array(targets[names.index(name)]["POSITION"], 3, f"target {name}"), float) / CM_TO_M
        if len(offsets) != self._parts[part].vertex_count:
            raise BadDocument(f"The target “{name}” has {len(offsets)} vertices, {part} has {self._parts[part].vertex_count}.")
        return offsets


def _ride(entry: dict[str, Any], store: ArrayStore) -> Binding:
    ride = Ride(
        entry["ride"]["on"],
        store.put(np.array(entry["ride"]["roots"], np.int32)),
        bool(entry["ride"].get("tufts", entry["ride"].get("locks"))),
    )
    return Binding(entry["part"], "ride", (), ride)


def _with_ridden(shapes: tuple[Shape, ...], extras: dict[str, Any], store: ArrayStore) -> tuple[Shape, ...]:
    """The shapes with what they do to riding parts beside the ride."""
    own: dict[str, list[PartDelta]] = {}
    for e in extras.get("ridden", ()):
        vertices, offsets = np.array(e["vertices"], np.int32), np.array(e["offsets"], np.float32).reshape(-1, 3)
        own.setdefault(e["shape"], []).append(PartDelta(e["part"], store.put(vertices), store.put(offsets)))
    return tuple(replace(s, deltas=(*s.deltas, *own.get(s.name, ()))) for s in shapes)


def _eye_relief(entry: dict[str, Any], store: ArrayStore) -> EyeRelief:
    def put(values: Any, kind: type) -> str:
        return store.put(np.array(values, kind))

    return EyeRelief(
        entry["eye"], entry["skin"], put(entry["vertices"], np.int32), put(entry["amount"], np.float32),
        put(entry["clearance"], np.float32), put(entry["settle"], np.float32),
        tuple((name, put(roots, np.int32)) for name, roots in dict(entry["followers"]).items()),
        put(entry["swell"], np.float32) if entry.get("swell") else None,
    )  # fmt: skip


def _with_dual(binding: Binding, dual: Any, store: ArrayStore) -> Binding:
    return replace(binding, dual=store.put(np.array(dual, np.float32))) if dual else binding


def _put(entry: dict[str, Any], arrays: Mapping[str, str], store: ArrayStore) -> dict[str, str]:
    """The arrays of an entry, by name (name -> kind of number), put into the store."""
    return {name: store.put(np.array(entry[name], kind)) for name, kind in arrays.items()}


def _lids(entry: dict[str, Any], store: ArrayStore) -> Lids:
    arrays = _put(entry, LID_ARRAYS, store)
    lashes = tuple((name, store.put(np.array(roots, np.int32))) for name, roots in dict(entry["lashes"]).items())
    return Lids(**(entry | arrays | {"lashes": lashes}))
