"""The nouns of a character. Lengths in cm, angles in degrees, +X is the character's left."""

from __future__ import annotations

from dataclasses import field
from typing import Annotated, ClassVar, Literal

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
from tightseam.document.fields import (
    Array,
    Beside,
    BoneName,
    InUnitOfChannel,
    Length,
    Named,
    Needed,
    PartName,
    PerPolygon,
    PerVertex,
    Refers,
    Roots,
    Vertices,
)
from tightseam.document.lid_model import EyeRelief, GazeFollow, LidDriver, Lids
from tightseam.document.mix_model import Intended, MixRules, Way
from tightseam.document.mouth_model import Lips, Relief
from tightseam.document.shape_model import Activation, Cap, Driver, PartDelta, Shape

__all__ = [
    "OTHER_SIDE", "STRICT", "Activation", "Axis", "Cap", "CurveKey", "CurveKeys", "Driver", "EyeRelief", "GazeFollow", "LidDriver",
    "Lids", "Lips", "PartDelta", "Point", "Relief", "Shape", "Side", "Span", "Spans", "Turn",
]  # fmt: skip

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

    SAID: ClassVar = "part {name}"

    name: Annotated[str, Named("part")]
    kind: PartKind
    side: Side
    points: Annotated[ArrayHash, Array(), Length(place=True)]
    sizes: Annotated[ArrayHash, Array()]
    corners: Annotated[ArrayHash, Array()]
    vertex_count: int
    polygon_count: int
    colours: Annotated[ArrayHash | None, PerVertex("name", width=3)] = None
    face_colours: Annotated[ArrayHash | None, PerPolygon()] = None
    sets: dict[str, Annotated[ArrayHash, Vertices("name", ordered=True)]] = field(default_factory=dict)
    delivered: Delivered | None = None
    source: Annotated[ArrayHash | None, PerVertex("name", whole=True)] = None
    split: Annotated[ArrayHash | None, Roots(on="name")] = None
    transform: Turn | None = None
    pivot: Annotated[Point | None, Length(place=True)] = None


@dataclass(frozen=True, config=STRICT)
class Landmark:
    """A guide point on or in the neutral head. `sure` (0..1) is how sure its place is: less than 1 as it was suggested."""

    name: Annotated[str, Named("landmark")]
    point: Annotated[Point, Length(place=True)]
    sure: float = 1.0


@dataclass(frozen=True, config=STRICT)
class Bone:
    """A bone from `base` to `tip`. A helper moves others and deforms nothing.

    Rows of `axes` (3x3) are its own x, y and z while it rests: unit vectors, right-handed. `turn` (degrees about them) and `move`
    (cm along them) are how far its own control goes. `twin` is the bone on the other side. `by_hand` says that a person set its
    ends: landmarks no longer move it. `made_as` is the name it was built under, `export` what it is called in exported files,
    where these are not its name. `envelope` is the inner and the outer radius (cm) of its capsule, where set by hand.
    """

    SAID: ClassVar = "bone {name}"

    name: Annotated[str, Named("bone")]
    label: str
    parent: Annotated[str | None, Refers("bone")]
    base: Annotated[Point, Length(place=True)] = Field(validation_alias=AliasChoices("base", "head"))
    tip: Annotated[Point, Length(place=True)] = Field(validation_alias=AliasChoices("tip", "tail"))
    side: Side = "C"
    role: BoneRole = "deform"
    region: BoneRegion = "other"
    twin: Annotated[str | None, Refers("bone")] = None
    axes: Turn = WORLD
    turn: Spans = FREE
    move: Annotated[Spans, Length()] = FIXED
    by_hand: bool = False
    made_as: str | None = None
    export: str | None = None
    envelope: Annotated[Span | None, Length()] = None


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

    SAID: ClassVar = "weights of {bone}"

    bone: BoneName
    vertices: Annotated[ArrayHash, Vertices("part")]
    weights: Annotated[ArrayHash, Beside("vertices", low=0, high=10)]


@dataclass(frozen=True, config=STRICT)
class Ride:
    """Riding on the posed surface of another part: for each vertex (N,) int32 the vertex of that part it is rooted at. With `tufts` all
    that share a root stay rigid."""

    on: PartName
    roots: Annotated[ArrayHash, Roots(on="on", of="part")]
    tufts: bool = Field(default=False, validation_alias=AliasChoices("tufts", "locks"))


@dataclass(frozen=True, config=STRICT)
class Binding:
    """How a part is carried: wholly by one bone (rigid), along a chain of bones, by painted weights, or on another part (ride).

    `dual` (N,) float32 0..1 is how much of dual quaternion skinning is mixed into the linear at each vertex; None for none. With
    `bones_first` shapes are added to what the bones have posed, which is hardly ever meant: they do not turn with the head.
    """

    SAID: ClassVar = "binding of {part}"

    part: PartName
    carrier: Carrier
    influences: tuple[Influence, ...]
    ride: Annotated[Ride | None, Needed()] = None
    dual: Annotated[ArrayHash | None, PerVertex("part", low=0, high=1)] = None
    bones_first: bool = False


@dataclass(frozen=True, config=STRICT)
class Link:
    """A control's effect: `gain` per unit of the control, or times what `curve` gives for its value.

    For a bone's axis in degrees (`turn`) or cm (`move`), as strength for a shape and a relief, as closing for a lid (1 is closed; less
    than 0 opens it wider) and for the seal of the lips; for a corner of the mouth how far it follows the jaw beyond its weights (-1 to 1);
    added to the value of another control, which stays within its range.
    """

    kind: LinkKind
    target: Annotated[str, Refers(noun_in="kind")]
    gain: Annotated[float, Length(when=lambda link: link.kind == "bone" and link.by == "move")]
    axis: Axis | None = None
    by: Literal["turn", "move"] = "turn"
    curve: CurveKeys = ()


@dataclass(frozen=True, config=STRICT)
class Damping:
    """A control does less while another acts, `by`: all of it up to where that `comes_in`, what is `left` of it (0 to 1) from where that is
    `full`. Of a control that goes both ways perhaps only one."""

    by: Annotated[str, Refers("control")]
    comes_in: Annotated[float, InUnitOfChannel(of="by")]
    full: Annotated[float, InUnitOfChannel(of="by")]
    left: Annotated[float, Field(ge=0, le=1)]
    way: Way | None = None


@dataclass(frozen=True, config=STRICT)
class Control:
    """A handle for animators: rest value, range, links, and what damps it."""

    SAID: ClassVar = "control {name}"
    SELDOM: ClassVar = ("damped",)  # written only where it says something, so that what was stored before keeps its hash

    name: Annotated[str, Named("control")]
    label: str
    low: float
    high: float
    rest: float
    links: tuple[Link, ...]
    unit: Literal["", "°"] = ""
    damped: tuple[Damping, ...] = ()


@dataclass(frozen=True, config=STRICT)
class Pad:
    """One or two controls under one handle on the face plan: `x` is drawn to the left and right, `y` up and down; one of them may be
    missing. `place` is where it stands, from the left and from the top of the plan (0 to 1), the face seen from in front."""

    SAID: ClassVar = "pad {name}"
    LOST_WITHOUT: ClassVar = ("x", "y")

    name: Annotated[str, Named("pad")]
    label: str
    x: Annotated[str | None, Refers("control")]
    y: Annotated[str | None, Refers("control")]
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

    SAID: ClassVar = "seam {name}"
    LOST_WITHOUT: ClassVar = ("expected",)

    name: Annotated[str, Named("seam")]
    label: str
    region: Literal["eyes", "mouth", "inside", "neck", "hair"]
    kind: Literal["meet", "apart", "follow", "ride"]
    measure: Literal["solid", "patch", "self", "clear", "lag", "ride"]
    probe: PartName
    limits: Limits
    solid: Annotated[str | None, Refers("part", lost=True)] = None
    probe_set: str | None = None
    solid_set: str | None = None
    margin: str | None = None
    meets: str | None = None
    claim: str | None = None
    expected: tuple[BoneName, ...] = ()


@dataclass(frozen=True, config=STRICT)
class Pose:
    """A test pose: values of controls and of bones' own controls away from rest, and what it claims to close. A hidden one is kept, but
    neither drawn nor measured."""

    SAID: ClassVar = "pose {name}"

    name: Annotated[str, Named("pose")]
    label: str
    values: dict[Annotated[str, Refers("channel")], Annotated[float, InUnitOfChannel()]]
    closes: tuple[str, ...] = ()
    hidden: bool = False


@dataclass(frozen=True, config=STRICT)
class Selection:
    """Vertices of a part that somebody wants to find again, under a name."""

    SAID: ClassVar = "selection {name}"

    name: Annotated[str, Named("selection")]
    part: PartName
    vertices: Annotated[ArrayHash, Vertices("part", ordered=True)]


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
    eye_reliefs: tuple[EyeRelief, ...] = ()
    lids: tuple[Lids, ...] = ()
    reliefs: tuple[Relief, ...] = ()
    lips: tuple[Lips, ...] = ()
    controls: tuple[Control, ...] = ()
    plan: tuple[Pad, ...] = ()
    seams: tuple[Seam, ...] = ()
    poses: tuple[Pose, ...] = ()
    checkin: CheckIn = field(default_factory=CheckIn)
    skeleton: Skeleton | None = None
    selections: tuple[Selection, ...] = ()
    mix: MixRules = field(default_factory=MixRules)
    intended: tuple[Intended, ...] = ()
    caps: tuple[Cap, ...] = ()
