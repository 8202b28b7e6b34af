"""Our GLB in other hands: the glTF validator, and three's own loader and animation mixer."""

from __future__ import annotations

import json
import subprocess
from pathlib import Path

import numpy as np
import pytest
from standin.play import Receiver
from tightseam.exchange.glb_write import write_glb

from tests.core.test_package import packed

HERE = Path(__file__).parent
WEB = HERE.parents[1] / "web" / "package.json"


@pytest.fixture(scope="module")
def glb_file(faulty, tmp_path_factory) -> Path:
    path = tmp_path_factory.mktemp("glb") / "maren.glb"
    path.write_bytes(write_glb(faulty.character, faulty.store))
    return path


@pytest.fixture(scope="module")
def packed_file(tmp_path_factory) -> Path:
    """The GLB of a package: hundreds of targets of which few rows are stored, and up to eight influences."""
    path = tmp_path_factory.mktemp("package") / "maren.glb"
    path.write_bytes(packed("maren", "generous").files["maren.glb"])
    return path


def node(script: str, *arguments: str) -> dict:
    done = subprocess.run(["node", str(HERE / script), str(WEB), *arguments], capture_output=True, text=True, check=False, timeout=120)
    assert done.returncode == 0, done.stderr
    return json.loads(done.stdout)


@pytest.mark.parametrize("file", ["glb_file", "packed_file"])
def test_the_gltf_validator_has_nothing_to_say(file, request):
    issues = node("validate.cjs", str(request.getfixturevalue(file)))
    assert (issues["numErrors"], issues["numWarnings"]) == (0, 0), issues["messages"][:5]


def test_three_poses_the_glb_as_we_do(faulty, glb_file):
    seconds = range(len(faulty.character.poses))
    posed = node("pose.mjs", str(glb_file), ",".join(map(str, seconds)))
    for second, pose in enumerate(faulty.character.poses):
        for part in ("skin", "teeth_lower", "tongue", "lash_upper_L", "brow_R", "hair"):
            points = np.array(posed[str(second)][part]).reshape(-1, 3) * 100
            assert np.abs(points - faulty.posed(part, pose.values)).max() < 0.002, (pose.name, part)


def test_three_poses_a_package_as_the_stand_in_does(packed_file):
    """Within what the report says of the strip that is what was made here."""
    receiver = Receiver(packed_file.read_bytes(), None, {})
    seconds = range(0, receiver.poses, 3)
    posed = node("pose.mjs", str(packed_file), ",".join(map(str, seconds)))
    for second in seconds:
        ours = receiver.played(second)
        for part in ("skin", "teeth_lower", "tongue", "lash_upper_L", "brow_R"):
            points = np.array(posed[str(second)][part]).reshape(-1, 3) * 100
            assert np.abs(points - ours[part]).max() < 0.002, (second, part)
