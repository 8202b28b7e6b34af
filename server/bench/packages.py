"""Packages that were made: kept as they go out, with what their report says beside them, and played by the stand-in."""

import io
import re
import zipfile
from dataclasses import asdict
from threading import Lock

import numpy as np
from characters.history import load
from characters.models import Revision
from pydantic import ValidationError
from standin.play import Receiver
from tightseam.deform.meshes import Meshes
from tightseam.document.cache import Cache, one
from tightseam.document.errors import BadRequest
from tightseam.document.kept import kept_key
from tightseam.document.labels import control_label, part_label
from tightseam.document.model import Character
from tightseam.document.progress import tell
from tightseam.document.sections import SECTION_NAMES
from tightseam.document.units import CM_TO_MM
from tightseam.handoff.profile import Profile, read_profile, shipped_profile
from tightseam.packing.leave_out import LeaveOut
from tightseam.packing.package import TABLE, Package, package

from bench import made_files
from bench.schemas import ArrivedOut, FileOut, LevelOut, PackageIn, PackageOut

KEEP = 2  # packages ready to be played
GONE = "That package is not there any more. Make it again."


def profile_of(name: str, own: str | None) -> Profile:
    """One that ships, or one of one's own as the text of a JSON file."""
    return shipped_profile(name) if own is None else read_profile(own.encode(), name)


def is_key(text: str) -> bool:
    """Can it be the key of a package? It becomes the name of a file."""
    return re.fullmatch(r"[0-9a-f]{64}", text) is not None


def key_of(revision: Revision, wanted: PackageIn) -> str:
    profile = profile_of(wanted.profile, wanted.own)
    return kept_key("package", load(revision)[0], SECTION_NAMES, asdict(profile), wanted.less.dict())


def make(revision: Revision, wanted: PackageIn, key: str) -> None:
    document, store = load(revision)
    profile = profile_of(wanted.profile, wanted.own)
    tell(0.0, "Packing")
    made = package(document, store, profile, LeaveOut(**{kind: tuple(names) for kind, names in wanted.less.dict().items()}))
    receiver = _receiver(made.files, profile) if "glb" in profile.formats else None
    told = _told(key, wanted, document, made, receiver)
    made_files.keep(key, made.zipped(), told.model_dump_json().encode())


def found(key: str) -> PackageOut | None:
    """What is told of a package; None before one was made, where it has made room for newer ones, and where an earlier version of the
    program told less of it."""
    data = made_files.beside(key)
    if data is None or made_files.found(key) is None:
        return None
    try:
        return PackageOut.model_validate_json(data)
    except ValidationError:
        return None


def arrived(key: str, meshes: Meshes, made: np.ndarray, values: dict[str, float]) -> np.ndarray:
    """Points (N, 3) of all parts, cm, as they arrive with controls at `values`; what is left out is not off, but where it was `made`."""
    posed = PLAYED.get(key, lambda: _Played(key)).posed(values)
    points = made.copy()
    for name in meshes.names:
        if name in posed and len(posed[name]) == len(points[meshes.rows(name)]):
            points[meshes.rows(name)] = posed[name]
    return points


class _Played:
    """A package that is played. One pose at a time: its arrays are its own."""

    def __init__(self, key: str) -> None:
        data, told = (made_files.found(key), found(key)) if is_key(key) else (None, None)
        if data is None or told is None:
            raise BadRequest(GONE)
        with zipfile.ZipFile(io.BytesIO(data)) as archive:
            files = {name: archive.read(name) for name in archive.namelist()}
        if not any(name.endswith(".glb") for name in files):
            raise BadRequest("The stand-in plays GLB, and this package has none.")
        self._receiver = _receiver(files, profile_of(told.profile, told.own))
        self._lock = Lock()

    def posed(self, values: dict[str, float]) -> dict[str, np.ndarray]:
        with self._lock:
            return self._receiver.posed(values)


PLAYED = Cache(KEEP, one)


def _receiver(files: dict[str, bytes], profile: Profile) -> Receiver:
    glb = next(data for name, data in files.items() if name.endswith(".glb"))
    return Receiver(glb, files[TABLE], asdict(profile))


def _told(key: str, wanted: PackageIn, document: Character, made: Package, receiver: Receiver | None) -> PackageOut:
    poses = {p.name: p.label for p in document.poses}
    return PackageOut(
        key=key,
        profile=wanted.profile,
        own=wanted.own,
        files=[FileOut(name=name, bytes=len(data)) for name, data in made.files.items()],
        arrived=[
            ArrivedOut(
                what=off.what,
                poses=off.poses,
                mm=off.mm,
                typical=off.typical,
                part=part_label(off.part) if off.part else "",
                pose=poses.get(off.pose, ""),
                values=dict(off.values),
                said=", ".join(f"{control_label(document, n)} {v:.2f}" for n, v in off.values.items()),
            )
            for off in made.errors
        ],
        shapes=made.fitted,
        without=wanted.less.parts,
        levels=[LevelOut(label=level.label, lost=level.lost_by(), **level.counts()) for level in made.levels],
        offences=[f.title for f in made.offences],
        done=receiver.told if receiver else [],
        missed=made.missed,
    )


def difference(now: np.ndarray, there: np.ndarray) -> np.ndarray:
    """How far apart points (N, 3) are, mm."""
    return CM_TO_MM * np.linalg.norm(now.astype(float) - there, axis=1)
