"""What causes a finding: each link of its controls left out in turn, and the finding measured again."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.labels import control_label, target_label
from tightseam.document.model import Character, Link, LinkKind
from tightseam.mix.finding import MixFinding
from tightseam.mix.meter import MixMeter
from tightseam.mix.sweeper import Sweeper

LEAST = 0.02  # of a finding that goes with a link from which this has a share in it


@dataclass(frozen=True)
class LinkCause:
    """A link of a control, or by itself a bone's own channel or a corrective, of that `kind`; what it is `said` to be, what the finding is
    `without` it, and the share of it that goes."""

    control: str
    kind: LinkKind | Literal["channel", "corrective"]
    target: str
    said: str
    without: float
    share: float


class CauseFinder:
    """Finds causes in one character, by a sweeper that has measured it."""

    def __init__(self, character: Character, store: ArrayStore, sweeper: Sweeper) -> None:
        self._character, self._store, self._sweeper = character, store, sweeper

    def of(self, finding: MixFinding) -> list[LinkCause]:
        """The links that have a share in a finding, the largest first. What two of them do together is in the share of both."""
        meter = self._sweeper.meter
        whole = meter.size_of(finding)
        found = []
        for control, link in self._links(finding):
            left = meter.size_of(finding, Evaluator(_without(self._character, control, link), self._store))
            said = f"{control_label(self._character, control)} → {target_label(self._character, link.kind, link.target)}"
            found.append(LinkCause(control, link.kind, link.target, said, left, _share(left, whole)))
        found += [*self._channels(finding, meter, whole), *self._correctives(finding, meter, whole)]
        return sorted((c for c in found if c.share > LEAST), key=lambda c: -c.share)

    def _links(self, finding: MixFinding) -> Iterator[tuple[str, Link]]:
        """The links of the finding's controls, and of those they drive."""
        controls = {c.name: c for c in self._character.controls}
        reached = [self._sweeper.ends[e].control for e in finding.cell.ends]
        for name in reached:  # grows as it goes
            for link in controls[name].links if name in controls else ():
                if link.kind != "control":
                    yield name, link
                elif link.target not in reached:
                    reached.append(link.target)

    def _correctives(self, finding: MixFinding, meter: MixMeter, whole: float) -> Iterator[LinkCause]:
        """Correctives that come in by themselves where the finding is."""
        values = finding.cell.values(self._character, self._sweeper.ends)
        rig = Evaluator(self._character, self._store).rig
        amounts = rig.activations.amounts(rig.skeleton, values, rig.strengths(values))
        for k in rig.activations.rows[amounts != 0].tolist():
            shape = self._character.shapes[k]
            muted = tuple(replace(s, muted=True) if s is shape else s for s in self._character.shapes)
            left = meter.size_of(finding, Evaluator(replace(self._character, shapes=muted), self._store))
            yield LinkCause(shape.name, "corrective", shape.name, f"Corrective {shape.label}", left, _share(left, whole))

    def _channels(self, finding: MixFinding, meter: MixMeter, whole: float) -> Iterator[LinkCause]:
        """Bones' own channels: those have no links, but can be left out themselves."""
        controls = {c.name for c in self._character.controls}
        for dialled in finding.cell.dialled:
            channel = self._sweeper.ends[dialled.end].control
            if channel not in controls:
                left = meter.size_of(replace(finding, cell=finding.cell.without(dialled.end)))
                yield LinkCause(channel, "channel", channel, control_label(self._character, channel), left, _share(left, whole))


def _share(left: float, whole: float) -> float:
    return 1 - left / whole if whole else 0.0


def _without(character: Character, control: str, link: Link) -> Character:
    """The character with one link less."""
    controls = tuple(replace(c, links=tuple(n for n in c.links if n is not link)) if c.name == control else c for c in character.controls)
    return replace(character, controls=controls)
