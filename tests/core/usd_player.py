"""A USD character played by usd-core itself: its own baking of skin and blend shapes. Shares no code with the product."""

from __future__ import annotations

import numpy as np
from pxr import Gf, UsdGeom, UsdSkel

from tests.core.usd_reader import opened


class PlayedUsd:
    def __init__(self, data: bytes) -> None:
        self._stage = opened(data)
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
