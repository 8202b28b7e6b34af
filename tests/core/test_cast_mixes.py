"""The clean cast, swept: nothing is wrong in any mix of their expressions."""

from __future__ import annotations

import pytest
from tightseam.demo.mixes import with_mixes_mended
from tightseam.document.arrays import MemoryStore
from tightseam.mix.sweep import sweep

from tests import cast


@pytest.mark.parametrize("name", cast.NAMES)
def test_no_mix_of_a_clean_head_has_anything_wrong(name):
    head = cast.clean(name)
    store = MemoryStore(head.store)
    mended = with_mixes_mended(name, head.character, store)
    found = sweep(mended, store)
    assert len(found.cells) > 500
    assert not [(f.kind, f.about, f.place, f.cell.ends, f.size) for f in found.findings]
    assert not found.not_measured
