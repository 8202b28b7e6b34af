"""Recipes as tests write them."""

from __future__ import annotations

import json

from tightseam.edits.registry import apply_recipe, parse_recipe


def edited(character, store, *steps):
    return apply_recipe(character, store, parse_recipe(json.dumps([{"edit": e, "params": p} for e, p in steps])))
