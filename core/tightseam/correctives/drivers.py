"""What drives a corrective: in a pose, on the other side, and in words."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence

from tightseam.deform.evaluator import Evaluator
from tightseam.document.channels import own_spans, strength_of
from tightseam.document.errors import BadRequest
from tightseam.document.labels import control_label
from tightseam.document.model import Character, Driver, Span
from tightseam.document.poses import away_from_rest, rest_values
from tightseam.document.shape_model import MOST_DRIVERS
from tightseam.document.twins import other_side
from tightseam.mix.rules import mirror_images

DIGITS = 6  # of a value that a driver is full at


def drivers_of(character: Character, evaluator: Evaluator, values: Mapping[str, float]) -> tuple[Driver, ...]:
    """What is away from rest in a pose, as drivers that are full there: of more than can drive one, as in a frame of a take, those that go
    farthest of their way. BadRequest where nothing is."""
    correctives = {strength_of(s.name) for s in character.shapes if s.activation is not None}
    away = [name for name in away_from_rest(character, values) if name not in correctives]
    if not away:
        raise BadRequest("Everything is at rest. Pose the head as it is to be corrected first.")
    rest = rest_values(character)
    spans = _spans(character)

    def share(name: str) -> float:
        low, high = spans[name]
        return abs(values[name] - rest.get(name, 0.0)) / max(high - low, 1e-9)

    farthest = sorted(away, key=share, reverse=True)[:MOST_DRIVERS]
    away = [name for name in away if name in farthest]
    full = evaluator.skeleton.channel_values(away, values, evaluator.rig.strengths(values))
    return tuple(Driver(name, rest.get(name, 0.0), round(float(at), DIGITS)) for name, at in zip(away, full, strict=True))


def drivers_said(character: Character, drivers: Sequence[Driver]) -> str:
    return controls_said(character, (d.channel for d in drivers))


def controls_said(character: Character, names: Iterable[str]) -> str:
    """ "Jaw open × Smile"."""
    return " × ".join(control_label(character, name) for name in names)


def mirrored_drivers(character: Character, evaluator: Evaluator, drivers: Sequence[Driver]) -> tuple[Driver, ...]:
    """What drives on the other side: the twin of a control where there is one; else the other way of the same, where that does the
    mirror image of what this way does."""
    return tuple(_mirrored(character, evaluator, d) for d in drivers)


def _mirrored(character: Character, evaluator: Evaluator, driver: Driver) -> Driver:
    spans = _spans(character)
    twin = other_side(driver.channel)
    if twin in spans:
        return Driver(twin, driver.comes_in, driver.full)
    rest = rest_values(character).get(driver.channel, 0.0)
    there = 2 * rest - driver.full
    low, high = spans[driver.channel]
    if low <= there <= high and _are_images(character, evaluator, driver.channel, driver.full, there):
        return Driver(driver.channel, 2 * rest - driver.comes_in, there)
    return driver


def _spans(character: Character) -> dict[str, Span]:
    """How far all that can drive goes, by name."""
    return own_spans(character) | {c.name: (c.low, c.high) for c in character.controls}


def _are_images(character: Character, evaluator: Evaluator, channel: str, one: float, other: float) -> bool:
    """Is what a control does at one value the mirror image of what it does at another, and not its own?"""
    rest = rest_values(character)
    still = evaluator.in_head(rest)
    both = {name: evaluator.in_head(rest | {channel: at}) - still for name, at in (("one", one), ("other", other))}
    return mirror_images(both, still).get("one") == "other"
