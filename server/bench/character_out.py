"""A character as the bench shows it: whole, or what an edit may have changed of it."""

import zlib
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from typing import Any

import numpy as np
from characters import reports, sweeps
from characters.history import next_on_branch
from characters.models import Character
from django.http import HttpResponse
from tightseam.binding.envelope import envelope_of
from tightseam.checkin.parts import transform_said
from tightseam.controls.regions import control_regions
from tightseam.document.arrays import ArrayStore
from tightseam.document.cache import OfThings
from tightseam.document.lookup import binding as find_binding
from tightseam.document.model import Binding, Part, Ride, Shape
from tightseam.document.model import Character as Document
from tightseam.document.poses import shown_poses
from tightseam.document.sections import keys_of
from tightseam.document.units import unit_name
from tightseam.landmarks.guides import guides_of
from tightseam.mix.report import causes_key, mix_key

from bench.requests import json_answer
from bench.rigs import Rig, rigs
from bench.schemas import CapOut, CharacterChange, CharacterOut, InfluenceOut, PartOut, RevisionOut, SavedOut, ShapeOut
from bench.summary import DRAWN, drawn, revision_out

_OF_THINGS = OfThings()
HISTORY = 60


@dataclass(frozen=True)
class State:
    """What is told of: a character at the head of its history."""

    character: Character
    rig: Rig

    @property
    def document(self) -> Document:
        return self.rig.document


@dataclass(frozen=True)
class Told:
    """How a field is made, and the sections that alone can change it; None where other things do, too."""

    make: Callable[[State], Any]
    of: tuple[str, ...] | None


def character_answer(character: Character) -> HttpResponse:
    """The document in short."""
    return json_answer(CharacterOut.model_construct(**_made(_state(character), FIELDS)))  # of parts that the core has validated


def change_answer(character: Character, before: Document) -> HttpResponse:
    """What may be told otherwise now than of the document `before`."""
    state = _state(character)

    def stays(sections: tuple[str, ...] | None) -> bool:
        return sections is not None and keys_of(before, sections) == keys_of(state.document, sections)

    told = _made(state, [name for name, told in FIELDS.items() if not stays(told.of)])
    return json_answer(CharacterChange.model_construct(**told), only=set(told))


def _state(character: Character) -> State:
    return State(character, rigs.get(character.head))


def _made(state: State, names: Iterable[str]) -> dict[str, Any]:
    return {name: FIELDS[name].make(state) for name in names}


def _own(section: str) -> Told:
    """A section as it is."""

    def made(state: State) -> Any:
        value = getattr(state.document, section)
        return list(value) if isinstance(value, tuple) else value

    return Told(made, (section,))


def _history(state: State) -> list[RevisionOut]:
    """All there are, also those that were undone, without what each edit was given: of a stroke that is much."""
    rows = state.character.revisions.order_by("-number").values_list("number", "parent__number", "text", "edit")[:HISTORY]
    return [RevisionOut.model_construct(number=number, parent=parent, text=text, edit=edit) for number, parent, text, edit in rows]


def _caps(state: State) -> list[CapOut]:
    store = state.rig.store
    caps = state.document.caps
    return [CapOut(name=c.name, label=c.label, part=c.part, vertices=len(store.get(c.vertices)), cm=c.cm, soft=c.soft) for c in caps]


def _unit(state: State) -> str | None:
    cm = state.document.checkin.unit_cm
    return unit_name(cm) if cm else None


def _selections(state: State) -> list[SavedOut]:
    return [SavedOut(name=s.name, part=s.part, vertices=len(state.rig.store.get(s.vertices))) for s in state.document.selections]


def _mixed(state: State) -> int | None:
    """How many causes the sweep of this state found that nobody means, with what is wrong at rest; None where it was not swept."""
    document = state.document
    key, swept = causes_key(document), mix_key(document)
    there = reports.known({key, swept})
    if key in there:
        return int(reports.KEEPER.load(key) or 0)
    report = sweeps.report_under(swept, document) if swept in there else None
    if report is None:
        return None
    count = len(report.open_causes) + len(report.at_rest)
    reports.KEEPER.save(key, str(count).encode())  # a report is long, and this is asked with every edit
    return count


def _parts(state: State) -> list[PartOut]:
    document, store = state.document, state.rig.store
    expected = {s.probe: s.expected for s in reversed(document.seams) if s.kind == "follow"}
    return [_part(part, find_binding(document, part.name), expected.get(part.name, ()), store) for part in document.parts]


def _part(part: Part, bound: Binding | None, expected: tuple[str, ...], store: ArrayStore) -> PartOut:
    """Made once for as long as a part and its binding stay: an edit leaves most of them as they are."""
    if bound is None:
        return _new_part(part, None, expected, store)
    key = ("part", id(part), expected)
    return _OF_THINGS.get(bound, lambda b: (_new_part(part, b, expected, store), part), key)[0]  # with what has that id


def _new_part(part: Part, bound: Binding | None, expected: tuple[str, ...], store: ArrayStore) -> PartOut:
    ride = bound.ride if bound else None
    return PartOut.model_construct(
        name=part.name,
        kind=part.kind,
        side=part.side,
        vertices=part.vertex_count,
        polygons=part.polygon_count,
        delivered=part.delivered,
        transform=None if part.transform is None else transform_said(part),
        pivot=part.pivot,
        carrier=bound.carrier if bound else "none",
        rides_on=ride.on if ride else None,
        roots=_roots(ride, store) if ride else [],
        influences=_influences(bound, store) if bound else [],
        expected=list(expected),
    )


def _roots(ride: Ride, store: ArrayStore) -> list[int]:
    found: list[int] = np.unique(store.get(ride.roots)).tolist()
    return found


def _influences(bound: Binding, store: ArrayStore) -> list[InfluenceOut]:
    """The bones of a binding, the one that carries most first."""
    sums = [_OF_THINGS.get(i, lambda i: _summed(store.get(i.weights)), "sum") for i in bound.influences]
    total = sum(carried for carried, _ in sums) or 1.0
    shares = [(i.bone, x / total, n) for i, (x, n) in zip(bound.influences, sums, strict=True)]
    found = [InfluenceOut.model_construct(bone=bone, share=share, vertices=n) for bone, share, n in shares]
    return sorted(found, key=lambda i: -i.share)


def _summed(weights: np.ndarray) -> tuple[float, int]:
    return float(weights.sum()), len(weights)


def _shape(shape: Shape) -> ShapeOut:
    arrays = "".join(f"{d.part}{d.vertices}{d.offsets}" for d in shape.deltas)
    return ShapeOut.model_construct(
        name=shape.name,
        label=shape.label,
        parts=[d.part for d in shape.deltas],
        digest=f"{zlib.adler32(arrays.encode()):x}",
        muted=shape.muted,
        activation=shape.activation,
    )


FIELDS: dict[str, Told] = {
    "id": Told(lambda s: s.character.pk, ()),
    "name": Told(lambda s: s.document.about.name, ("about",)),
    "story": Told(lambda s: s.document.about.story, ("about",)),
    "revision": Told(lambda s: revision_out(s.character.head), None),
    "meshes": Told(lambda s: s.character.head.sections["parts"], ("parts",)),
    "drawn": Told(lambda s: drawn(s.document), DRAWN),
    "guides": Told(lambda s: guides_of(s.document, s.rig.store).points, ("parts", "landmarks")),
    "heading": Told(lambda s: guides_of(s.document, s.rig.store).heading, ("parts", "landmarks")),
    "unit": Told(_unit, ("checkin",)),
    "can_undo": Told(lambda s: s.character.head.parent_id is not None, None),
    "can_redo": Told(lambda s: next_on_branch(s.character) is not None, None),
    "history": Told(_history, ()),  # whoever knows it adds the new revision
    "parts": Told(_parts, ("parts", "bindings", "seams")),
    "bones": _own("bones"),
    "envelopes": Told(lambda s: [_OF_THINGS.get(b, envelope_of, "envelope") for b in s.document.bones], ("bones",)),
    "skeleton": _own("skeleton"),
    "landmarks": _own("landmarks"),
    "shapes": Told(lambda s: [_OF_THINGS.get(shape, _shape, "shape") for shape in s.document.shapes], ("shapes",)),
    "controls": _own("controls"),
    "caps": Told(_caps, ("caps",)),
    "regions": Told(lambda s: control_regions(s.document, s.rig.store), ("parts", "landmarks", "bones", "shapes", "controls")),
    "plan": _own("plan"),
    "mix": _own("mix"),
    "intended": Told(lambda s: [it.reason for it in s.document.intended], ("intended",)),
    "seams": _own("seams"),
    "selections": Told(_selections, ("selections",)),
    "poses": Told(lambda s: list(shown_poses(s.document)), ("poses",)),
    "hidden_poses": Told(lambda s: [p for p in s.document.poses if p.hidden], ("poses",)),
    "mixed": Told(_mixed, None),
}
