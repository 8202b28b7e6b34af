"""Faults that are meant: they stay on the board, and count no more."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import replace

import numpy as np

from tightseam.document.mix_model import Intended, Partner
from tightseam.mix.groups import ONE_PLACE
from tightseam.mix.report import BoardCause, BoardEnd, BoardFinding, MixReport

GROWN = 1.25  # of the size at which a fault was called intended from which it counts again


def with_intended(report: MixReport, intended: Sequence[Intended]) -> MixReport:
    """The report with what is meant told apart, cause by cause: those that count come first."""
    if not intended:
        return report
    ends = {e.name: Partner(e.control, e.way) for e in report.ends}
    findings = tuple(replace(f, intended=_meant(f, intended, ends)) for f in report.findings)
    causes = [own for cause in report.causes for own in _told_apart(cause, findings)]
    return replace(report, findings=findings, causes=tuple(sorted(causes, key=lambda c: c.intended is not None)))


def _meant(finding: BoardFinding, intended: Sequence[Intended], ends: Mapping[str, Partner]) -> int | None:
    mix = frozenset(ends[name] for name in finding.ends)
    return next((k for k, it in enumerate(intended) if _is(finding, mix, it)), None)


def _is(finding: BoardFinding, mix: frozenset[Partner], it: Intended) -> bool:
    if finding.about not in it.about or finding.size > GROWN * it.sizes.get(finding.kind, 0.0):
        return False
    if not any(mix == frozenset(p for p in meant if p is not None) for meant in it.mixes):
        return False
    away = np.linalg.norm(np.array(it.places) - finding.place_at_rest, axis=1)
    return float(away.min()) < ONE_PLACE


def _told_apart(cause: BoardCause, findings: Sequence[BoardFinding]) -> Iterator[BoardCause]:
    """A cause as those of its findings that count, and those that are meant for each reason. Links are known of its worst alone."""
    for number in dict.fromkeys(findings[k].intended for k in cause.findings):
        own = tuple(k for k in cause.findings if findings[k].intended == number)
        links = cause.links if own[0] == cause.findings[0] else ()
        yield replace(cause, findings=own, links=links, intended=number)


def as_intended(report: MixReport, cause: BoardCause, reason: str) -> Intended:
    """A cause called intended: all of its findings as they are."""
    ends = {e.name: e for e in report.ends}
    found = [report.findings[k] for k in cause.findings]
    sizes: dict[str, float] = {}
    for f in found:
        sizes[f.kind] = max(f.size, sizes.get(f.kind, 0.0))
    mixes = dict.fromkeys(_mix(ends, f) for f in found)
    return Intended(tuple(dict.fromkeys(f.about for f in found)), tuple(mixes), tuple(_spread(found)), sizes, reason)


def _mix(ends: Mapping[str, BoardEnd], finding: BoardFinding) -> tuple[Partner, Partner | None, Partner | None]:
    first, *more = (Partner(ends[name].control, ends[name].way) for name in finding.ends)
    second, third = (*more, None, None)[:2]
    return first, second, third


def _spread(findings: Sequence[BoardFinding]) -> Iterator[tuple[float, float, float]]:
    """The places of findings, none near to one that is there already."""
    seen: list[tuple[float, float, float]] = []
    for f in findings:
        if all(np.linalg.norm(np.subtract(f.place_at_rest, p)) > ONE_PLACE / 2 for p in seen):
            seen.append(f.place_at_rest)
            yield f.place_at_rest
