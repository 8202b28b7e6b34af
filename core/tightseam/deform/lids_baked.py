"""Lids for formats that know shapes alone: what each control closes, as a shape."""

from __future__ import annotations

from dataclasses import replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import without_lid_links
from tightseam.document.make import make_delta
from tightseam.document.model import Character, Control, Link, Shape
from tightseam.document.poses import far_end, rest_values


def with_lids_baked(character: Character, store: ArrayStore) -> Character:
    """The character without lids that close on an arc and without eye relief: each control that closes lids gets a shape in their place,
    as both look together at the control's far end with the eyes straight ahead.

    On the way there, mixed, and for other gazes it comes out otherwise than on the arc.
    """
    if not character.lids:
        return character
    evaluator = Evaluator(character, store)
    rest = rest_values(character)
    still = evaluator.stages(rest).relieved
    taken = {s.name for s in character.shapes}
    shapes: list[Shape] = []
    controls: list[Control] = []
    for control in character.controls:
        end = far_end(control)
        if end == control.rest or all(k.kind != "lid" for k in control.links):
            controls.append(control)
            continue
        name = control.name if control.name not in taken else f"{control.name}_lids"
        only = replace(character, controls=tuple(_lids_alone(c) if c is control else c for c in character.controls))
        offsets = (Evaluator(only, store).stages(rest | {control.name: end}).relieved - still).astype(np.float64)
        made = [make_delta(store, p.name, offsets[evaluator.meshes.rows(p.name)]) for p in character.parts]
        shapes.append(Shape(name, control.label, tuple(d for d in made if d is not None)))
        controls.append(replace(control, links=(*control.links, Link("shape", name, 1 / (end - control.rest)))))
    return replace(character, shapes=(*character.shapes, *shapes), controls=without_lid_links(controls), lids=(), reliefs=())


def _lids_alone(control: Control) -> Control:
    return replace(control, links=tuple(k for k in control.links if k.kind == "lid"))
