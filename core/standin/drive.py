"""The drive table of a package as a receiver reads it: values of controls in, joints and targets out (docs/handoff.md)."""

from __future__ import annotations

import itertools
import math
from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[Any]
FORMAT, VERSION = "tight-seam-drive-table", 1
SPREAD, FADE = 0.6, 0.25  # of radial activations: docs/handoff.md


@dataclass
class Driven:
    """By joint and way ("turn_x" in degrees, "move_x" in cm) how far it goes, and how far each target is in."""

    joints: dict[tuple[str, str], float] = field(default_factory=dict)
    targets: dict[str, float] = field(default_factory=dict)

    def turn(self, joint: str, way: str, amount: float) -> None:
        self.joints[joint, way] = self.joints.get((joint, way), 0.0) + amount

    def bring_in(self, target: str, amount: float) -> None:
        self.targets[target] = self.targets.get(target, 0.0) + amount


class DriveTable:
    """Raises KeyError and ValueError for a table that is not one."""

    def __init__(self, tree: Mapping[str, Any]) -> None:
        if tree.get("format") != FORMAT or tree.get("version") != VERSION:
            raise ValueError("This is not a drive table of a version that this receiver reads.")
        self.controls: list[dict[str, Any]] = tree["controls"]
        self.rest = {c["name"]: float(c["rest"]) for c in self.controls}
        self._channels: dict[str, dict[str, str]] = tree["channels"]
        self._activations, self._drivers = tree["activations"], tree["drivers"]
        self._tables = [(t, [np.array(k) for k in t["knots"]], np.array(t["weights"], float) / 10_000) for t in tree["tables"]]

    def at(self, values: Mapping[str, float]) -> Driven:
        """What controls, joints' own ways ("jaw.turn_x") and targets' own strengths ("smile.strength") make of a rig at rest."""
        settled = self._damped(self._chained({**self.rest, **{n: v for n, v in values.items() if n in self.rest}}))
        found = Driven()
        for control in self.controls:
            for link in control["links"]:
                amount = _amount(link, settled[control["name"]])
                if "joint" in link:
                    found.turn(link["joint"], link["way"], amount)
                elif "target" in link:
                    found.bring_in(link["target"], amount)
        for name, value in values.items():
            if name not in self.rest and name in self._channels:
                found.turn(self._channels[name]["joint"], self._channels[name]["way"], value)
            elif name not in self.rest and name.endswith(".strength"):
                found.bring_in(name.removesuffix(".strength"), value)
        self._activate(found, settled)
        self._by_tables(found, settled)
        return found

    def _chained(self, own: dict[str, float]) -> dict[str, float]:
        """Controls with what others add to them, within their ranges: a chain of them settles in as many rounds as it is long."""
        settled = own
        for _ in self.controls:
            asked = dict.fromkeys(own, 0.0)
            for control in self.controls:
                for link in control["links"]:
                    if "control" in link:
                        asked[link["control"]] += _amount(link, settled[control["name"]])
            following = {
                c["name"]: own[c["name"]]
                if asked[c["name"]] == 0
                else min(max(own[c["name"]] + asked[c["name"]], min(c["low"], own[c["name"]])), max(c["high"], own[c["name"]]))
                for c in self.controls
            }
            if following == settled:
                break
            settled = following
        return settled

    def _damped(self, values: dict[str, float]) -> dict[str, float]:
        found = dict(values)
        for control in self.controls:
            name, share = control["name"], 1.0
            away = values[name] - self.rest[name]
            for damping in control["damped"]:
                if damping["way"] is None or (away >= 0) == (damping["way"] == "high") or away == 0:
                    share *= 1 - (1 - damping["left"]) * _ramp(damping, values[damping["by"]])
            found[name] = self.rest[name] + away * share
        return found

    def _activate(self, found: Driven, settled: Mapping[str, float]) -> None:
        """Targets that come in by themselves, all by what was there before any of them did."""
        before = {**found.targets}
        for activation in self._activations:
            shares = [_ramp(d, self._value(d["channel"], settled, found, before)) for d in activation["drivers"]]
            if all(shares):
                found.bring_in(activation["target"], activation["gain"] * _mixed(shares, activation["mixed"]))

    def _by_tables(self, found: Driven, settled: Mapping[str, float]) -> None:
        drivers = {d["name"]: self._driver(d, settled, found) for d in self._drivers}
        for table, knots, weights in self._tables:
            between = [_between(own, drivers[name]) for own, name in zip(knots, table["drivers"], strict=True)]
            total = np.zeros(weights.shape[1])
            for corner in itertools.product((0, 1), repeat=len(knots)):
                row, share = 0, 1.0
                for (k, t), end, own in zip(between, corner, knots, strict=True):
                    row, share = row * len(own) + min(k + end, len(own) - 1), share * (t if end else 1 - t)
                if share:
                    total += share * weights[row]
            for target, amount in zip(table["targets"], total.tolist(), strict=True):
                found.bring_in(target, amount)

    def _driver(self, driver: Mapping[str, Any], settled: Mapping[str, float], found: Driven) -> float:
        if "channel" in driver:
            of = self._channels[driver["channel"]]
            return found.joints.get((of["joint"], of["way"]), 0.0)
        if "closed" in driver:
            return 1 - math.prod(1 - min(_amount(n, settled[n["control"]]), 1.0) for n in driver["closed"])
        low, high = driver["ends"]
        return min(max(sum(_amount(n, settled[n["control"]]) for n in driver["sum"]), low), high)

    def _value(self, channel: str, settled: Mapping[str, float], found: Driven, targets: Mapping[str, float]) -> float:
        if channel in settled:
            return settled[channel]
        if channel.endswith(".strength"):
            return targets.get(channel.removesuffix(".strength"), 0.0)
        of = self._channels[channel]
        return found.joints.get((of["joint"], of["way"]), 0.0)


def _amount(link: Mapping[str, Any], value: float) -> float:
    if "gain" in link:
        return link["gain"] * value
    at, amounts = zip(*link["points"], strict=True)
    return float(np.interp(value, at, amounts))


def _ramp(ramp: Mapping[str, Any], value: float) -> float:
    return min(max((value - ramp["comesIn"]) / (ramp["full"] - ramp["comesIn"]), 0.0), 1.0)


def _mixed(shares: list[float], mixed: str) -> float:
    if mixed == "product":
        return math.prod(shares)
    corners = np.array(list(itertools.product((0.0, 1.0), repeat=len(shares))))
    apart = np.linalg.norm(corners[:, None] - corners[None], axis=2)
    wanted = np.zeros(len(corners))
    wanted[-1] = 1
    weights = np.linalg.solve(np.exp(-((apart / SPREAD) ** 2)), wanted)
    here = np.exp(-((np.linalg.norm(corners - shares, axis=1) / SPREAD) ** 2)) @ weights
    return min(max(float(here), 0.0), 1.0) * math.prod(min(s / FADE, 1.0) for s in shares)


def _between(knots: Floats, value: float) -> tuple[int, float]:
    """The knot before a value, and how far it is on to the next, 0 to 1."""
    if len(knots) == 1:
        return 0, 0.0
    inside = min(max(value, knots[0]), knots[-1])
    k = min(int(np.searchsorted(knots, inside, side="right")) - 1, len(knots) - 2)
    return k, float((inside - knots[k]) / (knots[k + 1] - knots[k]))
