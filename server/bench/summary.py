"""Characters as the screens list them."""

import zlib

import numpy as np
from characters import reports, sweeps
from characters.history import load, next_on_branch
from characters.models import Character, Revision
from django.db import OperationalError
from problems import unforeseen
from pydantic import TypeAdapter
from tightseam.binding.envelope import envelope_of
from tightseam.checkin.parts import transform_said
from tightseam.controls.regions import control_regions
from tightseam.document.arrays import ArrayStore
from tightseam.document.cache import OfThings
from tightseam.document.errors import TightSeamError
from tightseam.document.kept import kept_key
from tightseam.document.lookup import binding as find_binding
from tightseam.document.model import Binding, Part, Ride, Shape
from tightseam.document.model import Character as Document
from tightseam.document.poses import shown_poses
from tightseam.document.sections import MEASURED
from tightseam.document.units import unit_name
from tightseam.findings.finding import Finding
from tightseam.findings.sizes import said_size
from tightseam.landmarks.guides import guides_of
from tightseam.mix.report import causes_key, mix_key
from tightseam.seams.pose_report import PoseReport, pose_key

from bench import checkin
from bench.rigs import Rig
from bench.schemas import (
    CapOut,
    CharacterOut,
    CheckInShort,
    DamagedEntry,
    InfluenceOut,
    LatelyOut,
    PartOut,
    RevisionOut,
    SavedOut,
    ShapeOut,
    ShelfEntry,
    WorstOut,
)

_OF_THINGS = OfThings()
HISTORY = 60
POSE_REPORT = TypeAdapter(PoseReport)
LATELY = 5
DRAWN = tuple(name for name in MEASURED if name != "seams")  # sections that show in a picture of the head


def revision_out(revision: Revision) -> RevisionOut:
    parent = revision.parent.number if revision.parent else None
    return RevisionOut(number=revision.number, parent=parent, text=revision.text, edit=revision.edit)


def shelf() -> list[ShelfEntry | DamagedEntry]:
    """All characters, in the order in which they came. One that cannot be opened says so and takes nobody else away."""
    return [_entry_or_damage(c) for c in Character.objects.select_related("head__parent").order_by("pk")]


def _entry_or_damage(character: Character) -> ShelfEntry | DamagedEntry:
    try:
        return shelf_entry(character)
    except TightSeamError as error:
        return DamagedEntry(id=character.pk, name=character.name, damage=str(error))
    except OperationalError:  # the database is busy: no character is damaged by that
        raise
    except Exception:
        return DamagedEntry(id=character.pk, name=character.name, damage=unforeseen(f"the shelf entry of character {character.pk}"))


def lately() -> list[LatelyOut]:
    """What was done last, to whomever, the newest first."""
    found = Revision.objects.select_related("character").order_by("-created", "-pk")[:LATELY]
    return [LatelyOut(character=r.character_id, name=r.character.name, number=r.number, text=r.text, when=r.created) for r in found]


def _excess(finding: Finding) -> float:
    return finding.size / (finding.limit or 1.0)


def shelf_entry(character: Character) -> ShelfEntry:
    document, _ = load(character.head)
    poses = shown_poses(document)
    keys = {pose_key(document, p) for p in poses}
    found = [POSE_REPORT.validate_json(data) for data in reports.kept(keys).values()]
    worst: dict[str, Finding] = {}
    for finding in (f for report in found for f in report.findings):
        if finding.about not in worst or _excess(finding) > _excess(worst[finding.about]):
            worst[finding.about] = finding
    first = max(worst.values(), key=_excess, default=None)
    return ShelfEntry(
        id=character.pk,
        name=document.about.name,
        story=document.about.story,
        revision=revision_out(character.head),
        parts=len(document.parts),
        vertices=sum(p.vertex_count for p in document.parts),
        measured=len(found) == len(keys),
        findings=len(worst),
        worst=first and WorstOut(title=first.title, text=first.text, kind=first.kind, said=said_size(first.size, first.unit)),
        poses=len(poses),
        checkin=_checkin_short(character.head),
        drawn=_drawn(document),
    )


def _drawn(document: Document) -> str:
    return kept_key("drawn", document, DRAWN)


def _checkin_short(revision: Revision) -> CheckInShort:
    found = checkin.report(revision)
    first = next((c for c in found.checks if c.verdict != "fine" and c.waived is None), None)
    return CheckInShort(faults=found.faults, looks=found.looks, first=first and first.label, said=first and first.said)


def character_out(character: Character, rig: Rig) -> CharacterOut:
    document, guides = rig.document, guides_of(rig.document, rig.store)
    # without what each edit was given: of a stroke that is much
    history = character.revisions.order_by("-number").values_list("number", "parent__number", "text", "edit")[:HISTORY]
    return CharacterOut.model_construct(  # of parts that the core has validated
        id=character.pk,
        name=document.about.name,
        story=document.about.story,
        revision=revision_out(character.head),
        meshes=character.head.sections["parts"],
        drawn=_drawn(document),
        guides=guides.points,
        heading=guides.heading,
        unit=unit_name(document.checkin.unit_cm) if document.checkin.unit_cm else None,
        can_undo=character.head.parent_id is not None,
        can_redo=next_on_branch(character) is not None,
        history=[RevisionOut(number=number, parent=parent, text=text, edit=edit) for number, parent, text, edit in history],
        parts=[_part(p, rig) for p in document.parts],
        bones=list(document.bones),
        envelopes=[_OF_THINGS.get(b, envelope_of, "envelope") for b in document.bones],
        skeleton=document.skeleton,
        landmarks=list(document.landmarks),
        shapes=[_OF_THINGS.get(s, _shape, "shape") for s in document.shapes],
        controls=list(document.controls),
        caps=[
            CapOut(name=c.name, label=c.label, part=c.part, vertices=len(rig.store.get(c.vertices)), cm=c.cm, soft=c.soft)
            for c in document.caps
        ],
        regions=control_regions(document, rig.store),
        plan=list(document.plan),
        mix=document.mix,
        intended=[it.reason for it in document.intended],
        seams=list(document.seams),
        selections=[SavedOut(name=s.name, part=s.part, vertices=len(rig.store.get(s.vertices))) for s in document.selections],
        poses=list(shown_poses(document)),
        hidden_poses=[p for p in document.poses if p.hidden],
        mixed=_mixed(document),
    )


def _mixed(document: Document) -> int | None:
    """How many causes the sweep of this state found that nobody means, with what is wrong at rest; None where it was not swept."""
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


def _part(part: Part, rig: Rig) -> PartOut:
    bound = find_binding(rig.document, part.name)
    influences = _OF_THINGS.get(bound, lambda b: _influences(b, rig.store), "influences") if bound else []
    ride = bound.ride if bound else None
    expected = next((s.expected for s in rig.document.seams if s.kind == "follow" and s.probe == part.name), ())
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
        roots=_OF_THINGS.get(ride, lambda r: _roots(r, rig.store), "roots") if ride else [],
        influences=influences,
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
