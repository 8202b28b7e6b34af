"""What the API takes and gives, as types."""

from datetime import datetime
from typing import Any, Literal
from uuid import UUID

from ninja import Schema
from problems import Problem
from pydantic import Field, create_model
from tightseam.checkin.check import Check, Verdict
from tightseam.controls.regions import ControlRegion
from tightseam.document.mix_model import MixRules
from tightseam.document.model import (
    Activation,
    Bone,
    Carrier,
    Control,
    Delivered,
    Landmark,
    Pad,
    PartKind,
    Point,
    Pose,
    Seam,
    Side,
    Skeleton,
)
from tightseam.edits.registry import Step
from tightseam.findings.cause import CauseKind
from tightseam.head.landmark_catalogue import Lies, Region
from tightseam.lids.maps import MapName
from tightseam.mix.report import MixReport
from tightseam.tryout.tried import Tried


class JobOut(Schema):
    """Work that takes a while: how far it is, or what came of it. `askers` are the windows that wait for it."""

    id: UUID
    kind: str
    title: str
    character: int | None = Field(validation_alias="character_id")
    base: int | None
    askers: list[str]
    state: Literal["waiting", "running", "done", "refused", "stopped", "failed"]
    share: float
    text: str
    started: datetime | None
    problem: Problem | None
    result: dict[str, Any] | None


class ProfileOut(Schema):
    """Who may receive a rig: a profile that ships with the application."""

    name: str
    label: str
    story: str


class OffencesIn(Schema):
    """A revision, and the profile it is held against: one that ships, or one of one's own as the text of a JSON file."""

    revision: int
    profile: str
    own: str | None = None


class LeaveOutIn(Schema):
    """Parts, bones and shapes, by name, that stay at home."""

    parts: list[str] = Field(default=[], max_length=2000)
    bones: list[str] = Field(default=[], max_length=2000)
    shapes: list[str] = Field(default=[], max_length=5000)


class PackageIn(OffencesIn):
    """A revision, the profile it is packed for, and what stays at home."""

    less: LeaveOutIn = LeaveOutIn()


class FileOut(Schema):
    name: str
    bytes: int


class ArrivedOut(Schema):
    """Over so many poses of `what`, how far what arrives is off at most and in the middle; in which pose that is, and on which part."""

    what: str
    poses: int
    mm: float
    typical: float
    part: str
    pose: str
    values: dict[str, float]
    said: str


class LevelOut(Schema):
    """A detail level: what is left in it, and by how many mm each step towards it is farther off at most, by what it took away."""

    label: str
    vertices: int
    bones: int
    shapes: int
    lost: dict[str, float]


class PackageOut(Schema):
    """A package that was made: its files, how far off it is by measure, how many shapes stand in for lids and lips, which parts it is
    `without`, its detail levels, what of it offends the profile, what the receiver does to it in silence, and what the face misses of what
    was left out."""

    key: str
    profile: str
    own: str | None
    files: list[FileOut]
    arrived: list[ArrivedOut]
    shapes: int
    without: list[str]
    levels: list[LevelOut]
    offences: list[str]
    done: list[str]
    missed: list[str]


class ReplayIn(Schema):
    """A recipe, as the text of a file, on a revision; of its steps those `chosen` by their numbers from 0, in their order, or all."""

    base: int
    file: str = Field(max_length=200)
    recipe: str
    chosen: list[int] | None = Field(default=None, max_length=5000)


class OutcomeOut(Schema):
    number: int
    edit: str
    done: Literal["done", "carried over", "not done"]
    text: str


class ReplayOut(Schema):
    """What became of each step, and the edit that makes all that could be made; None where none could."""

    outcomes: list[OutcomeOut]
    step: dict[str, Any] | None


class LeftOutOut(Schema):
    """What bones and shapes by themselves leave out of a test pose in a file: the part that is off most, and by how much."""

    pose: str
    part: str
    mm: float


class MendIn(Schema):
    """A cause of the board of a revision, by its number."""

    revision: int
    cause: int


class SweepIn(Schema):
    revision: int


class MixOut(Schema):
    """What came of a sweep of all expressions, of which `revision`; `fresh` where that is as the one that was asked for. Nothing without
    one. `job` is the sweep that is going on."""

    report: MixReport | None
    revision: int | None
    fresh: bool
    job: JobOut | None


class RevisionOut(Schema):
    number: int
    parent: int | None
    text: str
    edit: str


class WorstOut(Schema):
    """The worst finding of a character, for its card."""

    title: str
    text: str
    kind: str
    said: str = Field(description="how much, with its unit")


class CheckInShort(Schema):
    """Faults and looks of a character's check-in, and the first of them."""

    faults: int
    looks: int
    first: str | None
    said: str | None


class ShelfEntry(Schema):
    id: int
    name: str
    story: str
    revision: RevisionOut
    parts: int
    vertices: int
    measured: bool
    findings: int
    worst: WorstOut | None
    poses: int
    checkin: CheckInShort
    drawn: str = Field(description="as that of the character")


class DamagedEntry(Schema):
    """A character that cannot be opened, and why."""

    id: int
    name: str
    damage: str


class InfluenceOut(Schema):
    """How much of a part a bone carries: share of the sum of all weights, and on how many vertices."""

    bone: str
    share: float
    vertices: int


class PartOut(Schema):
    name: str
    kind: PartKind
    side: str
    vertices: int
    polygons: int
    delivered: Delivered | None
    transform: str | None
    pivot: Point | None
    carrier: Carrier | Literal["none"]
    rides_on: str | None
    roots: list[int] = Field(description="vertices of that part it is rooted at")
    influences: list[InfluenceOut]
    expected: list[str]


class ShapeOut(Schema):
    name: str
    label: str
    parts: list[str]
    digest: str = Field(description="changes whenever the shape does")
    muted: bool
    activation: Activation | None = Field(description="what brings it in by itself, of a corrective")


class CapOut(Schema):
    """How far expressions add up on how many vertices of a part, and how much is let through beyond, cm."""

    name: str
    label: str
    part: str
    vertices: int
    cm: float
    soft: float


class SavedOut(Schema):
    """A selection that is kept under a name, and how many vertices it has."""

    name: str
    part: str
    vertices: int


class TakenOffOut(Schema):
    """A character that was taken off the shelf, and when it may be gone for good."""

    id: int
    name: str
    when: datetime
    until: datetime


class LatelyOut(Schema):
    """Something that was done to a character."""

    character: int
    name: str
    number: int
    text: str
    when: datetime


class CharacterOut(Schema):
    id: int
    name: str
    story: str
    revision: RevisionOut
    meshes: str = Field(description="changes whenever a mesh does")
    drawn: str = Field(description="changes whenever the head may look otherwise in any pose; alike for heads that are alike")
    guides: dict[str, Point] = Field(description="points that views are aimed at, by landmark, cm")
    heading: float = Field(description="which way the head looks, degrees about Y from Z")
    unit: str | None
    can_undo: bool
    can_redo: bool
    history: list[RevisionOut]
    parts: list[PartOut]
    bones: list[Bone]
    envelopes: list[tuple[float, float]] = Field(description="inner and outer radius of each bone's capsule, cm")
    skeleton: Skeleton | None
    landmarks: list[Landmark]
    shapes: list[ShapeOut]
    controls: list[Control]
    caps: list[CapOut]
    regions: dict[str, ControlRegion] = Field(description="which part of the face each control moves, by its name")
    plan: list[Pad]
    mix: MixRules
    intended: list[str] = Field(description="why each fault of the mix that is meant is, by its number")
    seams: list[Seam]
    selections: list[SavedOut]
    poses: list[Pose] = Field(description="those of the strip")
    hidden_poses: list[Pose]
    mixed: int | None = Field(description="causes that the sweep of this state found; none where it was not swept")


CharacterChange = create_model(  # without defaults in the document of the API: what is not told stays
    "CharacterChange",
    __base__=Schema,
    __doc__="What a change may have made different of a character; all that is not told is as it was.",
    **{name: (field.annotation, Field(default_factory=lambda: None)) for name, field in CharacterOut.model_fields.items()},  # type: ignore[call-overload]
)


class EditIn(Schema):
    """An edit and the number of the revision it was made on."""

    base: int
    step: Step


class TryOut(Schema):
    """What an edit would do, and the `draft` by which frames show it; None where it changes the meshes, so that frames are of no use."""

    draft: str | None
    tried: Tried


class BaseIn(Schema):
    base: int


class MapOf(Schema):
    side: Side
    map: MapName


class ShapeOf(Schema):
    """How far a shape moves what it moves; vertices that go less than `below` mm are marked."""

    shape: str
    below: float = Field(default=0.02, ge=0, le=10)


class FrameIn(Schema):
    """What to pose and draw. `known` holds the digests of parts the client already shows: those are left out."""

    revision: int
    values: dict[str, float] = Field(default={}, max_length=5000)
    overdrive: bool = False
    smooth: bool = False
    weights_of: str | None = None
    map_of: MapOf | None = Field(default=None, description="a map of lids to show in place of weights")
    region_of: str | None = Field(default=None, description="a relief whose region to show in place of weights")
    shape_of: ShapeOf | None = Field(default=None, description="a shape whose size to show in place of weights")
    handles: bool = False
    known: dict[str, int] = Field(default={}, max_length=1000)
    draft: str | None = Field(default=None, max_length=64, description="an edit that is tried: the head is shown with it")
    arrived: str | None = Field(default=None, max_length=64, description="a package: the head is shown as its receiver poses it")
    tint: Literal["mirror", "weights", "pin", "stretch", "dual", "draft", "arrived"] | None = Field(
        default=None, description="a difference to show as a colour"
    )
    pinned: int | None = Field(default=None, description="the revision that `pin` compares with")


class MeasureIn(Schema):
    """Measure a pose of the strip, or with `values` any pose."""

    revision: int
    pose: str | None = None
    values: dict[str, float] = Field(default={}, max_length=1000)


class PullIn(Schema):
    """Vertices of a part; where there are several, what moves them is told by its mean."""

    revision: int
    part: str
    vertices: list[int] = Field(min_length=1, max_length=200_000)
    values: dict[str, float] = Field(default={}, max_length=1000)


class PullRowOut(Schema):
    kind: CauseKind
    name: str
    label: str
    millimetres: float
    vector: tuple[float, float, float]
    weight: float | None
    arrows: list[float] = Field(description="from where some of the vertices are posed along what this moves them by: pairs of points, cm")


class PullOut(Schema):
    """The pull list of vertices and, where something should carry their part, the lag list."""

    part: str
    vertices: int
    total: float
    moved: float
    pull: list[PullRowOut]
    lag: list[PullRowOut] | None
    lag_millimetres: float | None


class LimitOut(Schema):
    """A limit of Check-in: the value in force, ours, and the range it can be set to."""

    key: str
    label: str
    unit: str
    value: float
    ours: float
    low: float
    high: float
    own: bool


class CheckInOut(Schema):
    """All checks, the worst first."""

    revision: int
    faults: int
    looks: int
    checks: list[Check]
    limits: list[LimitOut]


class MovedOut(Schema):
    """What an edit would do to one part: `lines` are pairs of points (x, y, z, x, y, z) from where a vertex is to where it would be."""

    part: str
    moved: int
    gone: int
    farthest: float
    lines: list[float]


class ChangeOut(Schema):
    """A check whose verdict an edit would change."""

    label: str
    before: Verdict | None
    after: Verdict | None
    said: str


class PreviewOut(Schema):
    """What an edit would do, before it is done."""

    text: str
    order_kept: bool
    parts: list[MovedOut]
    changes: list[ChangeOut]


class ContactOut(Schema):
    """The deepest contact of an eye with its lids in one gaze: mm of overlap, negative for clearance; degrees left and up."""

    across: float
    height: float
    depth: float
    point: Point
    vertex: int


class EyeSeatOut(Schema):
    """How an eye sits; lengths in mm. `pivot_error` is None for an eye without a pivot of its own."""

    part: str
    side: Side
    vertices: int
    radius: float
    rms: float
    roundness: float
    worst_vertex: int
    pivot_error: float | None
    across: list[float]
    height: list[float]
    contacts: list[ContactOut] = Field(description="row by row from looking down")
    worst: int


class CutOut(Schema):
    """A flat cut through an eye and its lids: points (forward, away from the gaze axis) in mm about the eye's centre."""

    skin: list[list[tuple[float, float]]]
    eye: list[list[tuple[float, float]]]
    contact: tuple[float, float]


class PlaceOut(Schema):
    """A place, cm, and how sure it is, 0..1."""

    point: Point
    sure: float


class MarkOut(Schema):
    """A landmark of the catalogue: where it belongs in words, where it is, and where it is found on the mesh."""

    name: str
    label: str
    region: Region
    belongs: str
    lies: Lies
    twin: str | None
    placed: PlaceOut | None
    found: PlaceOut | None


class LandmarksOut(Schema):
    """All landmarks, and the middle plane (a point on it, its normal towards the character's left) that twins mirror in."""

    marks: list[MarkOut]
    doubtful: float = Field(description="confidence below which a place wants to be looked at")
    middle: tuple[Point, Point] | None


class LineOut(Schema):
    part: str
    kind: PartKind
    points: list[tuple[float, float]]


class PlaceCutIn(Schema):
    revision: int
    part: str
    vertex: int
    values: dict[str, float] = Field(default={}, max_length=1000)


class SideCutOut(Schema):
    """A cut through a landmark along the middle plane, seen from the character's left: points (forward, up) in mm about the landmark;
    `forward` and `up` are those directions in the head's space."""

    lines: list[LineOut]
    forward: Point
    up: Point
