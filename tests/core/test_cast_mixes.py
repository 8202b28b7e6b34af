"""The clean cast, swept: what "Repair all" and a few decisions have left of what was wrong in mixes of their expressions."""

from __future__ import annotations

import pytest
from tightseam.demo.mixes import with_mixes_mended
from tightseam.document.arrays import MemoryStore
from tightseam.mix.sweep import sweep

from tests import cast

# Hob: his lower lip and chin under a seal of one side, and a smile that draws his lips onto the lower teeth
LEFT = {"maren": set(), "pim": set(), "hob": {("clash", "lips_teeth_lower"), ("self", "skin_itself"), ("stretch", "skin")}}
MOST_LEFT = {"maren": 0, "pim": 0, "hob": 14}


@pytest.mark.parametrize("name", cast.NAMES)
def test_no_mix_of_a_clean_head_has_anything_else_wrong(name):
    head = cast.clean(name)
    store = MemoryStore(head.store)
    mended = with_mixes_mended(name, head.character, store)
    found = sweep(mended, store)
    assert len(found.cells) > 500
    assert {(f.kind, f.about) for f in found.findings} <= LEFT[name], [(f.place, f.cell.ends, f.size) for f in found.findings]
    assert len(found.findings) <= MOST_LEFT[name]
    assert not found.not_measured
