"""From an unnamed OBJ to a package: what a rigger does on the way, and whether what arrives is what was made."""

from __future__ import annotations

import re
from dataclasses import asdict, replace

import numpy as np
from standin.play import Receiver
from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.poses import pose_values
from tightseam.edits.registry import make_step
from tightseam.exchange.obj_write import write_obj
from tightseam.handoff.offences import offences
from tightseam.handoff.profile import shipped_profile
from tightseam.intake.take_in import take_in
from tightseam.packing.package import package

from tests import cast
from tests.core.heads import character_of, without_hair

PROFILE = replace(shipped_profile("lean"), tables=False, formats=("glb",), levels=(), resets={})


def unnamed(obj: bytes) -> bytes:
    """The file with nothing in it that says what a part is."""
    numbers = iter(range(1000))
    return re.sub(rb"(?m)^o .*$", lambda _: f"o mesh{next(numbers)}".encode(), obj)


def test_an_unnamed_obj_of_pim_goes_through_to_a_package_that_arrives_as_it_was_made():
    store = MemoryStore()
    character = take_in({"head.obj": unnamed(write_obj(*character_of(without_hair(cast.raw("pim")))))}, store).character
    assert {p.kind for p in character.parts} >= {"skin", "eye", "teeth upper", "teeth lower", "tongue", "lash", "brow"}
    for edit, params in (
        ("landmark.suggest", {}),
        ("rig.start", {}),
        ("control.set_range", {"control": "jaw_open", "low": 0, "high": 1.1, "rest": 0}),
    ):
        character = make_step(edit, params).params.apply(character, store)
    for _ in range(5):
        mended = next((f.repairs[0] for f in offences(character, store, PROFILE) if f.repairs), None)
        if mended is None:
            break
        character = make_step(mended.edit, dict(mended.params)).params.apply(character, store)
    assert offences(character, store, PROFILE) == []
    made = package(character, store, PROFILE, samples=20)
    glb = next(data for name, data in made.files.items() if name.endswith(".glb"))
    receiver = Receiver(glb, made.files["drive.json"], asdict(PROFILE))
    assert receiver.told == []
    evaluator = Evaluator(character, store)
    told = next(off for off in made.errors if off.what == "test poses")
    for pose in character.poses:
        ours = evaluator.meshes.by_part(evaluator.points(pose_values(character, pose)))
        theirs = receiver.posed(pose.values)
        assert max(float(np.linalg.norm(ours[n] - theirs[n], axis=1).max()) for n in ours) < told.mm / 10 + 2e-3, pose.name
