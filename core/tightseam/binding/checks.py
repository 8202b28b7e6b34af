"""What is wrong with weights: findings with the vertices, the bone to blame, and an edit that repairs them."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np

from tightseam.binding.carriers import made_bone, usual_carrier
from tightseam.binding.finding import NONE, count_said, of_vertices, of_weights
from tightseam.binding.first_weights import heat
from tightseam.binding.strays import OFF, Strays
from tightseam.document.arrays import ArrayStore
from tightseam.document.chains import chain_of
from tightseam.document.derived import derived
from tightseam.document.errors import BadRequest
from tightseam.document.kept import remembered
from tightseam.document.labels import part_label
from tightseam.document.lookup import binding as find_binding
from tightseam.document.model import Bone, Character, Part, PartKind
from tightseam.document.progress import one_by_one
from tightseam.document.sections import MEASURED
from tightseam.findings.finding import Finding
from tightseam.geometry.types import Floats
from tightseam.weights.patch import Patch
from tightseam.weights.rows import MOST_RECEIVED

RIGID: dict[PartKind, str] = {"eye": "its eye bone", "teeth upper": "the skull", "teeth lower": "the jaw"}


@derived("parts", "bones", "landmarks")
def reference_weights(character: Character, store: ArrayStore) -> Floats | None:
    """The weights (N, B) the skin would be given automatically, to compare with; None where landmarks or bones are missing for that."""
    skin = next((p for p in character.parts if p.kind == "skin"), None)
    if skin is None:
        return None
    try:
        return heat(character, store, skin)
    except BadRequest:
        return None


@remembered(list[Finding], *MEASURED)
def weight_findings_of(character: Character, store: ArrayStore) -> list[Finding]:
    """All findings of all parts, the skin held against what it would be given automatically."""
    return weight_findings(character, store, reference_weights(character, store))


def weight_findings(character: Character, store: ArrayStore, reference: Floats | None = None) -> list[Finding]:
    """All findings of all parts, in the order of the parts; none without bones. Without a `reference` for the skin, weight that reaches
    too far while it hangs together with where it belongs is not found."""
    if not character.bones:
        return []
    return [finding for part in one_by_one(character.parts, "part") for finding in _of_part(character, store, part, reference)]


def unsound_weights(character: Character, store: ArrayStore) -> Iterator[Finding]:
    """Weights that no receiver takes: parts that only helpers carry, vertices without weight, totals that are not 1."""
    for part in character.parts:
        bound = find_binding(character, part.name)
        if bound is not None and bound.influences and bound.ride is None:
            patch = Patch(character, store, part.name, range(part.vertex_count), [])
            rows = patch.rows * [b.role == "deform" for b in character.bones]
            label = part_label(part.name)
            yield from _totals(part, rows, label) if rows.any() else [_helper_bound(character, part, patch.rows, label)]


def _of_part(character: Character, store: ArrayStore, part: Part, reference: Floats | None) -> Iterator[Finding]:
    bound = find_binding(character, part.name)
    label = part_label(part.name)
    if bound is not None and bound.ride is not None:
        return
    if bound is None or not bound.influences:
        said = "It has no carrier: it stays where it is while the head moves."
        yield of_weights("idle", part, None, f"{label} is idle", said, NONE, *_usual(character, part))
        return
    patch = Patch(character, store, part.name, range(part.vertex_count), [])
    rows = patch.rows * [b.role == "deform" for b in character.bones]
    if not rows.any():
        yield _helper_bound(character, part, patch.rows, label)
        return
    yield from _mixed(character, part, rows, label)
    yield from _off_chain(character, part, rows, label)
    if part.kind not in RIGID:
        known = reference if part.kind == "skin" and reference is not None and len(reference) == len(rows) else None
        yield from Strays(character, store, part, rows, label, known).findings()
    yield from _totals(part, rows, label)
    many = np.flatnonzero((rows > 0).sum(axis=1) > MOST_RECEIVED)
    if len(many):
        said = f"{count_said(many)} more than {MOST_RECEIVED} influences; receivers drop the rest."
        yield of_vertices("too_many", part, None, f"Too many influences on {label}", said, many, "weights.cap", most=MOST_RECEIVED)


def _helper_bound(character: Character, part: Part, rows: Floats, label: str) -> Finding:
    """Helpers move other bones and carry nothing themselves."""
    helper = character.bones[int(rows.sum(axis=0).argmax())]
    said = f"{helper.label} is a helper: it moves other bones and deforms nothing, so this part collapses."
    return of_weights("helper", part, helper.name, f"{label} is bound to a helper", said, NONE, *_usual(character, part))


def _usual(character: Character, part: Part) -> tuple[str | None, dict[str, Any]]:
    """The edit that gives a part to what should carry it."""
    chain = [b.name for b in chain_of(character.bones, "tongue")] if part.kind == "tongue" else []
    if chain:
        return "binding.set_carrier", {"part": part.name, "carrier": "chain" if len(chain) > 1 else "rigid", "bones": chain}
    carrier = _rightful(character, part)
    if carrier is None:  # no one bone is known to carry it: skin, cloth, and what nobody has said the kind of
        return "binding.weigh", {"part": part.name, "how": "heat"}
    return _carrier(part, carrier)


def _mixed(character: Character, part: Part, rows: Floats, label: str) -> Iterator[Finding]:
    """Parts that are hard are carried by one bone alone."""
    if part.kind not in RIGID:
        return
    shares = rows.sum(axis=0) / max(float(rows.sum()), 1e-12)
    main = _rightful(character, part) or character.bones[int(shares.argmax())]
    others = [k for k in np.argsort(-shares) if shares[k] > 1e-6 and character.bones[k].name != main.name]
    if not others:
        return
    guilty = character.bones[int(others[0])]
    touched = np.flatnonzero(rows[:, others].sum(axis=1) > 1e-6)
    said = f"{guilty.label} carries {shares[others[0]]:.0%} of it. It is hard, and belongs to {RIGID[part.kind]} alone."
    yield of_weights("mixed", part, guilty.name, f"{label} is carried by {guilty.label}", said, touched, *_carrier(part, main))


def _off_chain(character: Character, part: Part, rows: Floats, label: str) -> Iterator[Finding]:
    """A tongue is carried along its own bones."""
    chain = [b.name for b in chain_of(character.bones, "tongue")]
    if part.kind != "tongue" or not chain:
        return
    others = [k for k, b in enumerate(character.bones) if b.name not in chain]
    foreign = rows[:, others].sum(axis=1)
    touched = np.flatnonzero(foreign > OFF)
    if len(touched):
        guilty = character.bones[others[int(rows[:, others].sum(axis=0).argmax())]]
        said = f"{guilty.label} carries {foreign.mean():.0%} of it, beside its own bones."
        title = f"{label} is carried by {guilty.label}"
        yield of_weights("mixed", part, guilty.name, title, said, touched, *_usual(character, part))


def _totals(part: Part, rows: Floats, label: str) -> Iterator[Finding]:
    total = rows.sum(axis=1)
    bare = np.flatnonzero(total < 1e-6)
    if len(bare):
        said = f"{count_said(bare)} no weight at all and stay where they are."
        yield of_vertices("unweighted", part, None, f"Unweighted vertices on {label}", said, bare, "weights.mend")
    off = np.flatnonzero((np.abs(total - 1) > OFF) & (total >= 1e-6))
    if len(off):
        said = f"{count_said(off)} totals from {total[off].min():.2f} to {total[off].max():.2f}: they shrink or swell as the head moves."
        yield of_vertices("total", part, None, f"Totals are not 1 on {label}", said, off, "weights.normalise")


def _rightful(character: Character, part: Part) -> Bone | None:
    """The bone that should carry a part of that kind, where it is there."""
    wanted = usual_carrier(part)
    return made_bone(character.bones, wanted) if wanted else None


def _carrier(part: Part, bone: Bone | None) -> tuple[str | None, dict[str, Any]]:
    if bone is None:
        return None, {}
    return "binding.set_carrier", {"part": part.name, "carrier": "rigid", "bones": [bone.name]}
