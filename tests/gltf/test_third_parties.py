"""Our GLB in other hands: the glTF validator, and three's own loader and animation mixer."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest
from tightseam.exchange.glb_write import write_glb

HERE = Path(__file__).parent
WEB = HERE.parents[1] / "web" / "package.json"


@pytest.fixture(scope="module")
def glb_file(faulty, tmp_path_factory) -> Path:
    path = tmp_path_factory.mktemp("glb") / "maren.glb"
    path.write_bytes(write_glb(faulty.character, faulty.store))
    return path


def node(script: str, *arguments: str) -> dict:
    done = subprocess.run(["node", str(HERE / script), str(WEB), *arguments], capture_output=True, text=True, check=False, timeout=120)
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


def test_the_gltf_validator_has_nothing_to_say(glb_file):
    issues = node("validate.cjs", str(glb_file))
    assert (issues["numErrors"], issues["numWarnings"]) == (0, 0), issues["messages"][:5]


def test_three_poses_the_glb_as_we_do(faulty, glb_file):
    seconds = range(len(faulty.character.poses))
    posed = node("pose.mjs", str(glb_file), ",".join(map(str, seconds)))
    for second, pose in enumerate(faulty.character.poses):
        for part in ("skin", "teeth_lower", "tongue", "lash_upper_L", "brow_R", "hair"):
            points = np.array(posed[str(second)][part]).reshape(-1, 3) * 100
            assert np.abs(points - faulty.posed(part, pose.values)).max() < 0.002, (pose.name, part)
