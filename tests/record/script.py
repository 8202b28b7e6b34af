"""Edits of every kind, each done to a head by itself: what comes of it is recorded, refusals included."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import asdict
from typing import Any

import numpy as np
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import TightSeamError
from tightseam.document.model import Bone
from tightseam.edits.registry import make_step

from tests.head import Head
from tests.record.digest import changed_sections
from tests.record.taken import head_of

Steps = tuple[tuple[str, dict[str, Any]], ...]
RISING = [{"at": 0, "value": 0}, {"at": 0.6, "value": 0.3}, {"at": 1, "value": 1}]
LINE = [{"at": 0, "value": 0.25}, {"at": 0.5, "value": 0.45}, {"at": 1, "value": 0.3}]
FOLLOW = {"height": [{"at": -30, "value": 0.6}, {"at": 0, "value": 0}, {"at": 30, "value": -0.2}], "across": [], "slide": []}
OPEN = {"jaw_open": 0.7, "smile": 0.4}


class Subject:
    """A head as the script speaks of it."""

    def __init__(self, head: Head) -> None:
        self.head = head
        self.skin = head.rest("skin")

    def mark(self, name: str) -> np.ndarray:
        return np.array(next(m.point for m in self.head.character.landmarks if m.name == name))

    def near(self, mark: str, cm: float = 1.0) -> list[int]:
        """Vertices of the skin about a landmark."""
        return np.flatnonzero(np.linalg.norm(self.skin - self.mark(mark), axis=1) < cm).tolist()

    def dabs(self, mark: str, tool: str, values: dict[str, float], step: tuple[float, float, float] = (0.1, 0.05, 0.1)) -> list[dict]:
        """Two touches on the posed skin."""
        vertex = int(np.linalg.norm(self.skin - self.mark(mark), axis=1).argmin())
        place = self.head.posed("skin", values)[vertex].astype(float)
        return [{"vertex": vertex, "place": p.tolist(), "tool": tool} for p in (place, place + step)]


def rig_script(s: Subject) -> dict[str, Steps]:
    """For a head with a rig, by a name each."""
    stations = (_binding, _weights, _lids, _jaw, _shapes, _controls, _mix, _correctives, _bones, _document)
    return {f"{of.__name__[1:]}: {name}": steps for of in stations for name, steps in of(s).items()}


def _one(edit: str, **params: Any) -> Steps:
    return ((edit, params),)


def _binding(s: Subject) -> dict[str, Steps]:
    cheek = s.near("cheek_L", 2.0)
    return {
        "teeth to the head": _one("binding.set_carrier", part="teeth_lower", carrier="rigid", bones=["head"]),
        "tongue along its chain": _one("binding.set_carrier", part="tongue", carrier="chain", bones=["tongue_1", "tongue_2", "tongue_3"]),
        "brow rides by vertex": _one("binding.ride", part="brow_L", on="skin"),
        "hair rides by tuft": _one("binding.ride", part="hair", on="skin", by="tuft"),
        "eye on itself": _one("binding.ride", part="eye_L", on="eye_L"),
        "cheek by heat": _one("binding.weigh", part="skin", how="heat", vertices=cheek),
        "cheek by envelopes": _one("binding.weigh", part="skin", how="envelope", vertices=cheek, locked=["neck_1"]),
        "skin by straight lines": _one("binding.weigh", part="skin", how="straight"),
        "brow by nothing": _one("binding.weigh", part="brow_R", how="none"),
        "brow takes the skin's": _one("binding.transfer", part="brow_L", source="skin"),
        "lash takes some": _one("binding.transfer", part="lash_upper_L", source="skin", vertices=[0, 1, 2, 3]),
        "envelope": _one("bone.set_envelope", bone="jaw", inner=1.5, outer=4.0),
        "envelope without width": _one("bone.set_envelope", bone="jaw", inner=2.0, outer=2.0),
        "bones first": _one("binding.set_order", part="skin", first="bones"),
        "dual quaternions": _one("binding.set_dual", part="skin", amount=0.7),
        "dual on the neck": _one("binding.set_dual", part="skin", amount=1.0, vertices=s.near("chin_under", 4.0), soft=0.5),
    }


def _weights(s: Subject) -> dict[str, Steps]:
    on = {"part": "skin", "vertices": s.near("cheek_L", 1.6)}
    chin = {"part": "skin", "vertices": s.near("chin_front", 1.5)}
    dirty = ("weights.add", {**on, "bone": "neck_1", "amount": 0.2, "keep_total": False})
    painting = {"part": "skin", "bone": "jaw", "brush": {"radius": 1.2, "strength": 0.6}, "values": OPEN, "mirror": True}
    table = {"part": "skin", "vertices": on["vertices"][:2], "bones": ["jaw", "head"], "weights": [[0.25, 0.75], [0.5, 0.5]]}
    return {
        "set": _one("weights.set", **on, bone="jaw", value=0.4),
        "set on both sides": _one("weights.set", **on, bone="jaw", value=0.4, mirror=True),
        "set, the rest locked": _one("weights.set", **on, bone="jaw", value=0.9, locked=["head", "neck_2"]),
        "set too much": _one("weights.set", **on, bone="jaw", value=1.5),
        "set on a vertex that is not there": _one("weights.set", part="skin", vertices=[10**7], bone="jaw", value=1),
        "add": _one("weights.add", **on, bone="neck_2", amount=0.15),
        "take": _one("weights.add", **chin, bone="jaw", amount=-0.3),
        "add without keeping the total": (dirty,),
        "multiply": _one("weights.multiply", **chin, bone="jaw", factor=0.5),
        "remap": _one("weights.remap", **chin, bone="jaw", low=0.1, high=0.9, gamma=1.6),
        "smooth": _one("weights.smooth", **on, strength=0.7, steps=3),
        "smooth one bone": _one("weights.smooth", **on, bone="jaw", steps=2),
        "mend": _one("weights.mend", **on),
        "sharpen": _one("weights.sharpen", **on, amount=0.8),
        "even out": _one("weights.even", **on),
        "even out by island": _one("weights.even", part="hair", vertices=list(range(0, 400, 3)), by="island"),
        "move": _one("weights.move", **chin, bone="jaw", to="head", share=0.6),
        "swap": _one("weights.swap", **on, bone="jaw", to="head"),
        "cap": (("weights.smooth", {**on, "steps": 4}), ("weights.cap", {**on, "most": 2})),
        "clean": (("weights.smooth", {**on, "steps": 4}), ("weights.clean", {**on, "below": 0.05})),
        "normalise": (dirty, ("weights.normalise", on)),
        "copy across": (dirty, ("weights.copy_across", on)),
        "paint": _one("weights.paint", painting=painting, dabs=s.dabs("cheek_L", "add", OPEN)),
        "paint smooth through": _one(
            "weights.paint",
            painting=painting | {"brush": {"radius": 0.9, "strength": 0.5, "through": True}},
            dabs=s.dabs("lip_lower", "smooth", OPEN),
        ),
        "table": _one("weights.table", **table),
        "table, others kept": _one("weights.table", **table, others="keep"),
        "keep a selection": _one("selection.keep", name="Cheek", **on),
        "remove a selection": (("selection.keep", {"name": "Cheek", **on}), ("selection.remove", {"name": "Cheek"})),
    }


def _mix(_: Subject) -> dict[str, Steps]:
    need = {"control": "pucker", "other": "jaw_open", "value": 0.5, "reason": "Only then."}
    back = {"control": "jaw_open", "other": "pucker", "value": 1.0}
    pair = {"one": "smile", "one_way": "high", "other": "blink", "other_way": "high"}
    smile, pucker = ({"control": name, "way": "high"} for name in ("smile", "pucker"))
    fault = {"about": ["skin"], "mixes": [[smile, pucker, None]], "places": [[2.0, 14.0, 7.0]], "sizes": {"crumple": 1.1}}
    meant = ("mix.intend", fault | {"reason": "A pillow."})
    return {
        "only with": _one("mix.set_need", **need),
        "by itself again": (("mix.set_need", need), ("mix.set_need", need | {"value": None})),
        "only with one another": (("mix.set_need", need), ("mix.set_need", back)),
        "never together": _one("mix.set_pairing", **pair, swept=False, reason="Nobody does both."),
        "left to what they do": (("mix.set_pairing", pair | {"swept": True}), ("mix.set_pairing", pair | {"swept": None})),
        "intended": (meant,),
        "counts again": (meant, ("mix.count_again", {"number": 0})),
    }


def _correctives(s: Subject) -> dict[str, Steps]:
    pose, cheek = {"smile": 1.0, "jaw_open": 0.5}, s.near("cheek_L")
    made = ("corrective.add", {"values": pose, "name": "fix_L"})
    capped = _one("cap.add", part="skin", vertices=cheek[:6], cm=0.3, mirror=True)
    moved = ("shape.offset", {"name": "fix_L", "part": "skin", "vertices": cheek, "left": 1.0})
    ramp = {"channel": "pucker", "comes_in": 0.2, "full": 0.9}
    side = (
        "corrective.set_activation",
        {"name": "fix_L", "activation": {"drivers": [ramp | {"channel": "lip_seal_L"}, ramp], "gain": 0.5}},
    )
    return {
        "made on a pose": (made, moved),
        "on nothing": _one("corrective.add", values={}),
        "brought in otherwise": (made, moved, side),
        "a plain shape again": (made, moved, ("corrective.set_activation", {"name": "fix_L", "activation": None})),
        "mirrored": (made, moved, side, ("corrective.mirror", {"name": "fix_L"})),
        "its own mirror image": (made, ("corrective.mirror", {"name": "fix_L"})),
        "laid smooth": _one("corrective.solve", values=pose, vertices=cheek[:6], reach=1.5),
        "held out of nothing": _one("corrective.solve", values=pose, held="lips_teeth_upper"),
        "damped": _one("control.damp", control="head_nod", by="jaw_open", way="high", left=0.4),
        "capped": capped,
        "capped otherwise": (*capped, ("cap.set", {"name": "cap", "cm": 0.5})),
        "capped no more": (*capped, ("cap.remove", {"name": "cap"})),
        "damped by itself": _one("control.damp", control="smile", by="smile", left=0.4),
    }


def _lids(s: Subject) -> dict[str, Steps]:
    lid = s.near("lid_upper_L", 0.5)
    brush = {"radius": 0.4, "strength": 0.5}
    drive = {"side": "L", "mirror": True}
    margins = [int(s.head.set(f"lid_{lid}_margin_L")[4]) for lid in ("upper", "lower")]
    shared = ("lids.set_map", {"side": "L", "map": "share", "vertices": lid, "value": 0.5})
    return {
        "closed line": _one("lids.set_line", side="L", keys=LINE),
        "closed line of both": _one("lids.set_line", side="R", keys=LINE, mirror=True),
        "closed line of nobody": _one("lids.set_line", side="C", keys=LINE),
        "gaze follow": _one("lids.set_follow", side="L", lid="upper", follow=FOLLOW),
        "gaze follow of both": _one("lids.set_follow", side="L", lid="lower", follow=FOLLOW, mirror=True),
        "copy curves": (("lids.set_line", {"side": "L", "keys": LINE}), ("lids.copy", {"side": "L"})),
        "copy maps": (shared, ("lids.copy", {"side": "L", "what": "maps"})),
        "reset": (("lids.set_line", {"side": "L", "keys": LINE}), ("lids.reset", {"side": "L"})),
        "pick margins": _one("lids.pick_margins", side="L", vertices=margins),
        "drive by shapes": _one("lids.drive", driver={"kind": "shapes", "between": 2}, **drive),
        "drive by shapes with gaze": _one("lids.drive", driver={"kind": "shapes", "between": 1, "gaze": True}, **drive),
        "drive by bones": _one("lids.drive", driver={"kind": "bones"}, **drive),
        "start share even": _one("lids.start_map", side="L", map="share", how="even"),
        "start share from the fold": _one("lids.start_map", side="L", map="share", how="fold", mirror=True),
        "start relief": _one("lids.start_map", side="R", map="eye_relief", how="fold"),
        "smooth share": _one("lids.smooth_map", side="L", map="share", steps=2),
        "smooth some relief": _one("lids.smooth_map", side="L", map="eye_relief", vertices=lid),
        "set share": _one("lids.set_map", side="L", map="share", vertices=lid, value=0.6, mirror=True),
        "mend share": _one("lids.mend_map", side="L", map="share", vertices=lid),
        "fit relief": _one("lids.fit_relief", side="L", vertices=lid),
        "paint share": _one(
            "lids.paint_map", painting={"side": "L", "map": "share", "brush": brush, "values": {"blink_L": 0.5}},
            dabs=s.dabs("lid_upper_L", "take", {"blink_L": 0.5}, (0.05, 0, 0)),
        ),
    }  # fmt: skip


def _jaw(s: Subject) -> dict[str, Steps]:
    cheek, preset = s.near("cheek_L", 2.0), ("relief.preset", {"preset": "cheek_lower"})
    of = "cheek_lower_L"
    brush = {"radius": 1.0, "strength": 0.5}
    return {
        "movement": _one("jaw.set_movement", opens=28, slides=0.3, side=0.2, turns=1, forward=0.2),
        "movement upwards": _one("jaw.set_movement", opens=-4),
        "drive the seal": _one("control.link", control="jaw_open", kind="seal", targets=["seal_L", "seal_R"], keys=RISING),
        "harden the head": _one("jaw.harden_head", part="skin", above=float(s.mark("chin_front")[1])),
        "lips": _one("lips.set", balance=0.3, ahead=0.2, stick=0.6, soft=0.8, zip=RISING),
        "lips anew": _one("lips.start"),
        "lips baked": _one("lips.bake"),
        "cheekbone": _one("relief.preset", preset="cheek_upper"),
        "lower cheek": (preset,),
        "under the jaw": _one("relief.preset", preset="under"),
        "drag over bone": _one("relief.preset", preset="drag"),
        "fold": _one("relief.preset", preset="fold"),
        "relief of its own": _one("relief.add", label="Dent", part="skin", vertices=cheek, cm=-0.4, control="jaw_open", keys=RISING),
        "relief along": _one("relief.add", label="Drag", part="skin", vertices=cheek, direction="along", way=(0, -1, 0), soft=0.5),
        "relief set": (preset, ("relief.set", {"name": of, "cm": -0.5, "exaggerate": 2, "mirror": False})),
        "relief muted": (preset, ("relief.set", {"name": of, "muted": True})),
        "relief moved": (preset, ("relief.preset", {"preset": "under"}), ("relief.move", {"name": "under", "before": of})),
        "relief copied": (preset, ("relief.copy", {"name": of})),
        "relief to the other side": (preset, ("relief.copy", {"name": of, "to": "other side"})),
        "relief removed": (preset, ("relief.remove", {"name": of})),
        "region set": (preset, ("relief.set_region", {"name": of, "vertices": cheek[:20], "value": 0.5})),
        "region smoothed": (preset, ("relief.smooth_region", {"name": of, "steps": 2})),
        "region painted": (
            preset, ("relief.paint", {"painting": {"relief": of, "brush": brush, "values": OPEN}, "dabs": s.dabs("cheek_L", "add", OPEN)}),
        ),
        "relief baked": (preset, ("relief.bake", {"name": of})),
    }  # fmt: skip


def _shapes(s: Subject) -> dict[str, Steps]:
    brush = {"radius": 1.2, "strength": 0.7}
    chin = s.near("chin_front", 1.2)

    def sculpt(tool: str, mark: str, mirror: bool) -> Steps:
        sculpting = {
            "shape": "smile",
            "part": "skin",
            "brush": brush,
            "values": {"smile": 0.8, "jaw_open": 0.5, "head_turn": 20},
            "mirror": mirror,
        }
        return _one("shape.sculpt", sculpting=sculpting, dabs=s.dabs(mark, tool, sculpting["values"]))

    return {
        "new": _one("shape.new", name="chin_up"),
        "new away from rest": _one("shape.new", name="chin_up", values={"smile": 1}),
        "from a pose": _one("shape.from_pose", name="grin", values={"smile": 1, "brows_up": 0.5}),
        "starter units": _one("shape.starter", units=["AU12", "AU43", "AU04"]),
        "starter units, both sides": _one("shape.starter", units=["AU12"], which="both"),
        "no such unit": _one("shape.starter", units=["AU99"]),
        "take in": _one("shape.take_in", shapes=[asdict(s.head.character.shapes[0]) | {"name": "taken"}]),
        "take in nothing": _one("shape.take_in", shapes=[]),
        "duplicate": _one("shape.duplicate", names=["smile", "pucker"]),
        "add up": _one("shape.add_up", name="both", terms=[{"shape": "smile", "strength": 0.5}, {"shape": "brows_up", "strength": 1.0}]),
        "split": _one("shape.split", name="smile"),
        "split soft": _one("shape.split", name="pucker", soft=1.5),
        "between": _one("shape.between", name="smile", at=0.4),
        "bake a pose": _one("shape.bake_pose", name="jaw_down", values={"jaw_open": 1.0}),
        "bake a bone": _one("shape.bake_pose", name="jaw_down", values={"jaw.turn_x": 18.0}),
        "merge a pose": _one("shape.merge_pose", name="open_smile", shape="smile", values={"jaw_open": 0.5}),
        "take a pose out": _one("shape.take_out", name="smile", values={"jaw_open": 0.3}),
        "sculpt by moving": sculpt("move", "mouth_corner_L", True),
        "sculpt out": sculpt("swell", "cheek_R", False),
        "sculpt smooth": sculpt("smooth", "chin_front", False),
        "mirror": _one("shape.mirror", name="smile", of="L"),
        "mirror the middle": _one("shape.mirror", name="pucker", of="C"),
        "flip": _one("shape.flip", name="brows_up"),
        "scale": _one("shape.scale", name="smile", by=0.7),
        "clean": _one("shape.clean", name="smile", below=0.2),
        "clean a part": _one("shape.clean", name="smile", part="skin", vertices=s.near("cheek_L")),
        "offset": _one("shape.offset", name="smile", part="skin", vertices=chin, up=0.1, forward=0.05),
        "offset of nobody": _one("shape.offset", name="grin", part="skin", vertices=chin, up=0.1),
        "take along": _one("shape.take_along", name="smile", part="brow_L", on="skin"),
        "rename": _one("shape.rename", names={"smile": "grin"}),
        "rename to what is there": _one("shape.rename", names={"smile": "pucker"}),
        "move": _one("shape.move", names=["pucker", "brows_up"], before="smile"),
        "mute": _one("shape.mute", names=["smile"]),
        "remove": _one("shape.remove", names=["smile"]),
        "remove nobody": _one("shape.remove", names=["nobody"]),
    }  # fmt: skip


def _controls(s: Subject) -> dict[str, Steps]:
    add, pad = (
        ("control.add", {"label": "Corner"}),
        ("plan.set_pad", {"pad": None, "label": "Smile", "x": "smile", "y": None, "at": (0.3, 0.4)}),
    )
    return {
        "range": _one("control.set_range", control="head_turn", low=-40, high=60, rest=0),
        "range that leaves its rest out": _one("control.set_range", control="smile", low=0.5, high=1, rest=0),
        "add control": (add,),
        "add in degrees": _one("control.add", label="Turn", low=-20, high=20, unit="°"),
        "for shapes": (("shape.duplicate", {"names": ["smile"]}), ("control.for_shapes", {"shapes": ["smile_copy"]})),
        "for shapes together": (
            ("shape.duplicate", {"names": ["smile", "pucker"]}),
            ("control.for_shapes", {"shapes": ["smile_copy", "pucker_copy"], "together": True}),
        ),
        "for shapes that are driven": _one("control.for_shapes", shapes=["smile"]),
        "rename control": _one("control.rename", control="smile", label="Grin", to="grin"),
        "remove controls": _one("control.remove", controls=["squint", "lids_wide"]),
        "remove a driving control": _one("control.remove", controls=["blink"]),
        "move control": _one("control.move", control="smile", before="jaw_open"),
        "link a shape": (add, ("control.link", {"control": "corner", "kind": "shape", "targets": ["smile"], "gain": 0.5})),
        "link along a curve": (add, ("control.link", {"control": "corner", "kind": "control", "targets": ["jaw_open"], "keys": RISING})),
        "link a bone": (add, ("control.link", {"control": "corner", "kind": "bone", "targets": ["jaw"], "gain": 8, "axis": "x"})),
        "link moving a bone": (add, ("control.link", {"control": "corner", "kind": "bone", "targets": ["jaw"], "axis": "z", "by": "move"})),
        "link in a ring": _one("control.link", control="blink_L", kind="control", targets=["blink"]),
        "arrange": _one("plan.arrange"),
        "pad": (pad,),
        "remove pad": (pad, ("plan.remove_pad", {"pad": "smile"})),
        "keep pose": _one("pose.keep", label="Big", values={"smile": 1, "jaw_open": 0.4}),
        "keep pose out of range": _one("pose.keep", label="Big", values={"smile": 9}),
        "remove pose": _one("pose.remove", pose="smile_blink"),
        "rename pose": _one("pose.rename", pose="smile", label="Broad smile"),
        "move pose": _one("pose.move", pose="smile", to=1),
        "hide pose": _one("pose.hide", pose="blink"),
        "show pose": (("pose.hide", {"pose": "blink"}), ("pose.hide", {"pose": "blink", "hidden": False})),
        "range of motion": _one("pose.add_range"),
    }


def _bones(s: Subject) -> dict[str, Steps]:
    place = s.mark("cheek_L")
    limits = {"turn": ((-10, 10), (-5, 5), (0, 0)), "move": ((0, 0), (0, 0.5), (0, 0))}
    add = (
        "bone.add",
        {"name": "bump_L", "label": "Bump L", "parent": "head", "base": place.tolist(), "tip": (place + [0, 0, 1]).tolist()},
    )
    return {
        "place landmark": _one("landmark.place", name="cheek_L", point=(place + [0.2, 0.1, 0]).tolist()),
        "place landmark on a vertex": _one(
            "landmark.place", name="chin_front", point=s.mark("chin_front").tolist(), snap="vertex", mirror=False
        ),
        "confirm landmarks": _one("landmark.confirm", names=["cheek_L", "nose_tip"]),
        "remove landmarks": _one("landmark.remove", names=["cheek_L"]),
        "mirror landmarks": _one("landmark.mirror", side="L"),
        "suggest landmarks anew": _one("landmark.suggest", which="all"),
        "follow landmarks": (
            ("landmark.place", {"name": "eye_centre_L", "point": (s.mark("eye_centre_L") + [0.05, 0, 0]).tolist()}),
            ("bones.follow_landmarks", {"bones": ["eye_L"]}),
        ),
        "remove bones": _one("bones.remove", bones=["tongue_3"]),
        "mirror bones": _one("bones.mirror", side="L"),
        "swap sides": _one("bones.swap_sides"),
        "export names": _one("bones.set_export_names", names={"jaw": "Mandible"}),
        "place bone": _one("bone.place", bone="jaw", tip=(s.mark("chin_front") + [0, -0.2, 0]).tolist(), twist=10),
        "place a twin": _one("bone.place", bone="eye_L", base=(s.mark("eye_centre_L") + [0.03, 0, 0]).tolist()),
        "add bone": (add,),
        "add a helper": _one("bone.add", **add[1] | {"role": "helper", "mirror": False}),
        "rename bone": _one("bone.rename", bone="eye_L", name="ball_L", label="Ball L"),
        "bone becomes a helper": _one("bone.set_role", bone="tongue_3", role="helper"),
        "other parent": _one("bone.set_parent", bone="teeth_lower", parent="head"),
        "parent in a ring": _one("bone.set_parent", bone="head", parent="jaw"),
        "limits": _one("bone.set_limits", bone="jaw", **limits),
        "limits of twins": _one("bone.set_limits", bone="eye_L", **limits),
    }


def _torso(s: Subject) -> dict[str, Any]:
    """The hair again, as a body on one bone."""
    hair = next(p for p in s.head.character.parts if p.name == "hair")
    spine = Bone("spine", "Spine", None, (0.0, -40.0, 0.0), (0.0, -10.0, 0.0))
    part = asdict(hair) | {"name": "torso", "kind": "body", "sets": {}}
    return {"parts": [part], "bones": [asdict(spine)], "bindings": [], "under": "spine", "shift": [0, 120, 2]}


def _document(s: Subject) -> dict[str, Steps]:
    limit = {"edit": "checkin.set_limit", "params": {"limit": "lip_gap", "value": 0.3}}
    return {
        "symmetric": _one("mesh.make_symmetric", part="skin", from_side="L"),
        "rename part": _one("part.rename", part="hair", name="bun"),
        "part of another kind": _one("part.set_kind", part="hair", kind="other"),
        "remove part": _one("part.remove", part="lash_upper_L"),
        "limit": _one("checkin.set_limit", limit="lip_gap", value=0.3),
        "limit that is none": _one("checkin.set_limit", limit="depth_of_soul", value=0.3),
        "waive": _one("checkin.waive", check="quads", reason="meant so"),
        "count again": (("checkin.waive", {"check": "quads", "reason": "meant so"}), ("checkin.unwaive", {"check": "quads"})),
        "units": _one("character.set_units", unit="m"),
        "body": _one("body.join", **_torso(s)),
        "body of a name that is there": _one("body.join", **_torso(s) | {"bones": [asdict(s.head.character.bones[0])]}),
        "rest": _one("rest.take", values={"head_turn": 20.0, "smile": 0.5}),
        "rest, joints stay": _one("rest.take", values={"jaw.turn_x": 8.0}, joints="stay"),
        "rest as it is": _one("rest.take", values={}),
        "stand": _one("character.stand_at", bone="head", height=160),
        "stand without": _one("character.stand_at", bone="hip", height=100),
        "together": _one("edits.together", steps=[limit, {"edit": "part.rename", "params": {"part": "hair", "name": "bun"}}]),
        "together in a ring": _one("edits.together", steps=[{"edit": "edits.together", "params": {"steps": [limit]}}]),
    }


def once_script(s: Subject) -> dict[str, Steps]:
    """What takes long, for one head alone."""
    return {
        "skin by heat": _one("binding.weigh", part="skin", how="heat"),
        "build bones": _one("bones.build", choices={"face": "both"}),
        "start a rig": _one("rig.start"),
        "all units": _one("shape.starter"),
    }


def mesh_script(s: Subject) -> dict[str, Steps]:
    """For a head fresh from modelling."""
    eyes = {"parts": ["eye_L", "eye_R"]}
    return {
        "weld": _one("mesh.weld", part="skin"),
        "remove loose": _one("mesh.remove_loose", part="skin"),
        "turn faces": _one("mesh.turn_faces", part="skin"),
        "smooth patch": _one("mesh.smooth_patch", part="skin", vertices=list(range(200, 230))),
        "symmetric": _one("mesh.make_symmetric", part="skin", from_side="R"),
        "bake transform": _one("part.bake_transform", part="hair"),
        "split islands": _one("part.split_islands", part="hair"),
        "centre pivots": _one("eye.centre_pivot", **eyes),
        "draw to a ball": _one("eye.draw_to_ball", **eyes),
        "push back": _one("eye.push_back", **eyes, back_mm=0.6),
        "shrink": _one("eye.shrink", **eyes, less=0.03),
        "raise lids": _one("eye.raise_lids", **eyes, by_mm=0.4),
        "suggest landmarks": _one("landmark.suggest"),
        "units": _one("character.set_units", unit="mm"),
        "start a rig without landmarks": _one("rig.start"),
    }


SCRIPTS: dict[str, tuple[str, Callable[[Subject], dict[str, Steps]]]] = {
    "maren-clean": ("maren-clean", rig_script),
    "hob-clean": ("hob-clean", rig_script),
    "hob-once": ("hob-clean", once_script),
    "pim-faulty": ("pim-faulty", mesh_script),
}


def outcomes(name: str) -> dict[str, Any]:
    """What comes of each entry of a script, by what it is called there."""
    whom, script = SCRIPTS[name]
    head = head_of(whom)
    return {what: outcome(head, steps) for what, steps in script(Subject(head)).items()}


def outcome(head: Head, steps: Steps) -> dict[str, Any]:
    """What is said of the last step and which sections became what; or why it is refused."""
    store, character = MemoryStore(head.store), head.character
    try:
        for edit, params in steps:
            step = make_step(edit, params)
            character = step.params.apply(character, store)
    except TightSeamError as error:
        return {"refused": str(error)}
    return {"said": step.params.describe(character), "changed": changed_sections(head.character, character, store)}
