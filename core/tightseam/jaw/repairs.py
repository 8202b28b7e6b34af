"""Edits that would repair what is wrong with the lower face, found by measuring."""

from __future__ import annotations

from dataclasses import asdict, replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore, MemoryStore
from tightseam.document.model import Character, Control, CurveKey, CurveKeys, Relief, Seam
from tightseam.document.poses import far_end
from tightseam.document.units import CM_TO_MM
from tightseam.findings.finding import Repair
from tightseam.geometry.types import Floats, Ints
from tightseam.jaw.curves import JawMeter
from tightseam.jaw.movement import OPEN, driver, opened
from tightseam.jaw.poses import JawPose
from tightseam.jaw.reliefs import anatomy_at, with_reliefs
from tightseam.seams.meter import SeamMeter

SHARES = (0.0, 0.25, 0.5, 0.75, 1.0)
ROUNDS = 4
FILLED = 0.03  # cm that may be left
AHEAD = 2.0  # the most that sealed lips may stay ahead
HALVINGS = 5


def filling(character: Character, store: ArrayStore, meter: JawMeter, region: str) -> tuple[Repair, ...]:
    """A relief that fills a region which sinks in, solved from how deep it is over the opening: as deep at each vertex as that is at its
    worst, along a response that is as deep at each opening, measured again and corrected until nothing is left. None where no control
    opens the jaw."""
    control = driver(character, OPEN)
    if control is None:
        return ()
    of = meter.hollows[region]
    wanted = np.maximum(np.stack([meter.unasked(region, opened(character, share)) for share in SHARES]), 0.0)
    scratch = MemoryStore(store)
    amount, response = _fitted(wanted)
    for _ in range(ROUNDS):
        tried = with_reliefs(character, (_filler(scratch, meter, of.vertices, amount),), control, _keys(control, response))
        left = _left(meter, tried, scratch, region)
        if np.abs(left[wanted > 0]).max(initial=0.0) < FILLED:
            break
        wanted = np.maximum(wanted + left, 0.0)
        amount, response = _fitted(wanted)
    keys = _keys(control, response)
    own = amount > 0.02 * amount.max()
    params = {
        "label": anatomy_at(meter.face, int(of.vertices[amount.argmax()])),
        "part": meter.face.skin.name,
        "vertices": of.vertices[own].tolist(),
        "region": (amount[own] / amount.max()).round(5).tolist(),
        "cm": round(float(amount.max()), 5),
        "control": control.name,
        "keys": [asdict(k) for k in keys],
    }
    text = f"Fill it by a relief of {CM_TO_MM * amount.max():.1f} mm that grows as it sinks"
    return (Repair(text, "relief.add", params),)


def sealing(character: Character, store: ArrayStore, seam: Seam, poses: list[JawPose]) -> tuple[Repair, ...]:
    """How much further sealed lips have to stay in front of the teeth: the least, to one part in 32, with which a seam is within its
    limits in all ways of the jaw; none where no way helps."""
    if not character.lips:
        return ()
    sealed = [p for p in poses if "seal" in p.label]

    def clear(ahead: float) -> bool:
        changed = replace(character, lips=(replace(character.lips[0], ahead=ahead),), seams=(seam,))
        tried = SeamMeter(changed, store, Evaluator(changed, store))
        return all(r.within for p in sealed for r in tried.measure(p.values, p.closes))

    low, high = character.lips[0].ahead, AHEAD
    if low >= high or not clear(high):
        return ()
    for _ in range(HALVINGS):
        middle = (low + high) / 2
        low, high = (low, middle) if clear(middle) else (middle, high)
    return (Repair(f"Keep sealed lips ahead of the teeth by {high:.0%}", "lips.set", {"ahead": round(high, 3)}),)


def hardening(part: str, line: float) -> Repair:
    """What neck bones carry above a line, given to the head."""
    return Repair("Give it to the head", "jaw.harden_head", {"part": part, "above": round(line, 4)})


def _left(meter: JawMeter, tried: Character, store: ArrayStore, region: str) -> Floats:
    """How deep (M, K) the region still is with the relief, beyond what those that were there ask for."""
    again, of = JawMeter(meter.face, Evaluator(tried, store)), meter.hollows[region]
    deep = [of.depths(again.in_head(opened(tried, share))[meter.rows]) for share in SHARES]
    asked = [meter.asked(opened(meter.face.character, share))[of.vertices] for share in SHARES]
    return np.stack(deep) - np.stack(asked)


def _fitted(wanted: Floats) -> tuple[Floats, Floats]:
    """An amount (K,) and a response (M,) whose product comes near what is wanted (M, K): the amount of the opening at which most is, and
    how much of it each opening needs by least squares; nothing at rest."""
    amount = wanted[wanted.max(axis=1).argmax()]
    response = wanted @ amount / max(float(amount @ amount), 1e-12)
    response[0] = 0.0
    return amount, response


def _keys(control: Control, response: Floats) -> CurveKeys:
    span = far_end(control) - control.rest
    keys = (CurveKey(round(control.rest + share * span, 6), round(float(r), 5)) for share, r in zip(SHARES, response, strict=True))
    return tuple(sorted(keys, key=lambda k: k.at))


def _filler(store: ArrayStore, meter: JawMeter, vertices: Ints, amount: Floats) -> Relief:
    most = max(float(amount.max()), 1e-9)
    put = store.put
    return Relief("filler", "Filler", meter.face.skin.name, put(vertices.astype(np.int32)), put((amount / most).astype(np.float32)), most)
