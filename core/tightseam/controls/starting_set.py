"""The controls and test poses that every new rig starts with."""

from __future__ import annotations

from collections.abc import Sequence

from tightseam.document.basics import CurveKey
from tightseam.document.mix_model import Need
from tightseam.document.model import Control, Link, Pose

JAW_OPENING = 22.0  # degrees of the hinge at full opening of a mouth of usual width; a narrower one would fold at its corners
USUAL_WIDTH = 4.8  # cm between the corners of a mouth,
NARROWER = 1.25  # and the power of its width by which a narrower one opens less
JAW_SLIDE = 0.12  # cm forward at full opening
JAW_SIDE = (0.5, 3.0)  # cm to the side, and degrees by which the chin turns with it
JAW_THRUST = 0.4  # cm forward
CORNER = 0.35  # of the jaw's way, beyond its weights, by which a corner follows or holds back
TONGUE_REACH = 1.2  # cm from root to tip
TONGUE_OPENS = 0.35  # of the jaw's opening that it needs to reach out
TONGUE_FIRST = (CurveKey(0, 0), CurveKey(0.3, 1), CurveKey(1, 1))  # lifted and let out before it reaches
TONGUE_LIFT = 14.0  # degrees by which the root lifts it over the teeth as it reaches, and its tip levels it again
CURL_OPENS = 0.25  # of the jaw's opening from which there is room for that
TONGUE_CURL = 18.0  # degrees from root to tip
SQUINT = (0.3, 0.75)  # closing of the upper and of the lower lid
WIDE = (-0.3, -0.3)
GAZE_TEST = 20.0  # degrees of the look poses


def lid_controls(sides: Sequence[str]) -> tuple[Control, ...]:
    """A blink for each eye and, where there are two, for both; squint and wide for all. `sides` are those of the lids."""

    def links(upper: float, lower: float, of: Sequence[str]) -> tuple[Link, ...]:
        return tuple(Link("lid", f"lid_{lid}_{side}", gain) for side in of for lid, gain in (("upper", upper), ("lower", lower)))

    single = tuple(Control(f"blink_{side}", f"Blink {side}", 0, 1, 0, links(1, 1, side)) for side in sides)
    both = (Control("blink", "Blink", 0, 1, 0, links(1, 1, sides)),) if len(sides) > 1 else ()
    return (
        *single,
        *both,
        Control("squint", "Squint", 0, 1, 0, links(*SQUINT, sides)),
        Control("lids_wide", "Lids wide", 0, 1, 0, links(*WIDE, sides)),
    )


def starting_controls(neck: str, tongue: Sequence[str], lids: Sequence[str], mouth_width: float) -> tuple[Control, ...]:
    """Jaw, gaze, lids, mouth, brows, tongue and head. `neck` is the topmost neck bone, `tongue` the bones of the tongue from its root,
    `lids` the sides of the eyes that have any, `mouth_width` the distance of the corners of the mouth, cm."""
    eyes = ("eye_L", "eye_R")
    return (
        *jaw_controls(jaw_opening(mouth_width)),
        *lip_controls(),
        Control("gaze_across", "Gaze across", -35, 35, 0, tuple(Link("bone", e, 1, "y") for e in eyes), "°"),
        Control("gaze_height", "Gaze height", -30, 25, 0, tuple(Link("bone", e, -1, "x") for e in eyes), "°"),
        *lid_controls(lids),
        Control("smile", "Smile", 0, 1, 0, (Link("shape", "smile", 1),)),
        Control("pucker", "Pucker", 0, 1, 0, (Link("shape", "pucker", 1),)),
        Control("brows_up", "Brows up", 0, 1, 0, (Link("shape", "brows_up", 1),)),
        Control("head_turn", "Head turn", -50, 50, 0, (Link("bone", neck, 0.4, "y"), Link("bone", "head", 0.6, "y")), "°"),
        Control("head_nod", "Head nod", -25, 25, 0, (Link("bone", neck, 0.4, "x"), Link("bone", "head", 0.6, "x")), "°"),
        Control("head_tilt", "Head tilt", -25, 25, 0, (Link("bone", neck, 0.4, "z"), Link("bone", "head", 0.6, "z")), "°"),
        *(tongue_controls(tongue) if tongue else ()),
    )


def tongue_controls(tongue: Sequence[str]) -> tuple[Control, ...]:
    """The tongue curled up from its root and put out over the teeth, between which it lets itself out; `tongue` are its bones from the
    root."""
    curl = tuple(Link("bone", name, -TONGUE_CURL / len(tongue), "x") for name in tongue)
    reach = tuple(Link("bone", name, TONGUE_REACH / len(tongue), "z", "move") for name in tongue)
    lift = tuple(Link("bone", name, gain, "x", curve=TONGUE_FIRST) for name, gain in ((tongue[0], -TONGUE_LIFT), (tongue[-1], TONGUE_LIFT)))
    out = (*reach, *lift, Link("control", "jaw_open", TONGUE_OPENS, curve=TONGUE_FIRST))
    return (Control("tongue_curl", "Tongue curl", 0, 1, 0, curl), Control("tongue_reach", "Tongue reach", 0, 1, 0, out))


def starting_needs(controls: Sequence[Control]) -> tuple[Need, ...]:
    """What is only used with another: behind closed teeth a tongue that curls has nowhere to go."""
    there = {c.name for c in controls}
    return (Need("tongue_curl", "jaw_open", CURL_OPENS, "It needs room behind the teeth."),) if "tongue_curl" in there else ()


def jaw_opening(mouth_width: float) -> float:
    """Degrees by which a jaw opens below a mouth of a width, cm."""
    return JAW_OPENING * min(1.0, mouth_width / USUAL_WIDTH) ** NARROWER


def jaw_controls(opens: float = JAW_OPENING) -> tuple[Control, ...]:
    """The jaw's opening by `opens` degrees, its way to the side and forward."""
    opening = (Link("bone", "jaw", opens, "x"), Link("bone", "jaw", JAW_SLIDE, "z", "move"), Link("shape", "jaw_open_relief", 1))
    to_side = (Link("bone", "jaw", JAW_SIDE[0], "x", "move"), Link("bone", "jaw", JAW_SIDE[1], "y"))
    return (
        Control("jaw_open", "Jaw open", 0, 1, 0, opening),
        Control("jaw_side", "Jaw to the side", -1, 1, 0, to_side),
        Control("jaw_thrust", "Jaw thrust", -0.5, 1, 0, (Link("bone", "jaw", JAW_THRUST, "z", "move"),)),
    )


def lip_controls() -> tuple[Control, ...]:
    """The seal of the lips from each corner, and how far each corner follows the jaw."""
    return (
        *(Control(f"lip_seal_{side}", f"Lip seal {side}", 0, 1, 0, (Link("seal", f"seal_{side}", 1),)) for side in "LR"),
        *(Control(f"corner_{side}", f"Mouth corner {side}", -1, 1, 0, (Link("corner", f"corner_{side}", CORNER),)) for side in "LR"),
    )


def starting_poses(sides: Sequence[str]) -> tuple[Pose, ...]:
    """The pose strip: each movement alone, and two that are known for trouble together. `sides` are those of the lids."""
    blink = {"blink": 1.0} if len(sides) > 1 else {f"blink_{side}": 1.0 for side in sides}
    lids = tuple(f"lids {side}" for side in sides)
    return (
        Pose("neutral", "Neutral", {}, ("lips",)),
        Pose("jaw_open", "Jaw open", {"jaw_open": 1.0}),
        Pose("blink", "Blink", blink, (*lids, "lips")),
        Pose("look_left", "Look left", {"gaze_across": GAZE_TEST}, ("lips",)),
        Pose("look_right", "Look right", {"gaze_across": -GAZE_TEST}, ("lips",)),
        Pose("look_up", "Look up", {"gaze_height": GAZE_TEST}, ("lips",)),
        Pose("look_down", "Look down", {"gaze_height": -GAZE_TEST}, ("lips",)),
        Pose("smile", "Smile", {"smile": 1.0}, ("lips",)),
        Pose("smile_blink", "Smile + blink", {"smile": 1.0, **blink}, (*lids, "lips")),
        Pose("jaw_pucker", "Jaw open + pucker", {"jaw_open": 1.0, "pucker": 1.0}),
    )
