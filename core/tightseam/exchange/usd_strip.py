"""The strip of poses in a USD file: an animation of its skeleton, a pose a second."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from tightseam.bake.strip import BakedStrip
from tightseam.exchange.placing import Placing

TIMES_A_SECOND = 24.0


def add_strip(stage: Any, path: str, joints: Sequence[str], strip: BakedStrip, shapes: Sequence[str], placing: Placing) -> None:
    """Animate the skeleton at `path` with its `joints`: at second k it and the blend `shapes`, by name, are in pose k of the strip. The
    animation is called "strip"; the names of its poses stand in its custom data, under "poses"."""
    from pxr import Gf, UsdSkel, Vt

    animation = UsdSkel.Animation.Define(stage, f"{path}/strip")
    animation.CreateJointsAttr(Vt.TokenArray(list(joints)))
    animation.CreateBlendShapesAttr(Vt.TokenArray(list(shapes)))
    animation.CreateBlendShapeWeightsAttr()
    animation.GetPrim().SetCustomDataByKey("poses", Vt.StringArray([pose.name for pose in strip.poses]))
    roots = strip.baked.skeleton.parents < 0
    for k in range(len(strip.poses)):
        frames, weights = placing.local_frames(strip.frames(k), roots), strip.weights(k)
        animation.SetTransforms(Vt.Matrix4dArray([Gf.Matrix4d(f.T.tolist()) for f in frames]), k * TIMES_A_SECOND)  # row vectors
        animation.GetBlendShapeWeightsAttr().Set(Vt.FloatArray([weights.get(name, 0.0) for name in shapes]), k * TIMES_A_SECOND)
    source = UsdSkel.BindingAPI.Apply(stage.GetPrimAtPath(path)).CreateAnimationSourceRel()
    source.SetTargets([animation.GetPath()])
    stage.SetTimeCodesPerSecond(TIMES_A_SECOND)
    stage.SetStartTimeCode(0)
    stage.SetEndTimeCode((len(strip.poses) - 1) * TIMES_A_SECOND)
