"""One expression of a mix doing less while another acts."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import permutations
from typing import Any

from tightseam.edits.registry import make_step
from tightseam.mending.proposal import Proposal
from tightseam.mending.swept import Swept
from tightseam.mix.report import BoardCause, BoardEnd, MixReport

LEFT = (0.8, 0.6)  # of a control, while another acts,
LESS = (0.4, 0.2)  # and where nothing that takes less will do

EditAsPlain = dict[str, Any]


@dataclass(frozen=True)
class Damped:
    """An end that is left so much of while each of the others is full, in words and as edits, its mirror image's among them."""

    less: BoardEnd
    others: tuple[BoardEnd, ...]
    left: float
    text: str
    steps: tuple[EditAsPlain, ...]

    @property
    def family(self) -> str:
        return f"{self.less.name} damped by {', '.join(e.name for e in self.others)}"


def dampings(swept: Swept, cause: BoardCause, strong: bool = False) -> Iterator[Proposal]:
    for damped in each_damped(swept, cause, LESS if strong else LEFT):
        yield Proposal("damp", damped.text, make_step(**together(damped.steps)), damped.family, strong)


def each_damped(swept: Swept, cause: BoardCause, to: Sequence[float]) -> Iterator[Damped]:
    """Of the controls of the worst finding of a cause, those they are swept on among them, each by each other, and of three and more each
    by all others; the least of each first, and so are their mirror images."""
    report = swept.report
    ends = {e.name: e for e in report.ends}
    labels = {c.name: c.label for c in swept.character.controls}
    worst = swept.worst_of(cause)
    bases = [d.end for name in worst.ends for d in report.bases.get(name, ())]
    own = [ends[name] for name in dict.fromkeys((*worst.ends, *bases)) if ends[name].control in labels]
    by_one = [(less, (other,)) for less, other in permutations(own, 2)]
    by_all = [(less, tuple(e for e in own if e is not less)) for less in own if len(own) > 2]
    for less, others in by_one + by_all:
        pairs = {pair for other in others for pair in ((less.name, other.name), (less.image or less.name, other.image or other.name))}
        while_full = " and while ".join(f"{labels[other.control]} is full" for other in others)
        for left in to:
            steps = [_damp(report, ends[of], ends[by], left) for of, by in sorted(pairs, key=lambda pair: (pair[0] != less.name, pair))]
            yield Damped(less, others, left, f"{labels[less.control]} goes only to {left:.0%} while {while_full}", tuple(steps))


def together(steps: Sequence[EditAsPlain]) -> EditAsPlain:
    """Some edits as one."""
    return steps[0] if len(steps) == 1 else {"edit": "edits.together", "params": {"steps": list(steps)}}


def _damp(report: MixReport, less: BoardEnd, other: BoardEnd, left: float) -> EditAsPlain:
    two_ways = sum(e.control == less.control for e in report.ends) > 1
    ramp = {"comes_in": other.rest, "full": other.value, "left": left}
    return {"edit": "control.damp", "params": {"control": less.control, "by": other.control, "way": less.way if two_ways else None, **ramp}}
