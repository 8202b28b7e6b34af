"""The ways to put one cause right, measured."""

from __future__ import annotations

from collections.abc import Iterator
from itertools import groupby

from pydantic import TypeAdapter

from tightseam.document.progress import one_by_one, part_of_it
from tightseam.mending.combined import combined
from tightseam.mending.mender import Made, Measured, Mender
from tightseam.mending.mending import Mending
from tightseam.mending.proposal import Proposal
from tightseam.mending.proposals import proposals
from tightseam.mending.swept import Swept
from tightseam.mix.report import BoardCause

MOST_MEASURED = 5  # proposals, the most promising, that are measured over everything

MENDINGS = TypeAdapter(list[Mending])


def mendings(swept: Swept, cause: BoardCause) -> list[Mending]:
    """What does something against a cause: of each family of proposals the least that mends it and harms nothing, or the best of it. The
    first is the one to choose: with the fewest cells left and side effects; a corrective last among equals. What does more harm than
    good is none; two things at once are tried where no one thing is clean."""
    return [m.mending for m in ways(swept, cause)]


def ways(swept: Swept, cause: BoardCause, first: bool = False) -> list[Measured]:
    """The same with what was measured; with `first` no more are looked for than one that is clean, nor two things at once where one does
    no harm."""
    mender = Mender(swept, cause)
    with part_of_it(0.0, 0.7):
        found = _worth(mender, list(proposals(swept, cause)), first)
    if not any(m.mending.clean or (first and not m.mending.harms) for m in found):
        with part_of_it(0.7, 1.0):
            found += _worth(mender, list(combined(swept, cause)), first)
    return sorted(found, key=lambda m: (m.mending.left + m.mending.harms, m.mending.kind == "corrective"))


def _worth(mender: Mender, tried: list[Proposal], first: bool) -> list[Measured]:
    families = [list(own) for _, own in groupby(tried, key=lambda p: p.family)]
    with part_of_it(0.0, 0.5):
        made = [best for family in one_by_one(families, "Trying way") if (best := mender.best(family)) is not None]
    chosen = sorted(made, key=lambda m: m.over)[:MOST_MEASURED]  # stable: the order of kinds
    with part_of_it(0.5, 1.0):
        return list(_until_clean(mender, chosen, first))


def _until_clean(mender: Mender, chosen: list[Made], first: bool) -> Iterator[Measured]:
    for made in one_by_one(chosen, "Measuring everything for way"):
        found = mender.measured(made)
        if found is not None and found.mending.worth:
            yield found
            if first and found.mending.clean:
                return
