"""The nouns of a character. Lengths in cm, angles in degrees, +X is the character's left."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated, Literal

from pydantic import AliasChoices, Field
from pydantic.dataclasses import dataclass

from tightseam.document.arrays import ArrayHash
from tightseam.document.basics import (
    OTHER_SIDE,
    STRICT,
    Axis,
    CurveKey,
    CurveKeys,
    Point,
    Side,
    Span,
    Spans,
    Turn,
)
from tightseam.document.mouth_model import Lips, Relief

__all__ = ["OTHER_SIDE", "STRICT", "Axis", "CurveKey", "CurveKeys", "Lips", "Point", "Relief", "Side", "Span", "Spans", "Turn"]

PartKind = Literal["skin", "eye", "teeth upper", "teeth lower", "tongue", "brow", "lash", "hair", "whiskers", "cloth", "body", "other"]
Carrier = Literal["rigid", "chain", "weighted", "ride"]
BoneRole = Literal["deform", "helper"]
BoneRegion = Literal["head", "neck", "jaw", "eyes", "lids", "brows", "mouth", "cheeks", "nose", "ears", "tongue", "teeth", "other"]
LinkKind = Literal["shape", "bone", "lid", "relief", "seal", "corner", "control"]
WORLD: Turn = (1.0, 0.0, 0.0, 0.0, 1.0, 0.0, 0.0, 0.0, 1.0)
FREE: Spans = ((-180.0, 180.0), (-180.0, 180.0), (-180.0, 180.0))
FIXED: Spans = ((0.0, 0.0), (0.0, 0.0), (0.0, 0.0))


@dataclass(frozen=True, config=STRICT)
class Delivered:
    """How a part came from modelling: in which file, under which name, with how many vertices, and how sure its kind is (0..1)."""

    file: str
    name: str
    vertex_count: int
    sure: float = 1.0


@dataclass(frozen=True, config=STRICT)
class Part:
    """One mesh. `points` (N, 3) float64, `sizes` and `corners` int32 as in Polygons; colours in sRGB 0..1, per vertex or polygon.

    `source` (N,) int32 is the source map: where each vertex stood in the mesh as delivered, -1 for a new one; None while the
    order is still the delivered one. `split` (M,) int32 says for each vertex of a file that splits vertices which of ours it
    became. `transform` is the 3x3 part (rows) of a transform that hid in the file; the points stand
    where it puts them. `pivot` is the point the part turned about in the file, in cm.
    """

    name: str
    kind: PartKind
    side: Side
    points: ArrayHash
    sizes: ArrayHash
    corners: ArrayHash
    vertex_count: int
    polygon_count: int
    colours: ArrayHash | None = None
    face_colours: ArrayHash | None = None
    sets: dict[str, ArrayHash] = field(default_factory=dict)
    delivered: Delivered | None = None
    source: ArrayHash | None = None
    split: ArrayHash | None = None
    transform: Turn | None = None
    pivot: Point | None = None


@dataclass(frozen=True, config=STRICT)
class Landmark:
    """A guide point on or in the neutral head. `sure` (0..1) is how sure its place is: less than 1 as it was suggested."""

    name: str
    point: Point
    sure: float = 1.0


@dataclass(frozen=True, config=STRICT)
class Bone:
    """A bone from `base` to `tip`. A helper moves others and deforms nothing.

    Rows of `axes` (3x3) are its own x, y and z while it rests: unit vectors, right-handed. `turn` (degrees about them) and `move`
    (cm along them) are how far its own control goes. `twin` is the bone on the other side. `by_hand` says that a person set its
    ends: landmarks no longer move it. `made_as` is the name it was built under, `export` what it is called in exported files,
    where these are not its name. `envelope` is the inner and the outer radius (cm) of its capsule, where set by hand.
    """

    name: str
    label: str
    parent: str | None
    base: Point = Field(validation_alias=AliasChoices("base", "head"))
    tip: Point = Field(validation_alias=AliasChoices("tip", "tail"))
    side: Side = "C"
    role: BoneRole = "deform"
    region: BoneRegion = "other"
    twin: str | None = None
    axes: Turn = WORLD
    turn: Spans = FREE
    move: Spans = FIXED
    by_hand: bool = False
    made_as: str | None = None
    export: str | None = None
    envelope: Span | None = None


@dataclass(frozen=True, config=STRICT)
class Skeleton:
    """What bones are built from landmarks. `face` says whether the face is moved by bones, by shapes or by both: with shapes alone it
    gets no bones for brows, lids, lips, cheeks and nose. `brows` is bones a brow, `lids` a lid, `lips` a lip between the corners."""

    face: Literal["bones", "shapes", "both"] = "shapes"
    neck: Annotated[int, Field(ge=1, le=4)] = 2
    tongue: Annotated[int, Field(ge=0, le=8)] = 3
    brows: Annotated[int, Field(ge=0, le=5)] = 3
    lids: Annotated[int, Field(ge=0, le=7)] = 3
    lips: Annotated[int, Field(ge=0, le=9)] = 5
    cheeks: bool = True
    nose: bool = True
    ears: bool = False


@dataclass(frozen=True, config=STRICT)
class Influence:
    """What one bone carries of one part: vertex indices int32 and their weights float32."""

    bone: str
    vertices: ArrayHash
    weights: ArrayHash


@dataclass(frozen=True, config=STRICT)
class Ride:
    """Riding on the posed surface of another part: for each vertex (N,) int32 the vertex of that part it is rooted at. With `tufts` all
    that share a root stay rigid."""

    on: str
    roots: ArrayHash
    tufts: bool = Field(default=False, validation_alias=AliasChoices("tufts", "locks"))


@dataclass(frozen=True, config=STRICT)
class Binding:
    """How a part is carried: wholly by one bone (rigid), along a chain of bones, by painted weights, or on another part (ride).

    `dual` (N,) float32 0..1 is how much of dual quaternion skinning is mixed into the linear at each vertex; None for none. With
    `bones_first` shapes are added to what the bones have posed, which is hardly ever meant: they do not turn with the head.
    """

    part: str
    carrier: Carrier
    influences: tuple[Influence, ...]
    ride: Ride | None = None
    dual: ArrayHash | None = None
    bones_first: bool = False


@dataclass(frozen=True, config=STRICT)
class PartDelta:
    """What a shape does to one part: vertex indices int32 and offsets (K, 3) float32 in cm."""

    part: str
    vertices: ArrayHash
    offsets: ArrayHash


@dataclass(frozen=True, config=STRICT)
class Shape:
    """A blend shape over several parts. A muted one is kept, but does nothing."""

    name: str
    label: str
    deltas: tuple[PartDelta, ...]
    muted: bool = False


@dataclass(frozen=True, config=STRICT)
class EyeRelief:
    """How lids swell over an eyeball.

    `vertices` of the skin are kept outside the posed eye by `clearance` cm, weighted by `amount` 0..1; where the cornea has
    turned away they sink back by `settle` cm at most. By `swell` cm they stand farther off when their lid is closed: a long straight edge
    cuts a round cornea between two vertices that clear it. `followers` are parts (lashes) with, for each of their vertices, the
    skin vertex it moves with.
    """

    eye: str
    skin: str
    vertices: ArrayHash
    amount: ArrayHash
    clearance: ArrayHash
    settle: ArrayHash
    followers: tuple[tuple[str, ArrayHash], ...] = ()
    swell: ArrayHash | None = None


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

    eye: str
    skin: str
    side: Side
    upper_margin: ArrayHash
    lower_margin: ArrayHash
    vertices: ArrayHash
    upper: ArrayHash
    share: ArrayHash
    line: CurveKeys
    follow_upper: GazeFollow = field(default_factory=GazeFollow)
    follow_lower: GazeFollow = field(default_factory=GazeFollow)
    lashes: tuple[tuple[str, ArrayHash], ...] = ()
    driver: LidDriver = field(default_factory=LidDriver)

    @property
    def names(self) -> tuple[str, str]:
        """What links call the upper and the lower lid."""
        return f"lid_upper_{self.side}", f"lid_lower_{self.side}"


@dataclass(frozen=True, config=STRICT)
class Link:
    """A control's effect: `gain` per unit of the control, or times what `curve` gives for its value.

    For a bone's axis in degrees (`turn`) or cm (`move`), as strength for a shape and a relief, as closing for a lid (1 is closed; less
    than 0 opens it wider) and for the seal of the lips; for a corner of the mouth how far it follows the jaw beyond its weights (-1 to 1);
    added to the value of another control, which stays within its range.
    """

    kind: LinkKind
    target: str
    gain: float
    axis: Axis | None = None
    by: Literal["turn", "move"] = "turn"
    curve: CurveKeys = ()


@dataclass(frozen=True, config=STRICT)
class Control:
    """A handle for animators: rest value, range and links."""

    name: str
    label: str
    low: float
    high: float
    rest: float
    links: tuple[Link, ...]
    unit: Literal["", "°"] = ""


@dataclass(frozen=True, config=STRICT)
class Pad:
    """One or two controls under one handle on the face plan: `x` is drawn to the left and right, `y` up and down; one of them may be
    missing. `place` is where it stands, from the left and from the top of the plan (0 to 1), the face seen from in front."""

    name: str
    label: str
    x: str | None
    y: str | None
    place: Span


@dataclass(frozen=True, config=STRICT)
class Limits:
    """What a seam allows, in mm; None where it is not judged. Roots may `drift` off the skin, and `aside` along it."""

    overlap: float | None = None
    gap: float | None = None
    closed_gap: float | None = None
    lag: float | None = None
    drift: float | None = None
    aside: float | None = None


@dataclass(frozen=True, config=STRICT)
class Seam:
    """Two surfaces that must meet or stay apart, a part and what should carry it, or one whose roots ride on a skin.

    `probe` and `solid` are part names; `probe_set` and `solid_set` name vertex sets that narrow them. `margin` is the line
    at which the gap is read, `meets` the line of the partner where closing is claimed under the name `claim`.
    """

    name: str
    label: str
    region: Literal["eyes", "mouth", "inside", "neck", "hair"]
    kind: Literal["meet", "apart", "follow", "ride"]
    measure: Literal["solid", "patch", "self", "clear", "lag", "ride"]
    probe: str
    limits: Limits
    solid: str | None = None
    probe_set: str | None = None
    solid_set: str | None = None
    margin: str | None = None
    meets: str | None = None
    claim: str | None = None
    expected: tuple[str, ...] = ()


@dataclass(frozen=True, config=STRICT)
class Pose:
    """A test pose: values of controls and of bones' own controls away from rest, and what it claims to close. A hidden one is kept, but
    neither drawn nor measured."""

    name: str
    label: str
    values: dict[str, float]
    closes: tuple[str, ...] = ()
    hidden: bool = False


@dataclass(frozen=True, config=STRICT)
class Selection:
    """Vertices of a part that somebody wants to find again, under a name."""

    name: str
    part: str
    vertices: ArrayHash


@dataclass(frozen=True, config=STRICT)
class About:
    """Who this is."""

    name: str
    story: str = ""


@dataclass(frozen=True, config=STRICT)
class CheckIn:
    """What people decided at Check-in: own limits by their key, waived checks with the reason, cm to a unit of the delivered file."""

    limits: dict[str, float] = field(default_factory=dict)
    waived: dict[str, str] = field(default_factory=dict)
    unit_cm: float | None = None


@dataclass(frozen=True, config=STRICT)
class Character:
    """One head and all work on it. An immutable value: an edit makes a new one."""

    about: About
    parts: tuple[Part, ...]
    landmarks: tuple[Landmark, ...] = ()
    bones: tuple[Bone, ...] = ()
    bindings: tuple[Binding, ...] = ()
    shapes: tuple[Shape, ...] = ()
    reliefs: tuple[EyeRelief, ...] = ()
    lids: tuple[Lids, ...] = ()
    surface_reliefs: tuple[Relief, ...] = ()
    lips: tuple[Lips, ...] = ()
    controls: tuple[Control, ...] = ()
    plan: tuple[Pad, ...] = ()
    seams: tuple[Seam, ...] = ()
    poses: tuple[Pose, ...] = ()
    checkin: CheckIn = field(default_factory=CheckIn)
    skeleton: Skeleton | None = None
    selections: tuple[Selection, ...] = ()
