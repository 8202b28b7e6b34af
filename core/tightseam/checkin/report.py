"""All checks of a head, the worst first."""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace

from tightseam.checkin.brows import brow_checks
from tightseam.checkin.check import Check
from tightseam.checkin.eyes import eye_checks
from tightseam.checkin.lids import lid_checks
from tightseam.checkin.limits import limits_with
from tightseam.checkin.mesh import mesh_checks
from tightseam.checkin.mirror import mirror_checks
from tightseam.checkin.mouth import mouth_checks
from tightseam.checkin.parts import part_checks
from tightseam.checkin.subject import Subject
from tightseam.checkin.topology import topology_checks
from tightseam.checkin.zones import lid_zones, lip_zone
from tightseam.document.arrays import ArrayStore
from tightseam.document.kept import remembered
from tightseam.document.model import Character
from tightseam.document.progress import tell


@dataclass(frozen=True)
class Report:
    """The checks, sorted: faults, looks, fine, waived; and the limits they were held against."""

    checks: tuple[Check, ...]
    limits: dict[str, float]

    def of(self, key: str) -> Check:
        return next(c for c in self.checks if c.key == key)

    def with_check(self, check: Check) -> Report:
        """The report with one check more, in its place."""
        return replace(self, checks=tuple(sorted([*self.checks, check], key=lambda c: c.grave)))

    def count(self, verdict: str) -> int:
        """Checks of that verdict that nobody waived."""
        return sum(c.verdict == verdict and c.waived is None for c in self.checks)


@remembered(Report, "parts", "checkin")
def check_in(character: Character, store: ArrayStore) -> Report:
    """Check every part of a head as it stands in the neutral, with the character's own limits and waivers."""
    limits = limits_with(character.checkin.limits)
    waived = character.checkin.waived
    found = [replace(c, waived=waived.get(c.key) if c.verdict != "fine" else None) for c in _checks(Subject(character, store, limits))]
    return Report(tuple(sorted(found, key=lambda c: c.grave)), limits)


def _checks(subject: Subject) -> Iterator[Check]:
    lids, lips = lid_zones(subject), lip_zone(subject)
    groups: tuple[tuple[str, Callable[[], Iterable[Check]]], ...] = (
        ("parts", lambda: part_checks(subject)),
        ("mouth", lambda: mouth_checks(subject, lips)),
        ("lids", lambda: lid_checks(subject, lids)),
        ("eyes", lambda: eye_checks(subject)),
        ("brows", lambda: brow_checks(subject)),
        ("topology", lambda: topology_checks(subject, lids, lips)),
        ("symmetry", lambda: mirror_checks(subject)),
        ("meshes", lambda: mesh_checks(subject)),
        ("what is not found", lambda: _not_found(subject)),
    )
    for k, (about, checks) in enumerate(groups):
        tell(k / len(groups), f"Checking {about}")
        yield from checks()


def _not_found(subject: Subject) -> Iterator[Check]:
    """What could not be checked, because it was not found, is said and not passed over."""
    lost = []
    if subject.skin is not None:
        lost += [f"lids {s}" for s in ("L", "R") if s in subject.balls and s not in subject.lids]
        lost += [f"eyeball {s}" for s in ("L", "R") if s not in subject.balls]
        if subject.lips is None:
            lost.append("mouth")
    if lost:
        yield Check(
            "not_found", "Openings of the face", "skin", "look", f"not found: {', '.join(lost)}",
            "What is not found is not checked.", "Set the kinds of the parts; then place landmarks by hand at Landmarks.",
        )  # fmt: skip
