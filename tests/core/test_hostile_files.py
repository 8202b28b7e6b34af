"""Small files that ask for much are refused in words, or taken in as they are; neither takes more than its size explains."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from tightseam.checkin.report import check_in
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument
from tightseam.exchange.obj_write import write_obj
from tightseam.intake.take_in import take_in

from tests.core import hostile_files
from tests.core.heads import character_of, without_hair


@pytest.mark.parametrize(
    ("name", "content", "said"),
    [
        ("ring.glb", hostile_files.ring_of_joints, "hangs below itself"),
        ("chain.glb", hostile_files.chain_of_joints, "19,000 joints"),
        ("hollow.glb", hostile_files.hollow_glb, "GB of zeros"),
        ("hollow.seam", hostile_files.hollow_character, "unpacks to 100 MB from"),
        ("lines.zip", lambda: hostile_files.zip_of_lines(1_500_000), "no faces"),
        ("zeros.zip", lambda: hostile_files.zipped("head.obj", bytes(50_000_000)), "would unpack to 50 MB"),
    ],
)
def test_what_asks_for_more_than_it_is_is_refused_in_words(name, content, said):
    with pytest.raises(BadDocument, match=said):
        take_in({name: content()}, MemoryStore())


def taken(name: str, content: bytes):
    store = MemoryStore()
    found = take_in({name: content}, store)
    return found, check_in(found.character, store)


def test_a_part_to_a_triangle_and_fifteen_hundred_of_them():
    found, report = taken("parts.obj", hostile_files.many_parts(1_500))
    assert len(found.character.parts) == 1_500
    assert [p.name for p in found.character.parts[:2]] == ["piece 0", "piece 1"]
    assert report.of("parts_double").verdict == "fine"


def test_thousands_of_groups_are_patches_and_no_parts():
    found, _ = taken("groups.obj", hostile_files.many_groups(40_000))
    (part,) = found.character.parts
    assert part.vertex_count == 120_000
    assert "40,000 groups" in found.notes[0]


def test_more_parts_than_any_head_has_are_refused():
    with pytest.raises(BadDocument, match="2,500 meshes"):
        take_in({"parts.obj": hostile_files.many_parts(2_500)}, MemoryStore())


def test_vertices_on_one_heap_are_told_and_not_paired_all_with_all():
    _, report = taken("degenerate.obj", hostile_files.degenerate(60_000))
    assert report.of("zero_area").verdict == "fault"
    assert report.of("duplicates").verdict == "fault"


@pytest.mark.parametrize("part", ["skin", "eye_L", "tongue"])
def test_a_part_of_a_head_in_one_point_is_told(raw_heads, part):
    head = without_hair(raw_heads["pim"])
    shrunk = [replace(p, points=np.full_like(p.points, 20.0)) if p.name == part else p for p in head.parts]
    _, report = taken("pim.obj", write_obj(*character_of(replace(head, parts=shrunk))))
    assert report.of("duplicates").verdict == "fault"
    assert part in {place.part for place in report.of("duplicates").places}


def test_three_in_one_place_are_two_too_many():
    tile = "o {}\nv 0 0 0\nv 1 0 0\nv 0 1 0\nf -3 -2 -1\n"
    _, report = taken("three.obj", "".join(tile.format(name) for name in "abc").encode())
    assert [r.params["part"] for r in report.of("parts_double").repairs] == ["b", "c"]
