"""docs/python.md: every example runs, one after another, and leaves what it says."""

from __future__ import annotations

import re
import subprocess
import sys

from tightseam.exchange.character_file import write_character

from tests import cast
from tests.kept import ROOT

EXAMPLE = re.compile(r"```python\n(.*?)```", re.S)


def test_every_example_runs_in_a_folder_with_a_character(tmp_path):
    head = cast.clean("maren")
    (tmp_path / "maren.seam").write_bytes(write_character(head.character, head.store))
    examples = EXAMPLE.findall((ROOT / "docs" / "python.md").read_text())
    assert len(examples) == 7
    told = subprocess.run([sys.executable, "-c", "\n".join(examples)], cwd=tmp_path, capture_output=True, text=True, check=False)
    assert told.returncode == 0, told.stderr
    assert "lids and gaze: " in told.stdout
    assert (tmp_path / "maren.zip").stat().st_size > 100_000
    assert (tmp_path / "changed.seam").exists()
