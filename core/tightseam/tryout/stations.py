"""What is found wrong, by the station that looks for it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Literal

from tightseam.binding.checks import weight_findings_of
from tightseam.document.kept import Remembered
from tightseam.edits.registry import Step
from tightseam.edits.together import Together
from tightseam.findings.finding import Finding
from tightseam.jaw.findings import findings_of
from tightseam.landmarks.bones.checks import bone_findings_of
from tightseam.lids.findings import lid_findings
from tightseam.shapes.checks import shape_findings

Station = Literal["bones", "weights", "lids", "jaw", "shapes"]
FINDINGS: Mapping[Station, Remembered[[], list[Finding]]] = {
    "bones": bone_findings_of,
    "weights": weight_findings_of,
    "lids": lid_findings,
    "jaw": findings_of,
    "shapes": shape_findings,
}


def station_of(step: Step) -> Station:
    """Whose findings an edit is about; several at once are about those of the first."""
    edit = step.params.steps[0].edit if isinstance(step.params, Together) else step.edit
    family = edit.partition(".")[0]
    if family in ("shape", "corrective", "control") or edit == "binding.set_order":
        return "shapes"
    if family in ("bone", "bones"):
        return "bones"
    return "lids" if family == "lids" else "jaw" if family in ("jaw", "relief", "lips") else "weights"
