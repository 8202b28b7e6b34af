"""Controls that drive controls."""

from __future__ import annotations

from collections.abc import Sequence

from tightseam.document.model import Control


def chain_depth(controls: Sequence[Control]) -> int | None:
    """How many controls stand one behind another in the longest chain of those that drive others, less one; None for a ring."""
    after = {c.name: [n.target for n in c.links if n.kind == "control"] for c in controls}
    depth: dict[str, int] = {}
    open_names: set[str] = set()

    def found(name: str) -> int | None:
        if name in depth:
            return depth[name]
        if name in open_names:
            return None
        open_names.add(name)
        below = [found(n) for n in after.get(name, [])]
        open_names.discard(name)
        if any(b is None for b in below):
            return None
        depth[name] = max((b + 1 for b in below if b is not None), default=0)
        return depth[name]

    every = [found(c.name) for c in controls]
    return None if any(d is None for d in every) else max((d for d in every if d is not None), default=0)
