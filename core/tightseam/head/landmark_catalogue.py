"""The landmarks of a head: their names, where each belongs, and what it is for."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

Region = Literal["eyes", "brows", "nose", "mouth", "jaw", "ears", "tongue", "head"]
Lies = Literal["on", "inside"]


@dataclass(frozen=True)
class Entry:
    """A landmark, or a pair of them. `belongs` says where it goes; `lies` whether on the skin or inside the head."""

    name: str
    label: str
    region: Region
    belongs: str
    lies: Lies = "on"
    paired: bool = True

    @property
    def names(self) -> tuple[str, ...]:
        return (f"{self.name}_L", f"{self.name}_R") if self.paired else (self.name,)


CATALOGUE: tuple[Entry, ...] = (
    Entry("eye_centre", "Eye centre", "eyes", "The middle of the eyeball, which it turns about.", "inside"),
    Entry("lid_inner", "Inner corner", "eyes", "Where the margins of both lids meet, beside the nose."),
    Entry("lid_outer", "Outer corner", "eyes", "Where the margins of both lids meet, towards the temple."),
    Entry("lid_upper", "Upper margin", "eyes", "The middle of the upper lid's edge, half way along from corner to corner."),
    Entry("lid_lower", "Lower margin", "eyes", "The middle of the lower lid's edge, half way along from corner to corner."),
    Entry("lid_fold_upper", "Upper fold", "eyes", "The crease over the middle of the upper edge, where a blink ends."),
    Entry("lid_fold_lower", "Lower fold", "eyes", "Under the middle of the lower lid's edge, where the lid stops lying on the eyeball."),
    Entry("brow_inner", "Brow, inner end", "brows", "On the skin under the end of the brow that is next to the nose."),
    Entry("brow_middle", "Brow, middle", "brows", "On the skin under the middle of the brow."),
    Entry("brow_outer", "Brow, outer end", "brows", "On the skin under the end of the brow that is next to the temple."),
    Entry("nasion", "Nose root", "nose", "The hollow at the top of the nose, deepest between tip and forehead.", paired=False),
    Entry("nose_tip", "Nose tip", "nose", "The foremost point of the nose.", paired=False),
    Entry("nose_base", "Nose base", "nose", "The corner under the nose, where it meets the upper lip.", paired=False),
    Entry("nose_wing", "Nose wing", "nose", "Half way up between base and tip, where the side of the nose faces most outwards."),
    Entry("cheek", "Cheek", "mouth", "Half way down from lower lid to mouth corner, where the face turns from front to side."),
    Entry("mouth_corner", "Mouth corner", "mouth", "Where the lines of both lips meet."),
    Entry("lip_upper", "Upper lip", "mouth", "The middle of the upper lip's line, where it touches the lower lip.", paired=False),
    Entry("lip_lower", "Lower lip", "mouth", "The middle of the lower lip's line, where it touches the upper lip.", paired=False),
    Entry("lip_top", "Upper lip's edge", "mouth", "Where the red of the upper lip ends, in the middle.", paired=False),
    Entry("lip_bottom", "Lower lip's edge", "mouth", "Where the red of the lower lip ends, in the middle.", paired=False),
    Entry("chin_front", "Chin", "jaw", "The most prominent point of the chin, in the middle.", paired=False),
    Entry("chin_under", "Under the chin", "jaw", "Just behind the edge of the chin, where the face has turned under.", paired=False),
    Entry("jaw_angle", "Jaw corner", "jaw", "Below the hinge, level with the edge of the lower lip, on the corner of the jaw."),
    Entry("jaw_hinge", "Jaw hinge", "jaw", "Inside, just in front of the ear, a little below its middle.", "inside"),
    Entry("ear_top", "Ear, top", "ears", "The highest point of the ear."),
    Entry("tongue_tip", "Tongue tip", "tongue", "The front end of the tongue.", "inside", paired=False),
    Entry("tongue_root", "Tongue root", "tongue", "The back end of the tongue.", "inside", paired=False),
    Entry("crown", "Crown", "head", "The highest point of the head.", paired=False),
    Entry("neck_top", "Neck, top", "head", "In the middle of the neck, level with the nose base.", "inside", paired=False),
    Entry("neck_base", "Neck, base", "head", "In the middle of the neck, where it widens into the shoulders.", "inside", paired=False),
)  # fmt: skip

NAMES = tuple(name for entry in CATALOGUE for name in entry.names)


def entry_of(name: str) -> Entry | None:
    """The entry that a landmark belongs to; None for a name that is not in the catalogue."""
    return next((e for e in CATALOGUE if name in e.names), None)


def label_of(name: str) -> str:
    """What a landmark is called on screen: Inner corner L; the name itself for one that is not in the catalogue."""
    entry = entry_of(name)
    return name if entry is None else f"{entry.label} {name[-1]}" if entry.paired else entry.label


def twin_of(name: str) -> str | None:
    """The landmark on the other side; None for one in the middle."""
    if name.endswith("_L"):
        return name[:-1] + "R"
    return name[:-1] + "L" if name.endswith("_R") else None
