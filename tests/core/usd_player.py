"""A USD character played by usd-core itself: its own baking of skin and blend shapes. Shares no code with the product."""

from __future__ import annotations

import tempfile
from pathlib import Path

import numpy as np
from pxr import Gf, Usd, UsdGeom, UsdSkel


class PlayedUsd:
    def __init__(self, data: bytes) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "character.usdc"
            path.write_bytes(data)
            text = Usd.Stage.Open(str(path)).ExportToString()
        self._stage = Usd.Stage.CreateInMemory()
        self._stage.GetRootLayer().ImportFromString(text)
        self.second = self._stage.GetTimeCodesPerSecond()
        self.last = self._stage.GetEndTimeCode() / self.second
        root = UsdSkel.Root(self._stage.GetDefaultPrim())
        source = UsdSkel.BindingAPI(self._stage.GetPrimAtPath(root.GetPath().AppendChild("skeleton"))).GetAnimationSource()
        self.poses = list(source.GetCustomDataByKey("poses"))
        assert UsdSkel.BakeSkinning(root, Gf.Interval(self._stage.GetStartTimeCode(), self._stage.GetEndTimeCode()))

    def points(self, second: int, part: str) -> np.ndarray:
        """Points (N, 3) of a part at a second, cm."""
        mesh = UsdGeom.Mesh(self._stage.GetPrimAtPath(self._stage.GetDefaultPrim().GetPath().AppendChild(part)))
        return np.array(mesh.GetPointsAttr().Get(second * self.second), np.float64)
