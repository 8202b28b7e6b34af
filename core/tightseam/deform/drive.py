"""What controls ask of their targets, straight or along curves."""

from __future__ import annotations

from collections.abc import Sequence
from functools import cached_property

import numpy as np

from tightseam.deform import backend
from tightseam.deform.curves import compile_curve
from tightseam.document.model import Control, Link, LinkKind
from tightseam.geometry.read_only import read_only
from tightseam.geometry.types import Floats, Ints

AXES = ("x", "y", "z")
STEPS = 512  # of a curve's table: within a 4e-6 part of the height of a smooth curve


class Drive:
    """Links of controls to some targets (R,): a gain for each, and curves in tables that are looked up all at once. What is asked of most
    is nothing: only gains that there are get summed up."""

    def __init__(self, rows: int, controls: int) -> None:
        self.gains = np.zeros((rows, controls))
        self._rows: list[int] = []
        self._columns: list[int] = []
        self._starts: list[float] = []
        self._tables: list[Floats] = []

    @property
    def targets(self) -> int:
        return len(self.gains)

    def add(self, row: int, control: int, link: Link) -> None:
        """What one control does to one target."""
        if not link.curve:
            self.gains[row, control] += link.gain
            return
        start, step = link.curve[0].at, max(link.curve[-1].at - link.curve[0].at, 1e-9) / STEPS
        self._rows.append(row)
        self._columns.append(control)
        self._starts.append(start)
        self._tables.append(np.append(link.gain * compile_curve(link.curve)(start + step * np.arange(STEPS + 1)), step))

    @cached_property
    def _curves(self) -> tuple[Ints, Ints, Floats, Floats, Floats]:
        """Targets, controls, starts, steps and tables of the curves."""
        tables = np.array(self._tables)
        found = np.array(self._rows), np.array(self._columns), np.array(self._starts), tables[:, -1].copy(), tables[:, :-1].copy()
        return tuple(map(read_only, found))  # type: ignore[return-value]

    @cached_property
    def _cells(self) -> Ints:
        """Where in a table of targets and controls, (R, C), each curve belongs."""
        return read_only(self._curves[0] * self.gains.shape[1] + self._curves[1])

    @cached_property
    def _straight(self) -> tuple[Ints, Ints, Floats]:
        """Targets, controls and gains of the links without a curve."""
        rows, columns = np.nonzero(self.gains)
        return rows, columns, self.gains[rows, columns]

    def asked(self, values: Floats) -> Floats:
        """What all controls together ask of each target, (R,), from their values (C,)."""
        rows, columns, gains = self._straight
        total = np.bincount(rows, gains * values[columns], self.targets).astype(float, copy=False)
        if self._rows:
            backend.current().respond(total, read_only(values), *self._curves)
        return total

    def effects(self, values: Floats) -> Floats:
        """What each control asks of each target, (R, C)."""
        found = self.gains * values
        if self._rows:
            backend.current().respond(found.reshape(-1), read_only(values), self._cells, *self._curves[1:])
        return found


def drive_of(kind: LinkKind, controls: Sequence[Control], targets: Sequence[str]) -> Drive:
    """What controls ask of targets of one kind, a row each."""
    row = {name: k for k, name in enumerate(targets)}
    found = Drive(len(targets), len(controls))
    for c, control in enumerate(controls):
        for link in control.links:
            if link.kind == kind:
                found.add(row[link.target], c, link)
    return found


def bone_drive(by: str, controls: Sequence[Control], bones: Sequence[str]) -> Drive:
    """What controls ask of the x, y and z of bones, three rows each: degrees where they are to `turn`, cm where they are to `move`."""
    row = {name: 3 * k for k, name in enumerate(bones)}
    found = Drive(3 * len(bones), len(controls))
    for c, control in enumerate(controls):
        for link in control.links:
            if link.kind == "bone" and link.by == by and link.axis is not None:
                found.add(row[link.target] + AXES.index(link.axis), c, link)
    return found
