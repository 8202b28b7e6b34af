"""Everything that bones and shapes cannot hold, baked one after another."""

from __future__ import annotations

from dataclasses import replace

from tightseam.bake.lid_bones import with_lids_as_bones
from tightseam.bake.lids import with_lids_baked
from tightseam.bake.mouth import with_mouth_baked
from tightseam.bake.rides import with_rides_baked
from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character


def with_all_baked(character: Character, store: ArrayStore) -> Character:
    """The character of bones and shapes alone, a shape for what each control does to lids and lips; caps are gone."""
    mouth = with_mouth_baked(with_lids_as_bones(character, store), store)
    return replace(with_rides_baked(with_lids_baked(mouth, store), store), caps=())
