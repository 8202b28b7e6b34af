"""A sweep against an earlier one."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from tightseam.mix.report import BoardFinding, MixReport

LEAST = 0.1  # of a limit by which a finding has to change to be told

How = Literal["new", "worse", "better", "gone"]


@dataclass(frozen=True)
class MixChange:
    """A finding of either report that the other has not, or has of another size."""

    how: How
    finding: BoardFinding
    before: float | None


def changes(before: MixReport, after: MixReport) -> list[MixChange]:
    """What is new, worse, better and gone, in that order, the worst of each first. Findings are the same by their ends, kind and place."""
    known, now = _by_place(before), _by_place(after)
    found = [MixChange("new", f, None) for key, f in now.items() if key not in known]
    for key in now.keys() & known.keys():
        grown = (now[key].size - known[key].size) / now[key].limit
        if abs(grown) > LEAST:
            found.append(MixChange("worse" if grown > 0 else "better", now[key], known[key].size))
    found += [MixChange("gone", f, f.size) for key, f in known.items() if key not in now]
    order = ("new", "worse", "better", "gone")
    return sorted(found, key=lambda c: (order.index(c.how), -c.finding.excess, c.finding.moment))


def _by_place(report: MixReport) -> dict[tuple[object, ...], BoardFinding]:
    """The worst finding of each cell, kind and place."""
    found: dict[tuple[object, ...], BoardFinding] = {}
    for f in report.findings:  # worst first
        found.setdefault((f.ends, f.strengths, f.kind, f.about, f.place), f)
    return found
