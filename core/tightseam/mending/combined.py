"""Ways to put a cause right that do two things at once."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from tightseam.edits.registry import make_step
from tightseam.mending.correcting import Solvable, solvable
from tightseam.mending.dampings import Damped, each_damped, together
from tightseam.mending.proposal import Proposal
from tightseam.mending.swept import Swept
from tightseam.mix.report import BoardCause

LEFT = (0.6, 0.3)  # of a control, while another acts


def combined(swept: Swept, cause: BoardCause) -> Iterator[Proposal]:
    """One expression does less while another acts, and a corrective the rest."""
    widest = {it.family: it for it in solvable(swept, cause)}
    for damped in each_damped(swept, cause, LEFT):
        for it in widest.values():
            solve = {"edit": "corrective.solve", "params": _where_damped(it, damped)}
            text = f"{damped.text}; {it.text[0].lower()}{it.text[1:]}"
            yield Proposal("damp and corrective", text, make_step(**together((*damped.steps, solve))), f"{it.family}, {damped.family}")


def _where_damped(it: Solvable, damped: Damped) -> dict[str, Any]:
    """What a corrective takes, with its drivers full where the damping lets them be."""
    drivers = [d | {"full": _left(d, damped)} if d["channel"] == damped.less.control else d for d in it.params["drivers"]]
    return {**it.params, "drivers": drivers}


def _left(driver: dict[str, Any], damped: Damped) -> float:
    return float(damped.less.rest + damped.left * (driver["full"] - damped.less.rest))
