"""Landmarks and bones of revisions."""

import numpy as np
from django.http import Http404
from tightseam.document.errors import BadRequest
from tightseam.document.make import make_point
from tightseam.document.units import CM_TO_MM
from tightseam.geometry.section import section
from tightseam.geometry.symmetry import Plane
from tightseam.geometry.triangulate import triangulate
from tightseam.head.found import found_head
from tightseam.head.landmark_catalogue import CATALOGUE, entry_of, label_of, twin_of
from tightseam.landmarks.suggest.found_mark import DOUBTFUL
from tightseam.landmarks.suggest.suggest import suggestions

from bench.rigs import Rig
from bench.schemas import LandmarksOut, LineOut, MarkOut, PlaceOut, SideCutOut

HIDES = ("hair", "whiskers", "lash", "brow", "cloth", "body")  # what a look into the head leaves out


def landmarks(rig: Rig) -> LandmarksOut:
    placed = {m.name: m for m in rig.document.landmarks}
    found = suggestions(rig.document, rig.store)
    marks = []
    for entry in CATALOGUE:
        for name in entry.names:
            here, there = placed.get(name), found.get(name)
            marks.append(
                MarkOut(
                    name=name,
                    label=label_of(name),
                    region=entry.region,
                    belongs=entry.belongs,
                    lies=entry.lies,
                    twin=twin_of(name),
                    placed=None if here is None else PlaceOut(point=here.point, sure=here.sure),
                    found=None if there is None else PlaceOut(point=make_point(there.point), sure=there.sure),
                )
            )
    frame = found_head(rig.document, rig.store).frame
    middle = None if frame is None else (make_point(frame.plane.point), make_point(frame.plane.normal))
    return LandmarksOut(marks=marks, doubtful=DOUBTFUL, middle=middle)


def side_cut(rig: Rig, name: str) -> SideCutOut:
    """Everything inside and the skin, cut through a landmark along the middle plane."""
    if entry_of(name) is None:
        raise Http404(f"There is no landmark called “{name}”.")
    mark = next((m for m in rig.document.landmarks if m.name == name), None)
    if mark is None:
        raise BadRequest(f"The landmark “{label_of(name)}” is not placed yet.")
    left, up, forward = found_head(rig.document, rig.store).axes
    point = np.array(mark.point)
    lines = []
    for piece in found_head(rig.document, rig.store).pieces:
        if piece.part.kind not in HIDES:
            for line in section(piece.points, triangulate(piece.points, piece.polygons), Plane(point, left)):
                offset = line.outline - point
                flat = np.stack([offset @ forward, offset @ up], axis=1) * CM_TO_MM
                lines.append(LineOut(part=piece.part.name, kind=piece.part.kind, points=flat.round(2).tolist()))
    return SideCutOut(lines=lines, forward=make_point(forward), up=make_point(up))
