"""Check-in, eye seats, landmarks and bones of a whole head against seconds; reading an OBJ against trimesh reading the same bytes."""

from __future__ import annotations

import io

import trimesh
from tightseam.checkin.report import check_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character, Skeleton
from tightseam.edits.build_edits import BuildBones
from tightseam.edits.landmark_edits import SuggestLandmarks
from tightseam.exchange.obj_write import write_obj
from tightseam.head.found import FoundHead
from tightseam.intake.take_in import take_in
from tightseam.landmarks.seats import find_seats
from tightseam.landmarks.suggest.suggest import suggest

from benchmarks.timing import Row, medians

ROUNDS = 5
FACE = Skeleton(face="both", brows=4, lids=5, ears=True)


def run(name: str, character: Character, store: MemoryStore, check_seconds: float, read_seconds: float) -> list[Row]:
    count = sum(p.vertex_count for p in character.parts)
    check = medians({"ours": lambda: check_in(character, store)}, ROUNDS, warm=1)["ours"]
    sweep = medians({"ours": lambda: [s.sweep.contacts for s in find_seats(FoundHead(character, store))]}, ROUNDS, warm=1)["ours"]
    found = medians({"ours": lambda: suggest(FoundHead(character, store))}, ROUNDS, warm=1)["ours"]
    marked = SuggestLandmarks(which="all").apply(character, store)
    face = medians({"ours": lambda: BuildBones(choices=FACE, bind=False).apply(marked, store)}, ROUNDS, warm=1)["ours"]
    data = write_obj(character, store)
    theirs = "trimesh"
    read = medians(
        {
            "ours": lambda: take_in({"head.obj": data}, MemoryStore()),
            theirs: lambda: trimesh.load(io.BytesIO(data), file_type="obj", process=False),
        },
        ROUNDS,
        warm=1,
    )
    design = f"design: {read_seconds:g} s"
    return [
        Row(f"eye seats found and swept, {name}", sweep, "design: 0.3 s", 300.0, ">= 1x", sweep <= 300),
        Row(f"landmarks suggested, {name}", found, "1 s", 1000.0, ">= 1x", found <= 1000),
        Row(f"a face of 66 bones built, {name}", face, "design: 1 s", 1000.0, ">= 1x", face <= 1000),
        Row(
            f"check-in, {name} ({count:,} vertices)",
            check,
            f"design: {check_seconds:g} s",
            check_seconds * 1000,
            ">= 1x",
            check <= check_seconds * 1000,
        ),
        Row(f"OBJ taken in, {name}", read["ours"], design, read_seconds * 1000, ">= 1x", read["ours"] <= read_seconds * 1000),
        Row(f"OBJ taken in, kinds and units guessed, {name}", read["ours"], theirs, read[theirs], "(for comparison)", True),
    ]
