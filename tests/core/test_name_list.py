"""Name lists: read, refused, matched."""

from __future__ import annotations

import pytest
from tightseam.document.errors import BadRequest
from tightseam.shapes.name_list import SHIPPED, NameList, WantedShape, matched, read_names, shipped_list


def wanted(*names: str) -> NameList:
    return NameList("x", tuple(WantedShape(n) for n in names))


@pytest.mark.parametrize("key", SHIPPED)
def test_what_ships_can_be_read_and_its_twins_are_each_others(key):
    found = shipped_list(key)
    twins = {s.name: s.twin for s in found.shapes if s.twin}
    assert twins
    assert all(twins[other] == name for name, other in twins.items())
    assert all(s.meaning for s in found.shapes)


def test_a_name_is_the_same_near_missing_or_extra():
    found = matched(
        ["smile", "browLow_left", "Cheek-Full.R", "AU1_L", "tail"], wanted("smile", "brow_low_L", "cheek_full_R", "AU01_L", "blink_L")
    )
    assert found.same == ("smile",)
    assert dict(found.near) == {"browLow_left": "brow_low_L", "Cheek-Full.R": "cheek_full_R", "AU1_L": "AU01_L"}
    assert found.missing == ("blink_L",)
    assert found.extra == ("tail",)


def test_sides_and_numbers_are_never_mixed_up_and_none_is_given_twice():
    found = matched(["smile_R", "AU12", "smile_left", "smileLeft"], wanted("smile_L", "AU13"))
    assert dict(found.near) == {"smile_left": "smile_L"}
    assert set(found.extra) == {"smile_R", "AU12", "smileLeft"}
    assert found.missing == ("AU13",)


def test_json_and_csv_say_the_same():
    as_json = read_names(b'[{"name": "a_L", "twin": "a_R", "meaning": "left"}, {"name": "a_R", "twin": "a_L"}]', "list.json")
    as_csv = read_names("\ufeffname,twin,meaning\na_L,a_R,left\na_R,a_L,\n".encode(), "list.csv")
    assert as_json.shapes == as_csv.shapes


@pytest.mark.parametrize(
    ("data", "file", "says"),
    [
        (b"\xff\xfe", "a.json", "no text"),
        (b"{", "a.json", "no JSON"),
        (b"[" * 100_000, "a.json", "nested|no JSON"),
        (b"[]", "a.json", "has 0 names"),
        (b'[{"name": 5}]', "a.json", "no name list at shapes"),
        (b'[{"name": "a"}, {"name": "a"}]', "a.json", "twice"),
        (b'[{"name": "a", "twin": "b"}]', "a.json", "does not have"),
        (b'[{"name": ""}, {"name": "b"}]', "a.json", "is empty"),
        (b"a,b\n1,2\n", "a.csv", "no column"),
    ],
)
def test_what_is_no_list_is_refused_in_words(data, file, says):
    with pytest.raises(BadRequest, match=says):
        read_names(data, file)
    with pytest.raises(BadRequest, match="no name list"):
        shipped_list("else")
