"""A recipe cut from the history of a character."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from typing import Any

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.edits.together import NamedEdit, steps_of
from tightseam.recipes.params import part_of, vertices_in
from tightseam.recipes.recipe import Recipe, RecipeStep, mesh_key

DIGITS = 4  # of a place in cm


def cut_recipe(name: str, history: Iterable[tuple[Character, ArrayStore, NamedEdit, str]], last: Character) -> Recipe:
    """From the states of a character before each edit, the edit and what was said of it, in order, and the state in the end. Edits that
    were made together are steps of their own; only the first of them is told of with its vertices where one of them changes a mesh."""
    steps = [step for before, store, edit, text in history for step in _steps(before, store, edit, text)]
    return Recipe(name, tuple(steps), {m.name: m.point for m in last.landmarks})


def _steps(before: Character, store: ArrayStore, edit: NamedEdit, text: str) -> Sequence[RecipeStep]:
    return [_step(before, store, one.edit, one.params, text) for one in steps_of(edit)]


def _step(before: Character, store: ArrayStore, edit: str, params: dict[str, Any], text: str) -> RecipeStep:
    vertices = sorted(set(vertices_in(params)))
    part = part_of(params, before)
    if part is None or not vertices or vertices[-1] >= part.vertex_count:
        return RecipeStep(edit, params, text, *((None, None) if part is None else (mesh_key(part), part.points)))
    places = np.round(np.asarray(store.get(part.points), float)[vertices], DIGITS).tolist()
    return RecipeStep(edit, params, text, mesh_key(part), part.points, tuple(vertices), tuple(map(tuple, places)))
