"""What a skin does, in words."""

from __future__ import annotations

from collections.abc import Mapping

from tightseam.surfaces.limits import SpotKind

DOES: Mapping[SpotKind, str] = {
    "stretch": "The skin is drawn out",
    "squeeze": "The skin is pressed together",
    "flip": "The skin turns over",
    "crumple": "The skin crumples",
    "hollow": "The skin sinks in",
    "split": "The skin comes apart at a cut",
    "squash": "The skull gives",
}
