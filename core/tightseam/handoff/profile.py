"""Profiles: what a receiver of a rig allows, and what it does on its own."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import field
from importlib.resources import files
from typing import Annotated, Literal

from pydantic import Field
from pydantic.dataclasses import dataclass as checked

from tightseam.document.basics import STRICT
from tightseam.document.errors import BadRequest
from tightseam.document.json_text import from_json, text_of

Format = Literal["glb", "usd", "obj", "weights", "character"]
SHIPPED = ("generous", "lean", "film")
MOST_BYTES = 1 << 20
Limit = Annotated[int, Field(ge=1, le=100_000)]
Degrees = Annotated[float, Field(ge=-360, le=360)]


@checked(frozen=True, config=STRICT)
class Level:
    """A detail level of a package, with a GLB of its own: at most so many influences a vertex, bones, shapes, and vertices of all parts
    together; None for as many as there are."""

    label: Annotated[str, Field(pattern=r"^[a-z0-9_]{1,32}$")]
    influences: Annotated[int, Field(ge=1, le=8)] | None = None
    bones: Limit | None = None
    shapes: Annotated[int, Field(ge=0, le=100_000)] | None = None
    vertices: Annotated[int, Field(ge=500, le=10_000_000)] | None = None


@checked(frozen=True, config=STRICT)
class Profile:
    """What a receiver takes: at most so many `influences` a vertex, deforming `bones`, `shapes`, `vertices` of all parts together, and
    letters of a name (`name_length`); None is any number. With `plain_names` a name has the letters a to z, digits and underscores alone,
    and begins with a letter. `resets` are bones, by the name they have in files, that it sets to a rest of its own, degrees about the x, y
    and z of their parents; `listens`, where there are any, the only shapes it plays. `formats` are the files that it wants; with `tables`
    it brings shapes in by tables over the values of controls, without them it needs a shape a control. `levels` are detail levels that it
    wants beside; `unit` (None for cm in USD and the delivered one in OBJ) and `up`, the axis that points up, are those of these files: a
    GLB is in metres with Y up whoever takes it. Without `animation` files have no clip. `head_height` is how many cm above the ground,
    where y is 0, its own head bone begins."""

    name: str
    label: str
    story: str = ""
    influences: Annotated[int, Field(ge=1, le=8)] | None = None
    bones: Limit | None = None
    shapes: Limit | None = None
    vertices: Annotated[int, Field(ge=1, le=10_000_000)] | None = None
    name_length: Limit | None = None
    plain_names: bool = False
    resets: Mapping[str, tuple[Degrees, Degrees, Degrees]] = field(default_factory=dict)
    listens: tuple[str, ...] = ()
    formats: tuple[Format, ...] = ("glb", "usd")
    tables: bool = True
    levels: Annotated[tuple[Level, ...], Field(max_length=8)] = ()
    unit: Literal["mm", "cm", "m"] | None = None
    up: Literal["y", "z"] = "y"
    animation: bool = True
    head_height: Annotated[float, Field(ge=-1000, le=1000)] | None = None


def shipped_profile(key: str) -> Profile:
    """One of the profiles that ship with the application; BadRequest for another."""
    if key not in SHIPPED:
        raise BadRequest(f"There is no profile “{key}”. There are: {', '.join(SHIPPED)}.")
    return read_profile(files("tightseam.handoff").joinpath("profiles", f"{key}.json").read_bytes(), f"{key}.json")


def read_profile(data: bytes, file: str) -> Profile:
    """A profile from JSON: an object with the fields of `Profile`. BadRequest says what is wrong with it."""
    if len(data) > MOST_BYTES:
        raise BadRequest(f"{file} has {len(data) / 1e6:.1f} MB; a profile has {MOST_BYTES / 1e6:.0f} MB at most.")
    return from_json(text_of(data, file), file, Profile, "profile")
