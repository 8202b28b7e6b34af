"""A recipe made again on another character, with what could not be done."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadDocument, BadRequest
from tightseam.document.model import Character
from tightseam.document.progress import one_by_one
from tightseam.document.units import CM_TO_MM
from tightseam.edits.base import Edit, checked
from tightseam.edits.registry import make_step
from tightseam.edits.together import NamedEdit
from tightseam.recipes.bridge import Bridge
from tightseam.recipes.params import carried_over, part_of, speaks_of_places
from tightseam.recipes.recipe import Recipe, RecipeStep, mesh_key

Done = Literal["done", "carried over", "not done"]
OF_FILES = ("body.join", "shape.take_in")  # what came out of files was made to fit one head
FOR_THAT_HEAD = "It was made out of a file for that head. Take the file in here as well."
NO_BRIDGE = "It speaks of places on another mesh, and the two heads have too few landmarks in common to find them by."


@dataclass(frozen=True)
class Outcome:
    """What became of a step: what was done, or why it was not; `carried over` where its vertices or places were found by landmarks."""

    number: int
    edit: str
    done: Done
    text: str


@dataclass(frozen=True)
class Replay:
    """The character after all steps that could be done, and these as edits of its own."""

    character: Character
    edits: tuple[NamedEdit, ...]
    outcomes: tuple[Outcome, ...]


def replay(character: Character, store: ArrayStore, recipe: Recipe, chosen: Sequence[int] | None = None) -> Replay:
    """Make the steps, or those chosen by their numbers from 0 in the order that they are chosen in, one after another. One that cannot be
    made is left out, and said why; those after it go on. New arrays go into `store`."""
    edits, outcomes = [], []
    every = range(len(recipe.steps))
    wanted = every if chosen is None else [k for k in dict.fromkeys(chosen) if k in every]
    for k in one_by_one(wanted, "Step"):
        step = recipe.steps[k]
        try:
            params, moved = _here(step, recipe, character, store)
            edit: Edit = make_step(step.edit, params).params
            after = checked(edit.apply(character, store))
        except (BadRequest, BadDocument, KeyError) as error:
            said = str(error) if not isinstance(error, KeyError) else "It needs data that is not in the recipe."
            outcomes.append(Outcome(k, step.edit, "not done", said))
            continue
        text = edit.describe(after)
        edits.append(NamedEdit(edit=step.edit, params=params))
        outcomes.append(Outcome(k, step.edit, "done" if moved is None else "carried over", text if moved is None else f"{text}; {moved}"))
        character = after
    return Replay(character, tuple(edits), tuple(outcomes))


def _here(step: RecipeStep, recipe: Recipe, character: Character, store: ArrayStore) -> tuple[dict[str, Any], str | None]:
    """The parameters of a step on this character, and in words what was found anew; None where they are what they were."""
    part = part_of(step.params, character)
    ordered = part is not None and step.mesh in (None, mesh_key(part))
    stands = part is not None and step.points in (None, part.points)
    placed, of_files = speaks_of_places(step.params), step.edit in OF_FILES
    if (ordered and (stands or not placed)) or not (step.vertices or placed or of_files):
        return step.params, None
    if of_files:
        raise BadRequest(FOR_THAT_HEAD)
    bridge = Bridge.between(recipe.landmarks, character.landmarks)
    if bridge is None or part is None:
        raise BadRequest(NO_BRIDGE)
    there, said = {v: v for v in step.vertices}, "places by landmarks"
    if step.vertices and not ordered:
        found, far = bridge.vertices(np.array(step.places, float), np.asarray(store.get(part.points), float))
        there = dict(zip(step.vertices, found.tolist(), strict=True))
        said = f"{len(set(there.values()))} for {len(there)} vertices, {CM_TO_MM * far:.1f} mm away at most"
    return carried_over(step.params, lambda v: there[v], lambda p: bridge.places(np.array(p))[0].tolist()), said
