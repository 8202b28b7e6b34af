"""The nouns of the lids: how they close, follow the gaze and swell over the eye. Lengths in cm, angles in degrees."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated, ClassVar, Literal

from pydantic import Field
from pydantic.dataclasses import dataclass

from tightseam.document.arrays import ArrayHash
from tightseam.document.basics import STRICT, CurveKeys, Side
from tightseam.document.fields import Beside, Length, PartName, Rooted, Vertices


@dataclass(frozen=True, config=STRICT)
class EyeRelief:
    """How lids swell over an eyeball.

    `vertices` of the skin are kept outside the posed eye by `clearance` cm, weighted by `amount` 0..1; where the cornea has
    turned away they sink back by `settle` cm at most. By `swell` cm they stand farther off when their lid is closed: a long straight edge
    cuts a round cornea between two vertices that clear it. `followers` are parts (lashes) with, for each of their vertices, the
    skin vertex it moves with.
    """

    SAID: ClassVar = "eye relief of {eye}"

    eye: PartName
    skin: PartName
    vertices: Annotated[ArrayHash, Vertices("skin")]
    amount: Annotated[ArrayHash, Beside("vertices")]
    clearance: Annotated[ArrayHash, Beside("vertices"), Length()]
    settle: Annotated[ArrayHash, Beside("vertices"), Length()]
    followers: tuple[Rooted, ...] = ()
    swell: Annotated[ArrayHash | None, Beside("vertices"), Length()] = None


@dataclass(frozen=True, config=STRICT)
class GazeFollow:
    """How one lid follows its eye. `height` and `across` give a closing by degrees of the gaze upwards and towards the outer corner,
    `slide` degrees about the eye towards the outer corner by the latter. What they give for the gaze straight ahead is taken away."""

    height: CurveKeys = ()
    across: CurveKeys = ()
    slide: CurveKeys = ()


@dataclass(frozen=True, config=STRICT)
class LidDriver:
    """What closes lids: the arc itself; shapes with so many in-betweens, with `gaze` for the turned eye too; or a bone for each lid."""

    kind: Literal["arc", "shapes", "bones"] = "arc"
    between: Annotated[int, Field(ge=0, le=8)] = 3
    gaze: bool = False


@dataclass(frozen=True, config=STRICT)
class Lids:
    """The two lids of one eye, which close on an arc about it.

    The margins run from the inner to the outer corner, both included. `vertices` (K,) of the skin move, those where `upper` (K,) is 1
    with the upper lid; `share` (K,) 0..1 is how much of the closing each takes. `line` is where the margins meet, from the lower (0)
    to the upper one (1), over the way from the inner corner (0) to the outer (1). `lashes` are parts with, for each of their vertices,
    the skin vertex it turns with.
    """

    SAID: ClassVar = "lids {side}"

    eye: PartName
    skin: PartName
    side: Side
    upper_margin: Annotated[ArrayHash, Vertices("skin", ordered=True)]
    lower_margin: Annotated[ArrayHash, Vertices("skin", ordered=True)]
    vertices: Annotated[ArrayHash, Vertices("skin")]
    upper: Annotated[ArrayHash, Beside("vertices", whole=True)]
    share: Annotated[ArrayHash, Beside("vertices")]
    line: CurveKeys
    follow_upper: GazeFollow = field(default_factory=GazeFollow)
    follow_lower: GazeFollow = field(default_factory=GazeFollow)
    lashes: tuple[Rooted, ...] = ()
    driver: LidDriver = field(default_factory=LidDriver)

    @property
    def names(self) -> tuple[str, str]:
        """What links call the upper and the lower lid."""
        return f"lid_upper_{self.side}", f"lid_lower_{self.side}"
