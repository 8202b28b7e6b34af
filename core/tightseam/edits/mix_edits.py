"""Decisions at Mix: what is only used together, what is swept together, and what is meant to look as it does."""

from __future__ import annotations

from dataclasses import replace
from typing import Annotated

from pydantic import Field

from tightseam.document.arrays import ArrayStore
from tightseam.document.basics import Point
from tightseam.document.errors import BadRequest
from tightseam.document.labels import control_label
from tightseam.document.mix_model import MOST_MIXES, Intended, Mix, MixRules, Need, Pairing, Way
from tightseam.document.model import Character
from tightseam.edits.base import Edit, checked
from tightseam.mix.ends import End, ends

MOST_RULES = 5000
Why = Annotated[str, Field(min_length=3, max_length=500, pattern=r"\S")]


class SetNeed(Edit):
    """Use a control only with another: only while that is at a value, or farther from its rest. Without a value it is used by itself."""

    control: str
    other: str
    value: float | None
    reason: Annotated[str, Field(max_length=500)] = ""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        left = tuple(n for n in character.mix.needs if (n.control, n.other) != (self.control, self.other))
        if self.value is None:
            if len(left) == len(character.mix.needs):
                raise BadRequest(f"{control_label(character, self.control)} does not need {control_label(character, self.other)}.")
            return _with(character, replace(character.mix, needs=left))
        _ends_of(character, self.control)
        if self.control == self.other:
            raise BadRequest(f"{control_label(character, self.control)} cannot need itself.")
        if not any(_reaches(end, self.value) for end in _ends_of(character, self.other)):
            raise BadRequest(
                f"{control_label(character, self.other)} is not at {self.value:g}: give a value away from its rest and in its range."
            )
        need = Need(self.control, self.other, self.value, self.reason.strip())
        return _with(character, replace(character.mix, needs=(*left, need)))

    def describe(self, character: Character) -> str:
        one, other = control_label(character, self.control), control_label(character, self.other)
        return f"{one} is used by itself" if self.value is None else f"{one} is only used with {other} from {self.value:g} on"


class SetPairing(Edit):
    """Sweep two ends of controls together, or do not, with a reason; without either as they do."""

    one: str
    one_way: Way
    other: str
    other_way: Way
    swept: bool | None
    reason: Annotated[str, Field(max_length=500)] = ""

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if self.one == self.other:
            raise BadRequest("These are two ends of one control: they never meet.")
        for name, way in ((self.one, self.one_way), (self.other, self.other_way)):
            if way not in {e.way for e in _ends_of(character, name)}:
                raise BadRequest(f"{control_label(character, name)} has no such end.")
        if self.swept is False and len(self.reason.strip()) < 3:
            raise BadRequest("Say why these are not swept together.")
        pair = {(self.one, self.one_way), (self.other, self.other_way)}
        left = tuple(p for p in character.mix.pairings if {(p.one, p.one_way), (p.other, p.other_way)} != pair)
        if self.swept is None:
            if len(left) == len(character.mix.pairings):
                raise BadRequest("Nobody has said anything of this pair.")
            return _with(character, replace(character.mix, pairings=left))
        said = Pairing(self.one, self.one_way, self.other, self.other_way, self.swept, self.reason.strip())
        return _with(character, replace(character.mix, pairings=(*left, said)))

    def describe(self, character: Character) -> str:
        pair = f"{control_label(character, self.one)} and {control_label(character, self.other)}"
        if self.swept is None:
            return f"Left it to what they do whether {pair} are swept together"
        return f"Put {pair} into the sweep" if self.swept else f"Left {pair} out of the sweep: {self.reason.strip()}"


class Intend(Edit):
    """Call a fault of the mix intended, with the reason: it stays on the board, but counts no more unless it grows."""

    about: tuple[str, ...] = Field(min_length=1, max_length=500)
    mixes: tuple[Mix, ...] = Field(min_length=1, max_length=MOST_MIXES)
    places: tuple[Point, ...] = Field(min_length=1, max_length=MOST_MIXES)
    sizes: dict[str, Annotated[float, Field(gt=0)]] = Field(min_length=1, max_length=100)
    reason: Why

    def apply(self, character: Character, store: ArrayStore) -> Character:
        _room(character.intended)
        meant = Intended(self.about, self.mixes, self.places, self.sizes, self.reason.strip())
        return checked(replace(character, intended=(*character.intended, meant)))

    def describe(self, character: Character) -> str:
        return f"Called a fault of the mix intended: {self.reason.strip()}"


class CountAgain(Edit):
    """Let a fault that was called intended count again, by its number."""

    number: Annotated[int, Field(ge=0)]

    def apply(self, character: Character, store: ArrayStore) -> Character:
        if self.number >= len(character.intended):
            raise BadRequest("This is not called intended.")
        return replace(character, intended=tuple(m for k, m in enumerate(character.intended) if k != self.number))

    def describe(self, character: Character) -> str:
        return "Let a fault of the mix that was called intended count again"


def _with(character: Character, rules: MixRules) -> Character:
    _room(rules.needs)
    _room(rules.pairings)
    return checked(replace(character, mix=rules))


def _room(said: tuple[object, ...]) -> None:
    if len(said) > MOST_RULES:
        raise BadRequest(f"{MOST_RULES:,} are the most that can be said.")


def _ends_of(character: Character, control: str) -> list[End]:
    """The ends of a control as it is swept."""
    found = [e for e in ends(character) if e.control == control]
    if not found:
        raise BadRequest(f"There is no control “{control}” that is swept.")
    return found


def _reaches(end: End, value: float) -> bool:
    return 0 < (value - end.rest) / (end.value - end.rest) <= 1 + 1e-9
