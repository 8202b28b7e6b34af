"""The cast as tests look at it, made once for all processes and runs. `python -m tests.cast` makes all of it."""

from __future__ import annotations

import copy
import os
import subprocess
import sys
from concurrent.futures import ProcessPoolExecutor
from functools import cache
from pathlib import Path

import numpy as np
from tightseam.demo.build import RawHead, build_head
from tightseam.demo.cast import CHOICES, PRESETS, STORY, cast, fresh_pim, raw_parts
from tightseam.demo.mesh_faults import MeshFault
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Character, Skeleton
from tightseam.findings.finding import Finding
from tightseam.first_rig import first_rig
from tightseam.jaw.findings import findings_of

from tests.head import FreshPim, Head
from tests.kept import ROOT, kept, kept_place

NAMES = tuple(PRESETS)
FAULTY = ("maren", "hob")


@cache
def raw(name: str) -> RawHead:
    """Parts and landmarks as the generator makes them, with its own vertex sets. Copy what you change."""
    return kept(f"raw-{name}", lambda: build_head(PRESETS[name]))


@cache
def clean(name: str) -> Head:
    """A member of the cast rigged without faults, with the bones that are chosen for him or her."""
    return _head(f"clean-{name}", lambda store: _first_rig(name, store, CHOICES.get(name)))


@cache
def plain_maren() -> Head:
    """Clean Maren whose face has no bones of its own."""
    return _head("plain-maren", lambda store: _first_rig("maren", store, None))


@cache
def faulty(name: str) -> Head:
    """A member of the cast with all that is planted in him or her, as the demo ships it."""
    return _head(f"faulty-{name}", lambda store: cast(name, store))


@cache
def jaw_findings(name: str) -> list[Finding]:
    """What is found on the jaw of a clean head, in every way it goes."""
    head = clean(name)
    return kept(f"jaw-findings-{name}", lambda: findings_of(head.character, head.store))


@cache
def pim_as_delivered() -> FreshPim:
    def made() -> tuple[Character, dict, tuple[MeshFault, ...]]:
        store = MemoryStore()
        character, planted = fresh_pim(copy.deepcopy(raw("pim")), store)
        return character, store.own, planted

    character, arrays, planted = kept("pim-as-delivered", made)
    return FreshPim(character, _store(arrays), planted)


def shelf() -> Path:
    """A data folder of the server with the demo cast on the shelf, measured. Copy it before a server writes to it."""
    return kept_place("shelf", ("core/tightseam", "server"), _seat)


def _seat(folder: Path) -> None:
    environment = os.environ | {"TIGHT_SEAM_DATA": str(folder)}
    for command in ("migrate", "seat_cast"):
        subprocess.run([sys.executable, "server/manage.py", command], cwd=ROOT, env=environment, check=True, stdout=subprocess.DEVNULL)


def _first_rig(name: str, store: MemoryStore, choices: Skeleton | None) -> Character:
    head = raw(name)
    return first_rig(name.capitalize(), STORY, raw_parts(head, store), head.landmarks, store, choices)


def _head(name: str, make) -> Head:
    def made() -> tuple[Character, dict]:
        store = MemoryStore()
        return make(store), store.own

    character, arrays = kept(name, made)
    return Head(character, _store(arrays))


def _store(arrays: dict[str, np.ndarray]) -> MemoryStore:
    """The arrays as a store keeps them: a pickle forgets that they are read-only."""
    store = MemoryStore()
    for key, array in arrays.items():
        array.setflags(write=False)
        store.own[key] = array
    return store


def _make(task) -> None:
    what, *arguments = task
    globals()[what](*arguments)


if __name__ == "__main__":
    with ProcessPoolExecutor() as pool:
        list(pool.map(_make, [("raw", name) for name in NAMES]))
        rest = [*(("clean", n) for n in NAMES), ("plain_maren",), *(("faulty", n) for n in FAULTY), ("pim_as_delivered",), ("shelf",)]
        list(pool.map(_make, rest))
