"""What the clean cast had wrong where expressions are mixed, put right: by what "Repair all" found, and what was decided by hand."""

from __future__ import annotations

from importlib.resources import files

from tightseam.document.arrays import ArrayStore
from tightseam.document.model import Character
from tightseam.edits.registry import apply_recipe, parse_recipe


def with_mixes_mended(name: str, character: Character, store: ArrayStore) -> Character:
    """A clean member of the cast as the recipe of that name leaves it; `scripts/mend_cast.py` writes them. Of Hob three causes stay: a
    seal of one side folds his chin and draws out his lower lip, and a smile presses his lips on the lower teeth."""
    return apply_recipe(character, store, parse_recipe(files("tightseam.demo").joinpath("recipes", f"{name}.json").read_bytes()))
