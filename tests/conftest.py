"""Heads that several tests look at; made once a run."""

from __future__ import annotations

import copy

import pytest
from tightseam.deform.evaluator import Evaluator
from tightseam.demo.build import RawHead, build_head
from tightseam.demo.cast import CHOICES, STORY, fresh_pim, raw_parts
from tightseam.demo.faults import plant_in_rig
from tightseam.demo.presets import HOB, MAREN, PIM
from tightseam.document.arrays import MemoryStore
from tightseam.first_rig import first_rig

from tests.head import TWO_FAULTS, FreshPim, Head


@pytest.fixture(scope="session")
def raw_maren():
    """Parts and landmarks as the generator makes them, with its own vertex sets."""
    return build_head(MAREN)


@pytest.fixture(scope="session")
def clean(raw_maren) -> Head:
    store = MemoryStore()
    character = first_rig("Maren", STORY, raw_parts(raw_maren, store), raw_maren.landmarks, store)
    return Head(character, store, Evaluator(character, store))


@pytest.fixture(scope="session")
def faulty(clean) -> Head:
    store = MemoryStore(clean.store)
    character = plant_in_rig(clean.character, store, TWO_FAULTS)
    return Head(character, store, Evaluator(character, store))


@pytest.fixture(scope="session")
def maren_file(faulty) -> bytes:
    from tightseam.exchange.character_file import write_character

    return write_character(faulty.character, faulty.store)


@pytest.fixture(scope="session")
def raw_heads(raw_maren) -> dict[str, RawHead]:
    """The whole cast as the generator makes it. Tests copy what they change."""
    return {"maren": raw_maren, "pim": build_head(PIM), "hob": build_head(HOB)}


@pytest.fixture(scope="session")
def rigged(raw_heads) -> dict[str, Head]:
    """The clean rigs of all three."""

    def made(name: str) -> Head:
        store = MemoryStore()
        raw = raw_heads[name]
        character = first_rig(name.capitalize(), STORY, raw_parts(raw, store), raw.landmarks, store, CHOICES.get(name))
        return Head(character, store, Evaluator(character, store))

    return {name: made(name) for name in raw_heads}


@pytest.fixture(scope="session")
def fresh(raw_heads) -> FreshPim:
    """Pim as he came from modelling."""
    store = MemoryStore()
    character, planted = fresh_pim(copy.deepcopy(raw_heads["pim"]), store)
    return FreshPim(character, store, planted)
