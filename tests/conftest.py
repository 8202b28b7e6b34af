"""Heads that several tests look at."""

from __future__ import annotations

import pytest
from hypothesis import settings
from tightseam.deform.backend import load_compiled
from tightseam.demo.build import RawHead
from tightseam.demo.faults import plant_in_rig
from tightseam.document.arrays import MemoryStore
from tightseam.exchange.character_file import write_character
from xdist.scheduler import LoadScopeScheduling

from tests import cast
from tests.head import TWO_FAULTS, FreshPim, Head

settings.register_profile("untimed", deadline=None)  # a busy machine is no fault of the code
settings.load_profile("untimed")

APART = ("test_random_faults_are_found_and_none_is_made_up", "test_no_pair_of_expressions_of_a_clean_head", "/record/")


class ByModule(LoadScopeScheduling):
    """Tests of a module stay in one process, which makes their heads once, and those of the browser with one server. Those that say so by
    their name take long and share nothing."""

    def _split_scope(self, nodeid: str) -> str:
        module = nodeid.partition("::")[0]
        if "/browser/" in module:
            return "browser"
        return nodeid if any(name in nodeid for name in APART) else module


def pytest_xdist_make_scheduler(config: pytest.Config, log) -> ByModule:
    return ByModule(config, log)


@pytest.fixture(scope="session", autouse=True)
def compiled() -> None:
    """Frames are posed by the compiled loops, as once a server is up; the plain ones are compared with them by a test of their own."""
    load_compiled()


@pytest.fixture(scope="session")
def raw_maren() -> RawHead:
    """Parts and landmarks as the generator makes them, with its own vertex sets."""
    return cast.raw("maren")


@pytest.fixture(scope="session")
def raw_heads() -> dict[str, RawHead]:
    """The whole cast as the generator makes it. Tests copy what they change."""
    return {name: cast.raw(name) for name in cast.NAMES}


@pytest.fixture(scope="session")
def clean() -> Head:
    """Maren without faults and without bones of the face."""
    return cast.plain_maren()


@pytest.fixture(scope="session")
def faulty(clean) -> Head:
    """The same with two of her parts carried by the wrong bones."""
    store = MemoryStore(clean.store)
    return Head(plant_in_rig(clean.character, store, TWO_FAULTS), store)


@pytest.fixture(scope="session")
def maren_file(faulty) -> bytes:
    return write_character(faulty.character, faulty.store)


@pytest.fixture(scope="session")
def rigged() -> dict[str, Head]:
    """The clean rigs of all three."""
    return {name: cast.clean(name) for name in cast.NAMES}


@pytest.fixture(scope="session")
def fresh() -> FreshPim:
    """Pim as he came from modelling."""
    return cast.pim_as_delivered()
