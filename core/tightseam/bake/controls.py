"""What controls do by other means than shapes and bones, as a shape for each of them."""

from __future__ import annotations

from collections.abc import Collection, Mapping
from dataclasses import replace

import numpy as np

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import ArrayStore
from tightseam.document.change import at_rest_by_themselves, with_links_to
from tightseam.document.make import make_delta
from tightseam.document.model import Character, Link, LinkKind, Shape
from tightseam.document.poses import far_end


def with_effects_baked(character: Character, store: ArrayStore, kinds: Collection[LinkKind], values: Mapping[str, float]) -> Character:
    """The character with a shape in place of what each control does by links of some kinds: as it looks at the control's far end, alone,
    beside `values` of the others. These links are gone; what they led to is still there."""
    alone = at_rest_by_themselves(character)  # what they add to a control's effect they go on adding
    evaluator = Evaluator(alone, store)
    still = evaluator.stages(values).sealed
    taken = {s.name for s in character.shapes}
    shapes, controls = [], []
    for control in character.controls:
        end = far_end(control)
        own = tuple(n for n in control.links if n.kind in kinds)
        if own and end != control.rest:
            only = replace(alone, controls=tuple(replace(c, links=own) if c is control else c for c in character.controls))
            offsets = (Evaluator(only, store).stages({**values, control.name: end}).sealed - still).astype(np.float64)
            deltas = [make_delta(store, p.name, offsets[evaluator.meshes.rows(p.name)]) for p in character.parts]
            name = control.name if control.name not in taken else f"{control.name}_{own[0].kind}s"
            shapes.append(Shape(name, control.label, tuple(d for d in deltas if d is not None)))
            control = replace(control, links=(*control.links, Link("shape", name, 1 / (end - control.rest))))
        controls.append(control)
    left = with_links_to(controls, dict.fromkeys(kinds, ()))
    return replace(character, shapes=(*character.shapes, *shapes), controls=left)
