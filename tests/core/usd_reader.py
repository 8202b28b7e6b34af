"""An independent reading of a USD character: blend shapes, then the skin, as UsdSkel says. Shares no code with the product."""

from __future__ import annotations

import tempfile
from collections.abc import Mapping
from pathlib import Path
from typing import Any

import numpy as np
from pxr import Usd, UsdGeom, UsdSkel


def opened(data: bytes) -> Usd.Stage:
    """A binary file's stage, in memory."""
    with tempfile.TemporaryDirectory() as folder:
        path = Path(folder) / "character.usdc"
        path.write_bytes(data)
        text = Usd.Stage.Open(str(path)).ExportToString()
    stage = Usd.Stage.CreateInMemory()
    stage.GetRootLayer().ImportFromString(text)
    return stage


class PosedUsd:
    def __init__(self, data: bytes) -> None:
        self._stage = opened(data)
        self._root = self._stage.GetDefaultPrim()

    @property
    def correctives(self) -> Mapping[str, Any]:
        """What brings shapes in by themselves."""
        return self._root.GetCustomDataByKey("correctives")

    def shapes(self, part: str) -> list[str]:
        return list(UsdSkel.BindingAPI(self._mesh(part)).GetBlendShapesAttr().Get() or [])

    def posed(self, part: str, weights: Mapping[str, float], joints: np.ndarray) -> np.ndarray:
        """Points (N, 3) of a part, cm, with its shapes in by `weights` and the joints (B, 4, 4) moved from rest."""
        mesh = self._mesh(part)
        points = np.array(UsdGeom.Mesh(mesh).GetPointsAttr().Get(), np.float64)
        binding = UsdSkel.BindingAPI(mesh)
        for name, path in zip(self.shapes(part), binding.GetBlendShapeTargetsRel().GetTargets(), strict=True):
            shape = UsdSkel.BlendShape(self._stage.GetPrimAtPath(path))
            points[np.array(shape.GetPointIndicesAttr().Get())] += weights.get(name, 0.0) * np.array(shape.GetOffsetsAttr().Get())
        width = binding.GetJointIndicesPrimvar().GetElementSize()
        which = np.array(binding.GetJointIndicesPrimvar().Get()).reshape(-1, width)
        share = np.array(binding.GetJointWeightsPrimvar().Get(), np.float64).reshape(-1, width)
        matrices = np.einsum("nk,nkij->nij", share, joints[which])
        return np.einsum("nij,nj->ni", matrices[:, :3, :3], points) + matrices[:, :3, 3]

    def _mesh(self, part: str) -> Usd.Prim:
        return self._stage.GetPrimAtPath(self._root.GetPath().AppendChild(part))
