"""Check-in of revisions: reports kept for all that are alike, previews of repairs, the twin file, the note."""

import io
import zipfile
from collections.abc import Iterable
from datetime import date

import numpy as np
from characters.history import load
from characters.models import Revision
from tightseam.checkin.check import Check
from tightseam.checkin.limits import LIMITS, limits_with
from tightseam.checkin.note import Note, write_note
from tightseam.checkin.report import check_in
from tightseam.checkin.twin import delivered_points, twin_check
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.model import Character as Document
from tightseam.document.model import Part
from tightseam.document.units import CM_TO_MM
from tightseam.edits.registry import Step
from tightseam.intake.take_in import take_in

from bench.schemas import ChangeOut, CheckInOut, LimitOut, MovedOut, PreviewOut

MOST_LINES = 4000
STILL = 1e-9  # cm


def report(revision: Revision) -> CheckInOut:
    """The checks of a revision, made once for all revisions with the same meshes, limits and waivers."""
    document, store = load(revision)
    found, own = check_in(document, store), document.checkin.limits
    values = limits_with(own)
    return CheckInOut(
        revision=revision.number,
        faults=found.count("fault"),
        looks=found.count("look"),
        checks=list(found.checks),
        limits=[
            LimitOut(
                key=k, label=limit.label, unit=limit.unit, value=values[k], ours=limit.value, low=limit.low, high=limit.high, own=k in own
            )
            for k, limit in LIMITS.items()
        ],
    )


def key_of(revision: Revision) -> str:
    return check_in.key(load(revision)[0])


def preview(revision: Revision, step: Step) -> PreviewOut:
    """What an edit would do to meshes and checks. Nothing is stored."""
    document, behind = load(revision)
    store = MemoryStore(behind)
    changed = step.params.apply(document, store)
    before, after = check_in(document, behind).checks, check_in(changed, store).checks
    old = {p.name: p for p in document.parts}
    parts = [_moved(old[p.name], p, store) for p in changed.parts if p.name in old and p.points != old[p.name].points]
    return PreviewOut(
        text=step.params.describe(changed),
        order_kept=all(
            p.name not in old or (p.source == old[p.name].source and p.vertex_count == old[p.name].vertex_count) for p in changed.parts
        ),
        parts=parts,
        changes=_changes(before, after),
    )


def _moved(old: Part, new: Part, store: ArrayStore) -> MovedOut:
    before, after = np.asarray(store.get(old.points)), np.asarray(store.get(new.points))
    if len(before) != len(after):
        return MovedOut(part=new.name, moved=0, gone=len(before) - len(after), farthest=0.0, lines=[])
    far = np.linalg.norm(after - before, axis=1)
    rows = np.flatnonzero(far > STILL)
    lines = np.concatenate([before[rows[:MOST_LINES]], after[rows[:MOST_LINES]]], axis=1)
    return MovedOut(
        part=new.name, moved=len(rows), gone=0, farthest=float(far.max(initial=0.0)) * CM_TO_MM, lines=lines.ravel().round(5).tolist()
    )


def _changes(before: Iterable[Check], after: Iterable[Check]) -> list[ChangeOut]:
    was, now = {c.key: c for c in before}, {c.key: c for c in after}
    found = []
    for key in {**was, **now}:
        a, b = was.get(key), now.get(key)
        if a is None or b is None or a.verdict != b.verdict:
            check = b or a
            assert check is not None
            found.append(
                ChangeOut(label=check.label, before=a and a.verdict, after=b and b.verdict, said=b.said if b else "no longer there")
            )
    return found


def twin(revision: Revision, files: dict[str, bytes]) -> Check:
    """Is a second file of the same head in the same vertex order? It is compared and forgotten."""
    document, store = load(revision)
    other = MemoryStore()
    return twin_check(document, store, delivered_points(take_in(files, other).character, other))


def note(revision: Revision) -> tuple[Document, Note]:
    document, store = load(revision)
    today = date.today()
    return document, write_note(document, store, check_in(document, store), f"{today.day} {today:%B %Y}")


def zipped(made: Note) -> bytes:
    """The Markdown with its pictures."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        archive.writestr("note.md", made.markdown)
        for name, svg in made.pictures.items():
            archive.writestr(f"pictures/{name}", svg)
    return out.getvalue()
