"""Writes THIRD-PARTY.md: what Tight Seam is built with, and under which licences. With --check it only says whether that is current."""

from __future__ import annotations

import argparse
import json
import re
import sys
from importlib.metadata import Distribution, distribution
from pathlib import Path

from packaging.requirements import Requirement

ROOT = Path(__file__).parents[1]
OUT = ROOT / "THIRD-PARTY.md"
OURS = "tight-seam"
HEAD = """# Third-party notices

Tight Seam is under the MIT licence (LICENSE). It is built with the packages below, which are not part of it: `pip` and
`npm` install them from their registries. The built front end carries the licence texts of what is bundled in it, in `web/dist/licences.md`.

Made by `scripts/notices.py`.
"""


def python_packages() -> list[tuple[str, str, str]]:
    """What the server needs, wholly: name, version, licence."""
    found: dict[str, Distribution] = {}
    waiting = [(OURS, {"server", "usd"})]
    while waiting:
        name, extras = waiting.pop()
        dist = distribution(name)
        key = dist.metadata["Name"].lower()
        if key in found and key != OURS:
            continue
        found[key] = dist
        for line in dist.requires or []:
            need = Requirement(line)
            if need.name == OURS or (need.marker and not any(need.marker.evaluate({"extra": e}) for e in extras | {""})):
                continue
            waiting.append((need.name, need.extras))
    return sorted((d.metadata["Name"], d.version, licence_of(d)) for key, d in found.items() if key != OURS)


def licence_of(dist: Distribution) -> str:
    said = dist.metadata["License-Expression"] or ""
    classified = [c.rsplit(" :: ", 1)[1] for c in dist.metadata.get_all("Classifier") or [] if c.startswith("License ::")]
    short = (dist.metadata["License"] or "").strip().splitlines()[:1]
    return said or ", ".join(classified) or (short[0][:60] if short else "see its package")


def npm_packages() -> list[tuple[str, str, str]]:
    lock = json.loads((ROOT / "web" / "package-lock.json").read_text())["packages"]
    kept = {path: of for path, of in lock.items() if path and not of.get("dev") and not of.get("optional")}
    named = [(re.sub(r".*node_modules/", "", path), of) for path, of in kept.items()]
    return sorted({(name, of["version"], of.get("license", "see its package")) for name, of in named})


def table(rows: list[tuple[str, str, str]]) -> str:
    return "\n".join(["| package | version | licence |", "|---|---|---|", *(f"| {' | '.join(row)} |" for row in rows)])


def main() -> int:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--check", action="store_true")
    text = f"{HEAD}\n## Core and server\n\n{table(python_packages())}\n\n## Front end\n\n{table(npm_packages())}\n"
    if parser.parse_args().check:
        if OUT.is_file() and OUT.read_text() == text:
            return 0
        print("THIRD-PARTY.md is not current. Run: make notices", file=sys.stderr)
        return 1
    OUT.write_text(text)
    return 0


if __name__ == "__main__":
    sys.exit(main())
