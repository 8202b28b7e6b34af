"""Sweeps the clean cast, repairs all that can be, and writes the recipes that the cast ships with: `mend_cast.py [NAME …]`.

What is left is told. A recipe that is there is taken as made, and begun from: what was added to it by hand stays.
"""

from __future__ import annotations

import json
import sys
from pathlib import Path

from tightseam.deform.backend import load_compiled
from tightseam.demo.cast import PRESETS, cast
from tightseam.document.arrays import MemoryStore
from tightseam.mending.repair_all import repaired
from tightseam.mending.swept import swept

RECIPES = Path(__file__).parents[1] / "core" / "tightseam" / "demo" / "recipes"


def mend(name: str) -> None:
    store, path = MemoryStore(), RECIPES / f"{name}.json"
    done = json.loads(path.read_text())
    result, after = repaired(swept(cast(name, store, clean=True), store))
    done += [step.model_dump(mode="json") for step in result.steps]
    path.write_text("[\n" + ",\n".join(f"  {json.dumps(step)}" for step in done) + "\n]\n")
    print(f"{name}: {result.findings_before} findings, {result.findings_after} left")
    for cause in after.report.causes:
        worst = after.worst_of(cause)
        print(f"  {worst.title} {worst.moment}: {worst.size:.2f} of {worst.limit:g}, {len(cause.findings)} findings")


if __name__ == "__main__":
    load_compiled()
    for name in sys.argv[1:] or PRESETS:
        mend(name)
