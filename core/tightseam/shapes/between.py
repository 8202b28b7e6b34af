"""In-betweens: shapes that are there only around a strength of another."""

from __future__ import annotations

from dataclasses import replace

from tightseam.document.errors import BadRequest
from tightseam.document.free_name import free_name
from tightseam.document.model import Character, CurveKey, CurveKeys, Link, Shape


def with_between(character: Character, shape: Shape, at: float) -> Character:
    """The character with an empty in-between of a shape, behind it in the list: whatever control drives the shape drives it along a
    curve that is 1 where the shape is at strength `at` and nothing at 0 and at 1. BadRequest where nothing drives the shape straight."""
    name = free_name(f"{shape.name}_{round(100 * at)}", {s.name for s in character.shapes})
    controls = []
    for control in character.controls:
        gain = sum(n.gain for n in control.links if (n.kind, n.target) == ("shape", shape.name) and not n.curve)
        control = replace(control, links=(*control.links, Link("shape", name, 1.0, curve=_hill(at, gain)))) if gain else control
        controls.append(control)
    if tuple(controls) == character.controls:
        raise BadRequest(f"No control drives {shape.label} straight, so there is nothing to be between. Link one to it first.")
    made = Shape(name, f"{shape.label} {at:.0%}", ())
    k = character.shapes.index(shape) + 1
    return replace(character, shapes=(*character.shapes[:k], made, *character.shapes[k:]), controls=tuple(controls))


def _hill(at: float, gain: float) -> CurveKeys:
    """1 where the control brings the shape to `at`, level there, and nothing where it brings it to 0 and to 1."""
    keys = [CurveKey(0.0, 0.0), CurveKey(at / gain, 1.0, 0.0), CurveKey(1 / gain, 0.0)]
    return tuple(sorted(keys, key=lambda k: k.at))
