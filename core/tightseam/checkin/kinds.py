"""Guessing what a part is, from its name and from its form."""

from __future__ import annotations

import re
from collections.abc import Mapping

import numpy as np

from tightseam.document.model import PartKind
from tightseam.geometry.form import Form, form_of
from tightseam.geometry.types import Floats

WORDS: tuple[tuple[PartKind, str], ...] = (
    ("lash", r"lash"),
    ("brow", r"brow"),
    ("whiskers", r"moustache|mustache|beard|whisker|sideburn"),
    ("hair", r"hair|\bbun\b|fringe|tuft|scalp|ponytail|braid"),
    ("tongue", r"tongue"),
    ("eye", r"eye|cornea|iris|sclera"),
    ("cloth", r"cloth|collar|coat|shirt|scarf|sweater|jumper|knit|hood"),
    ("body", r"body|torso|bust|chest|shoulder"),
    ("skin", r"skin|head|\bface"),
)
TEETH = re.compile(r"teeth|tooth|gum|denture")
LOWER = re.compile(r"\blow|bottom|mandib|\bdn\b|down")
UPPER = re.compile(r"\bup|\btop\b|maxill")
PLAIN = {"mesh", "object", "default", "group", "geometry", "node", "shape", "cube", "sphere", "plane", "cylinder"}
BOTH, NAME_ONLY, FORM_ONLY, AGAINST, NOTHING = 0.98, 0.85, 0.6, 0.5, 0.2


def guess_kinds(parts: Mapping[str, Floats]) -> dict[str, tuple[PartKind, float]]:
    """Kind of each part and how sure that is (0..1), from names and points (N, 3) of all parts of a head that stands upright.

    Name and form that agree are as good as certain; a name alone counts more than a form alone.
    """
    forms = {name: form_of(p) for name, p in parts.items()}
    by_form = _by_form(forms)
    found: dict[str, tuple[PartKind, float]] = {}
    for name in parts:
        named, formed = kind_of_name(name), by_form.get(name)
        if named and formed:
            same = named == formed or (named in ("hair", "whiskers", "body", "cloth", "lash", "brow") and formed == "other")
            found[name] = (named, BOTH if same else AGAINST)
        elif named:
            found[name] = (named, NAME_ONLY)
        elif formed:
            found[name] = (formed, FORM_ONLY)
        else:
            found[name] = ("other", NOTHING)
    return found


def kind_of_name(name: str) -> PartKind | None:
    """What the name says; None where it says nothing."""
    plain = re.sub(r"[^a-z]+", " ", re.sub(r"(?<=[a-z])(?=[A-Z])", " ", name).lower())
    if TEETH.search(plain):
        return "teeth lower" if LOWER.search(plain) else "teeth upper" if UPPER.search(plain) else None
    return next((kind for kind, words in WORDS if re.search(words, plain)), None)


def is_generic(name: str) -> bool:
    """Is this a name that a program gave, not a person: none, a plain word for any mesh, or one word with a number that tells nothing?"""
    word = name.strip().rstrip("0123456789").rstrip(" ._-")
    numbered = word != name.strip()
    tells = TEETH.search(word.lower()) or kind_of_name(word)
    return not word or word.lower() in PLAIN or bool(numbered and word.isalpha() and not tells)


def _by_form(forms: Mapping[str, Form]) -> dict[str, PartKind]:
    """The largest part is the skin; balls in its front are eyes; what lies between and below them inside is teeth and tongue."""
    if not forms:
        return {}
    skin = max(forms, key=lambda n: float(np.prod(np.maximum(forms[n].size, 1e-9))))
    whole = forms[skin]
    tall = float(whole.size[1])
    kinds: dict[str, PartKind] = {skin: "skin"}
    eyes = [n for n, f in forms.items() if n != skin and f.roundness < 0.04 and 0.02 < f.radius / tall < 0.15]
    kinds |= dict.fromkeys(eyes, "eye")
    if not eyes:
        return kinds
    eye_line = float(np.mean([forms[n].middle[1] for n in eyes]))
    apart = float(np.ptp([forms[n].middle[0] for n in eyes])) or 0.2 * tall
    inside = [
        n
        for n, f in forms.items()
        if n not in kinds and abs(f.middle[0] - whole.middle[0]) < 0.15 * apart and f.high[1] < eye_line and f.size[0] < 1.2 * apart
        and f.size[0] > 0.15 * apart and f.size[1] < 0.5 * apart and f.high[2] < whole.high[2]
    ]  # fmt: skip
    teeth = sorted((n for n in inside if forms[n].size[2] < 1.35 * forms[n].size[0]), key=lambda n: -forms[n].middle[1])
    if len(teeth) >= 2:
        kinds[teeth[0]], kinds[teeth[-1]] = "teeth upper", "teeth lower"
    for n in inside:
        if n not in kinds:
            kinds[n] = "tongue"
    for n, f in forms.items():
        if n in kinds or abs(f.middle[0] - whole.middle[0]) < 0.2 * apart:
            continue
        near = min(eyes, key=lambda e: abs(forms[e].middle[0] - f.middle[0]))
        eye = forms[near]
        if abs(f.middle[0] - eye.middle[0]) < eye.radius and f.middle[2] > eye.middle[2]:
            kinds[n] = "brow" if f.low[1] > eye.middle[1] + 0.5 * eye.radius and f.middle[1] > eye.high[1] - 0.6 * eye.radius else "lash"
    for n, f in forms.items():
        if n not in kinds and f.middle[1] > eye_line and f.size[0] > 0.6 * whole.size[0]:
            kinds[n] = "hair"
    return kinds
