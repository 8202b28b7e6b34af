"""The lower face: curves over the opening, and a frame with reliefs, lids, seal and dual quaternions against one without."""

from __future__ import annotations

from dataclasses import replace

from tightseam.deform.evaluator import Evaluator
from tightseam.document.arrays import MemoryStore
from tightseam.document.change import with_links_to
from tightseam.document.model import Character
from tightseam.document.poses import rest_values
from tightseam.edits.jaw_edits import SetDual
from tightseam.edits.relief_edits import AddPreset
from tightseam.jaw.curves import JawMeter
from tightseam.jaw.face import LowerFace
from tightseam.jaw.findings import findings_of
from tightseam.jaw.reliefs import PRESETS

from benchmarks.lids import lidded_head
from benchmarks.timing import Row, medians

AT_MOST = 400.0  # ms for the curves of 21 openings
POSE = {"jaw_open": 0.6, "lip_seal_L": 0.5, "lip_seal_R": 0.5, "corner_L": 0.5, "smile": 0.6, "blink": 0.5, "gaze_across": 10.0}


def run(store: MemoryStore) -> list[Row]:
    head = lidded_head(store)
    for name in PRESETS:
        head = AddPreset(preset=name).apply(head, store)
    meter = JawMeter(LowerFace(head, store), Evaluator(head, store))
    values = rest_values(head)
    curves = medians({"ours": lambda: meter.measure(values)}, 5, 1)["ours"]
    found = medians({"ours": lambda: findings_of.__wrapped__(head, store)}, 3, 1)["ours"]
    return [
        Row("jaw curves, 21 openings, 12k head", curves, "design: 400 ms", AT_MOST, ">= 1x", curves <= AT_MOST),
        Row("jaw findings, 21 poses, 12k head", found, "curves", curves, "", True),
        *_frames(head, store),
    ]


def _frames(head: Character, store: MemoryStore) -> list[Row]:
    nothing = dict.fromkeys(("lid", "relief", "seal", "corner"), ())
    bare = replace(head, lids=(), eye_reliefs=(), reliefs=(), lips=(), controls=with_links_to(head.controls, nothing))
    dual = SetDual(part="skin", amount=1).apply(bare, store)
    values = rest_values(head) | POSE
    others = {"ours": Evaluator(head, store), "bare": Evaluator(bare, store), "dual": Evaluator(dual, store)}
    time = medians({name: lambda e=e: e.frame(values) for name, e in others.items()}, 60)
    return [
        Row(
            "frame with lids, reliefs and seal", time["ours"], "frame without", time["bare"], "<= 1.5x", time["ours"] <= 1.5 * time["bare"]
        ),
        Row("frame with dual quaternions", time["dual"], "linear frame", time["bare"], "<= 1.3x", time["dual"] <= 1.3 * time["bare"]),
    ]
