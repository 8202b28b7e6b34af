"""The ways to put one cause right, measured."""

from __future__ import annotations

from collections.abc import Iterable
from itertools import chain, groupby

from pydantic import TypeAdapter

from tightseam.document.progress import one_by_one, part_of_it
from tightseam.mending.combined import combined
from tightseam.mending.limits import limited
from tightseam.mending.mender import MOST_HARMS, Made, Measured, Mender
from tightseam.mending.mending import Mending
from tightseam.mending.proposal import Kind, Proposal
from tightseam.mending.proposals import proposals
from tightseam.mending.swept import Swept
from tightseam.mix.report import BoardCause

MOST_MEASURED = 5  # proposals, the most promising, that are measured over everything

RIGHT: tuple[Kind, ...] = ("carrier", "shape", "relief")  # what shows others up by it was wrong before
LATE: dict[Kind, int] = {"corrective": 1, "damp and corrective": 2, "range": 4, "needs": 4}
STRONG = 3  # as late is what takes more than half of an expression

MENDINGS = TypeAdapter(list[Mending])


def mendings(swept: Swept, cause: BoardCause) -> list[Mending]:
    """What does something against a cause: of each family of proposals the least that mends it and harms nothing, or the best of it. The
    first is the one to choose: with the fewest cells left and side effects; among equals correctives come late, then what takes
    more than half of an expression in a mix, and last what takes something from one by itself. What does more harm than good is none;
    that, and two things at once, are tried where no one thing is clean."""
    return [m.mending for m in ways(swept, cause)]


def ways(swept: Swept, cause: BoardCause, harmless: bool = False) -> list[Measured]:
    """The same with what was measured; with `harmless` only what harms nothing, or is right in itself, and no more than the first that is
    clean, nor two things at once where one will do; and none that takes anything from an expression by itself, which is for somebody to
    decide."""
    search = _Search(Mender(swept, cause), harmless)
    with part_of_it(0.0, 0.7):
        search.look(proposals(swept, cause))
    if not (search.found if harmless else any(m.mending.clean for m in search.found)):
        with part_of_it(0.7, 1.0):
            search.look(combined(swept, cause) if harmless else chain(combined(swept, cause), limited(swept, cause)))
    return sorted(search.found, key=lambda m: (m.mending.left + m.mending.harms, _late(m.made.proposal)))


def _late(proposal: Proposal) -> int:
    return STRONG if proposal.strong else LATE.get(proposal.kind, 0)


class _Search:
    def __init__(self, mender: Mender, harmless: bool) -> None:
        self._mender, self._harmless = mender, harmless
        self.found: list[Measured] = []

    def look(self, tried: Iterable[Proposal]) -> None:
        families = [list(own) for _, own in groupby(tried, key=lambda p: p.family)]
        made: list[Made] = []
        with part_of_it(0.0, 0.5):
            for family in one_by_one(families, "Trying way"):
                best = self._mender.best(family)
                if best is None:
                    continue
                if self._harmless and not best.over:
                    if self._measured_clean(best):
                        return
                else:
                    made.append(best)
        with part_of_it(0.5, 1.0):
            for best in one_by_one(sorted(made, key=lambda m: m.over)[:MOST_MEASURED], "Measuring everything for way"):  # stable
                if self._measured_clean(best) and self._harmless:
                    return

    def _measured_clean(self, made: Made) -> bool:
        """Measure a way over everything, which is found where it is worth it: is it clean?"""
        most = 0 if self._harmless and made.proposal.kind not in RIGHT else MOST_HARMS
        measured = self._mender.measured(made, most)
        if measured is None or not measured.mending.worth or measured.mending.harms > most:
            return False
        self.found.append(measured)
        return measured.mending.clean
