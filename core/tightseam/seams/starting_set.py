"""The seams of a head with the usual parts, and their first limits."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import replace

from tightseam.document.labels import part_label
from tightseam.document.model import Limits, Part, Seam
from tightseam.head.roots import ROOTS

LID = Limits(overlap=0.05, gap=0.6, closed_gap=0.1)
LIPS = Limits(overlap=0.15, closed_gap=0.15)
LIP_TEETH = Limits(overlap=0.1)
TEETH = Limits(overlap=0.05)
TONGUE = Limits(overlap=0.2)
SKIN = Limits(overlap=0.3)
COLLAR = Limits(overlap=0.5)  # wool gives way
LAG = Limits(lag=0.1)
RIDE = Limits(drift=0.2, aside=0.5)
SCALP = Limits(overlap=0.2)


def starting_seams(names: Mapping[str, str], tongue_bones: tuple[str, ...]) -> tuple[Seam, ...]:
    """The seams between the parts that are there. `names` gives what the parts are called: skin, eye_L, eye_R, teeth_upper,
    teeth_lower, tongue, collar (closed cloth about the neck); what is missing has no seams."""
    usual = [s for s in _usual(tongue_bones) if {s.probe, s.solid} - {None} <= names.keys() and (s.kind != "follow" or s.expected)]
    return tuple(replace(s, probe=names[s.probe], solid=s.solid and names[s.solid]) for s in usual)


def hair_seams(parts: Iterable[Part], skin: str) -> tuple[Seam, ...]:
    """A seam for the roots of each part that has some, and one for hair of the head, which the scalp must not come through."""
    seams = []
    for part in parts:
        label = part_label(part.name)
        if ROOTS in part.sets:
            seams.append(Seam(f"ride_{part.name}", f"{label} · skin", "hair", "ride", "ride", part.name, RIDE, skin, probe_set=ROOTS))
        if part.kind == "hair":
            seams.append(Seam(f"scalp_{part.name}", f"{label} · scalp", "hair", "apart", "clear", part.name, SCALP, skin))
    return tuple(seams)


def _usual(tongue_bones: tuple[str, ...]) -> tuple[Seam, ...]:
    seams: list[Seam] = []
    for side in "LR":
        for lid, other in (("upper", "lower"), ("lower", "upper")):
            seams.append(
                Seam(
                    f"lid_{lid}_{side}",
                    f"{lid.capitalize()} lid {side} · eye",
                    "eyes",
                    "meet",
                    "solid",
                    "skin",
                    LID,
                    f"eye_{side}",
                    probe_set=f"lid_{lid}_{side}",
                    margin=f"lid_{lid}_margin_{side}",
                    meets=f"lid_{other}_margin_{side}",
                    claim=f"lids {side}",
                )
            )
    seams += [
        Seam(
            "lips",
            "Lip · lip",
            "mouth",
            "meet",
            "patch",
            "skin",
            LIPS,
            "skin",
            "lip_upper",
            "lip_lower",
            "lip_upper_line",
            "lip_lower_line",
            claim="lips",
        ),
        Seam(
            "lips_teeth_upper", "Lips and cheeks · upper teeth", "mouth", "apart", "solid", "skin", LIP_TEETH, "teeth_upper", "mouth_soft"
        ),
        Seam(
            "lips_teeth_lower", "Lips and cheeks · lower teeth", "mouth", "apart", "solid", "skin", LIP_TEETH, "teeth_lower", "mouth_soft"
        ),
        Seam("teeth", "Teeth · teeth", "inside", "apart", "solid", "teeth_upper", TEETH, "teeth_lower"),
        Seam("tongue_teeth_upper", "Tongue · upper teeth", "inside", "apart", "solid", "tongue", TONGUE, "teeth_upper"),
        Seam("tongue_teeth_lower", "Tongue · lower teeth", "inside", "apart", "solid", "tongue", TONGUE, "teeth_lower"),
        Seam("tongue_palate", "Tongue · palate", "inside", "apart", "solid", "skin", TONGUE, "tongue", "mouth_lining"),
        Seam("skin_mouth", "Lips and lining · skin", "mouth", "apart", "self", "skin", SKIN, "skin", "mouth_soft"),
        Seam("skin_throat", "Chin · throat", "neck", "apart", "self", "skin", SKIN, "skin", "chin", "neck"),
        Seam("collar_neck", "Neck · collar", "neck", "apart", "solid", "skin", COLLAR, "collar", "neck"),
        Seam("collar_chin", "Chin · collar", "neck", "apart", "solid", "skin", COLLAR, "collar", "chin"),
    ]
    carried = [
        ("teeth_upper", "Upper teeth · skull", "inside", ("teeth_upper",)),
        ("teeth_lower", "Lower teeth · jaw", "inside", ("teeth_lower",)),
        ("tongue", "Tongue · tongue bones", "inside", tongue_bones),
        ("eye_L", "Eye L · eye bone", "eyes", ("eye_L",)),
        ("eye_R", "Eye R · eye bone", "eyes", ("eye_R",)),
    ]
    for part, label, region, bones in carried:
        seams.append(Seam(f"follow_{part}", label, "eyes" if region == "eyes" else "inside", "follow", "lag", part, LAG, expected=bones))
    return tuple(seams)
