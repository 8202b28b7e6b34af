"""A sweep against an earlier one."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Literal, TypeVar

from tightseam.mix.finding import Fault
from tightseam.mix.report import BoardFinding, MixReport

LEAST = 0.1  # of a limit by which a finding has to change to be told

How = Literal["new", "worse", "better", "gone"]
ORDER: tuple[How, ...] = ("new", "worse", "better", "gone")
F = TypeVar("F", bound=Fault)
K = TypeVar("K", bound=Hashable)


@dataclass(frozen=True)
class MixChange:
    """A finding of either report that the other has not, or has of another size."""

    how: How
    finding: BoardFinding
    before: float | None


def changes(before: MixReport, after: MixReport) -> list[MixChange]:
    """What is new, worse, better and gone, in that order, the worst of each first. Findings are the same by their ends, kind and place."""
    found = []
    for how, was, now in changed(_of_report(before), _of_report(after), lambda f: LEAST * f.limit):
        told = now or was
        assert told is not None
        found.append(MixChange(how, told, was.size if was else None))
    return sorted(found, key=lambda c: (ORDER.index(c.how), -c.finding.excess, c.finding.moment))


def _of_report(report: MixReport) -> dict[tuple[object, ...], BoardFinding]:
    return worst_by(report.findings, lambda f: (f.ends, f.strengths, f.kind, f.about, f.place))


def worst_by(findings: Iterable[F], key: Callable[[F], K]) -> dict[K, F]:
    """Of those with the same key the worst."""
    found: dict[K, F] = {}
    for f in sorted(findings, key=lambda f: -f.excess):
        found.setdefault(key(f), f)
    return found


def changed(before: Mapping[K, F], after: Mapping[K, F], least: Callable[[F], float]) -> Iterator[tuple[How, F | None, F | None]]:
    """How faults of the same key have changed, those that do by more than the `least`, with what they were and are; None where they are
    not."""
    for key in {**before, **after}:
        was, now = before.get(key), after.get(key)
        if was is None or now is None:
            yield "new" if was is None else "gone", was, now
        elif abs(now.size - was.size) > least(now):
            yield "worse" if now.size > was.size else "better", was, now
