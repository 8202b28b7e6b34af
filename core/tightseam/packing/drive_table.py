"""What brings a package's joints and targets where they belong: the table that goes along, as files know nothing that drives.

docs/handoff.md says what each entry means."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from tightseam.bake.activation_grid import ActivationGrid
from tightseam.bake.fitted import Fitted
from tightseam.deform.curves import compile_curve
from tightseam.document.channels import AXES
from tightseam.document.joint_names import joint_names
from tightseam.document.model import Activation, Character, Control, CurveKeys, Link
from tightseam.document.mouth_model import CORNERS, SEALS

FORMAT = "tight-seam-drive-table"
VERSION = 1
STEPS = 128  # of a curve between its first and its last key
TENTHS_OF_THOUSANDTHS = 10_000  # weights are whole numbers of these
DRIVEN = ("bone", "shape", "control")


def drive_table(fitted: Fitted) -> dict[str, Any]:
    """Controls with what they do to joints, targets and one another; what brings targets in by itself; and the tables of those that stand
    in for lids and lips, with the drivers these go by."""
    baked, true = fitted.baked.character, fitted.true.character
    joints = joint_names(baked)
    ways = [f"{by}_{axis}" for by in ("turn", "move") for axis in AXES]
    return {
        "format": FORMAT,
        "version": VERSION,
        "controls": [_control(c, joints) for c in baked.controls],
        "channels": {f"{bone}.{way}": {"joint": joint, "way": way} for bone, joint in joints.items() for way in ways},
        "activations": [_activation(s.name, s.activation) for s in baked.shapes if s.activation is not None],
        "drivers": _drivers(true, fitted.grids),
        "tables": [_table(g) for g in fitted.grids],
    }


def _control(control: Control, joints: Mapping[str, str]) -> dict[str, Any]:
    return {
        "name": control.name, "label": control.label, "low": control.low, "high": control.high, "rest": control.rest,
        "links": [_link(n, joints) for n in control.links if n.kind in DRIVEN],
        "damped": [
            {"by": d.by, "comesIn": d.comes_in, "full": d.full, "left": d.left, "way": d.way} for d in control.damped
        ],
    }  # fmt: skip


def _link(link: Link, joints: Mapping[str, str]) -> dict[str, Any]:
    to: dict[str, Any] = {link.kind: link.target}
    if link.kind == "bone":
        to = {"joint": joints[link.target], "way": f"{link.by}_{link.axis}"}
    elif link.kind == "shape":
        to = {"target": link.target}
    return to | _amount(link.gain, link.curve)


def _amount(gain: float, curve: CurveKeys) -> dict[str, Any]:
    if not curve:
        return {"gain": gain}
    at = np.linspace(curve[0].at, curve[-1].at, STEPS + 1 if len(curve) > 1 else 1)
    return {"points": np.stack([at, gain * compile_curve(curve)(at)], axis=1).tolist()}


def _activation(target: str, activation: Activation) -> dict[str, Any]:
    drivers = [{"channel": d.channel, "comesIn": d.comes_in, "full": d.full} for d in activation.drivers]
    return {"target": target, "drivers": drivers, "mixed": activation.mixed, "gain": activation.gain}


def _drivers(true: Character, grids: tuple[ActivationGrid, ...]) -> list[dict[str, Any]]:
    """What the tables go by: a channel of a joint as it is, how far a lid is closed by controls, and sums within their ends."""
    wanted = dict.fromkeys(axis.driver for grid in grids for axis in grid.axes)
    lids = {name for pair in true.lids for name in pair.names}
    found: list[dict[str, Any]] = []
    for name in wanted:
        kind, ends = ("lid", None) if name in lids else ("seal", (0, 1)) if name in SEALS else ("corner", (-1, 1))
        if name not in lids and name not in (*SEALS, *CORNERS):
            found.append({"name": name, "channel": name})
            continue
        links = [
            {"control": c.name, **_amount(n.gain, n.curve)} for c in true.controls for n in c.links if (n.kind, n.target) == (kind, name)
        ]
        found.append({"name": name, "closed": links} if ends is None else {"name": name, "sum": links, "ends": ends})
    return found


def _table(grid: ActivationGrid) -> dict[str, Any]:
    return {
        "name": grid.name,
        "drivers": [axis.driver for axis in grid.axes],
        "knots": [axis.knots.tolist() for axis in grid.axes],
        "targets": list(grid.targets),
        "weights": np.rint(grid.weights * TENTHS_OF_THOUSANDTHS).astype(int).tolist(),
    }
