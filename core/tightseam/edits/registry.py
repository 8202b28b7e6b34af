"""The registry of edits, and recipes: lists of edits that can be replayed."""

from __future__ import annotations

from functools import reduce
from operator import or_
from typing import TYPE_CHECKING, Annotated, Any, Literal

from pydantic import BaseModel, BeforeValidator, ConfigDict, Field, TypeAdapter, ValidationError, create_model

from tightseam.document.arrays import ArrayStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Character
from tightseam.document.older import step_of_today
from tightseam.edits.base import Edit
from tightseam.edits.binding_edits import SetEnvelope, TransferWeights, WeighPart
from tightseam.edits.body_edits import JoinBody
from tightseam.edits.bone_edits import FollowLandmarks, PlaceBone, RenameBone, SetBoneLimits, SetParent, SetRole
from tightseam.edits.bone_weight_edits import AddWeights, MultiplyWeights, RemapWeights, SetWeights
from tightseam.edits.build_edits import BuildBones, StartRig
from tightseam.edits.cap_edits import AddCap, RemoveCap, SetCap
from tightseam.edits.checkin_edits import SetLimit, Unwaive, Waive
from tightseam.edits.control_edits import AddControl, ControlShapes, MoveControl, RemoveControls, RenameControl
from tightseam.edits.corrective_edits import AddCorrective, MirrorCorrective, SetActivation, SolveCorrective
from tightseam.edits.damping_edits import DampControl
from tightseam.edits.eye_edits import CentrePivot, DrawToBall, PushBack, RaiseLids, Shrink
from tightseam.edits.jaw_edits import HardenHead, SetDual, SetLips, SetMovement, StartLips
from tightseam.edits.landmark_edits import ConfirmLandmarks, MirrorLandmarks, PlaceLandmark, RemoveLandmarks, SuggestLandmarks
from tightseam.edits.lid_edits import CopyLids, DriveLids, PickMargins, ResetLids, SetClosedLine, SetGazeFollow
from tightseam.edits.lid_map_edits import FitRelief, MendMap, PaintMap, SetMap, SmoothMap, StartMap
from tightseam.edits.link_edits import LinkControl
from tightseam.edits.mesh_edits import MakeSymmetric, RemoveLoose, SmoothPatch, TurnFaces, Weld
from tightseam.edits.mix_edits import CountAgain, Intend, SetNeed, SetPairing
from tightseam.edits.paint_edits import PaintWeights
from tightseam.edits.part_edits import BakeTransform, RemovePart, Rename, SetKind, SetUnits, SplitIslands
from tightseam.edits.plan_edits import ArrangePlan, RemovePad, SetPad
from tightseam.edits.pose_edits import AddRangeOfMotion, HidePose, KeepPose, MovePose, RemovePose, RenamePose
from tightseam.edits.relief_edits import AddPreset, AddRelief, CopyRelief, MoveRelief, RemoveRelief, SetRelief
from tightseam.edits.relief_region_edits import BakeLips, BakeRelief, PaintRegion, SetRegion, SmoothRegion
from tightseam.edits.rest_edits import TakeRest
from tightseam.edits.ride_edits import SetRide
from tightseam.edits.sculpt_edits import SculptShape
from tightseam.edits.selection_edits import KeepSelection, RemoveSelection
from tightseam.edits.set_carrier import SetCarrier
from tightseam.edits.set_order import SetOrder
from tightseam.edits.set_range import SetRange
from tightseam.edits.shape_edits import CleanShape, FlipShape, MirrorShape, OffsetVertices, ScaleShape, TakeAlong, TakeOutPose
from tightseam.edits.shape_list_edits import MoveShapes, MuteShapes, RemoveShapes, RenameShapes
from tightseam.edits.shape_making_edits import (
    AddBetween,
    AddStarterSet,
    AddUpShapes,
    BakePose,
    DuplicateShapes,
    MergePose,
    NewShape,
    ShapeFromPose,
    SplitShape,
    TakeInShapes,
)
from tightseam.edits.skeleton_edits import AddBone, MirrorBones, RemoveBones, SetExportNames, SwapSides
from tightseam.edits.stand_edits import StandAt
from tightseam.edits.table_edits import SetWeightCells
from tightseam.edits.together import Together
from tightseam.edits.weight_edits import (
    CapWeights,
    CleanWeights,
    CopyWeightsAcross,
    EvenWeights,
    MendWeights,
    MoveWeights,
    NormaliseWeights,
    SharpenWeights,
    SmoothWeights,
    SwapWeights,
)

EDITS: dict[str, type[Edit]] = {
    "binding.set_carrier": SetCarrier,
    "binding.ride": SetRide,
    "binding.weigh": WeighPart,
    "binding.transfer": TransferWeights,
    "bone.set_envelope": SetEnvelope,
    "weights.set": SetWeights,
    "weights.add": AddWeights,
    "weights.multiply": MultiplyWeights,
    "weights.remap": RemapWeights,
    "weights.smooth": SmoothWeights,
    "weights.mend": MendWeights,
    "weights.sharpen": SharpenWeights,
    "weights.even": EvenWeights,
    "weights.move": MoveWeights,
    "weights.swap": SwapWeights,
    "weights.cap": CapWeights,
    "weights.clean": CleanWeights,
    "weights.normalise": NormaliseWeights,
    "weights.copy_across": CopyWeightsAcross,
    "weights.paint": PaintWeights,
    "weights.table": SetWeightCells,
    "control.set_range": SetRange,
    "cap.add": AddCap,
    "cap.set": SetCap,
    "cap.remove": RemoveCap,
    "mesh.weld": Weld,
    "mesh.remove_loose": RemoveLoose,
    "mesh.turn_faces": TurnFaces,
    "mesh.smooth_patch": SmoothPatch,
    "mesh.make_symmetric": MakeSymmetric,
    "part.rename": Rename,
    "part.set_kind": SetKind,
    "part.remove": RemovePart,
    "part.bake_transform": BakeTransform,
    "part.split_islands": SplitIslands,
    "eye.centre_pivot": CentrePivot,
    "eye.draw_to_ball": DrawToBall,
    "eye.push_back": PushBack,
    "eye.shrink": Shrink,
    "eye.raise_lids": RaiseLids,
    "lids.set_line": SetClosedLine,
    "lids.set_follow": SetGazeFollow,
    "lids.copy": CopyLids,
    "lids.reset": ResetLids,
    "lids.pick_margins": PickMargins,
    "lids.drive": DriveLids,
    "lids.start_map": StartMap,
    "lids.smooth_map": SmoothMap,
    "lids.set_map": SetMap,
    "lids.mend_map": MendMap,
    "lids.paint_map": PaintMap,
    "lids.fit_relief": FitRelief,
    "jaw.set_movement": SetMovement,
    "jaw.harden_head": HardenHead,
    "lips.set": SetLips,
    "lips.start": StartLips,
    "lips.bake": BakeLips,
    "relief.preset": AddPreset,
    "relief.add": AddRelief,
    "relief.set": SetRelief,
    "relief.move": MoveRelief,
    "relief.copy": CopyRelief,
    "relief.remove": RemoveRelief,
    "relief.set_region": SetRegion,
    "relief.smooth_region": SmoothRegion,
    "relief.paint": PaintRegion,
    "relief.bake": BakeRelief,
    "binding.set_order": SetOrder,
    "control.add": AddControl,
    "control.for_shapes": ControlShapes,
    "control.rename": RenameControl,
    "control.remove": RemoveControls,
    "control.move": MoveControl,
    "control.link": LinkControl,
    "plan.arrange": ArrangePlan,
    "plan.set_pad": SetPad,
    "plan.remove_pad": RemovePad,
    "shape.new": NewShape,
    "shape.from_pose": ShapeFromPose,
    "shape.starter": AddStarterSet,
    "shape.take_in": TakeInShapes,
    "shape.duplicate": DuplicateShapes,
    "shape.add_up": AddUpShapes,
    "shape.split": SplitShape,
    "shape.between": AddBetween,
    "shape.bake_pose": BakePose,
    "shape.merge_pose": MergePose,
    "shape.take_out": TakeOutPose,
    "shape.sculpt": SculptShape,
    "shape.mirror": MirrorShape,
    "shape.flip": FlipShape,
    "shape.scale": ScaleShape,
    "shape.clean": CleanShape,
    "shape.offset": OffsetVertices,
    "shape.take_along": TakeAlong,
    "shape.rename": RenameShapes,
    "shape.move": MoveShapes,
    "shape.mute": MuteShapes,
    "shape.remove": RemoveShapes,
    "binding.set_dual": SetDual,
    "landmark.place": PlaceLandmark,
    "landmark.suggest": SuggestLandmarks,
    "landmark.confirm": ConfirmLandmarks,
    "landmark.remove": RemoveLandmarks,
    "landmark.mirror": MirrorLandmarks,
    "bones.build": BuildBones,
    "bones.follow_landmarks": FollowLandmarks,
    "bones.remove": RemoveBones,
    "bones.mirror": MirrorBones,
    "bones.swap_sides": SwapSides,
    "bones.set_export_names": SetExportNames,
    "bone.place": PlaceBone,
    "bone.add": AddBone,
    "bone.rename": RenameBone,
    "bone.set_role": SetRole,
    "bone.set_parent": SetParent,
    "bone.set_limits": SetBoneLimits,
    "rig.start": StartRig,
    "selection.keep": KeepSelection,
    "selection.remove": RemoveSelection,
    "pose.keep": KeepPose,
    "pose.remove": RemovePose,
    "pose.rename": RenamePose,
    "pose.move": MovePose,
    "pose.hide": HidePose,
    "pose.add_range": AddRangeOfMotion,
    "control.damp": DampControl,
    "corrective.add": AddCorrective,
    "corrective.solve": SolveCorrective,
    "corrective.set_activation": SetActivation,
    "corrective.mirror": MirrorCorrective,
    "mix.set_need": SetNeed,
    "mix.set_pairing": SetPairing,
    "mix.intend": Intend,
    "mix.count_again": CountAgain,
    "edits.together": Together,
    "character.set_units": SetUnits,
    "character.stand_at": StandAt,
    "body.join": JoinBody,
    "rest.take": TakeRest,
    "checkin.set_limit": SetLimit,
    "checkin.waive": Waive,
    "checkin.unwaive": Unwaive,
}

if TYPE_CHECKING:

    class Step(BaseModel):
        """An edit by its name, with its parameters."""

        edit: str
        params: Edit

else:

    def _step(name: str, edit: type[Edit]) -> type[BaseModel]:
        return create_model(f"{edit.__name__}Step", __config__=ConfigDict(extra="forbid"), edit=(Literal[name], ...), params=(edit, ...))

    Step = Annotated[reduce(or_, [_step(name, edit) for name, edit in EDITS.items()]), Field(discriminator="edit")]


_recipe: TypeAdapter[Any] = TypeAdapter(list[Annotated[Step, BeforeValidator(step_of_today)]])


def parse_recipe(text: bytes | str) -> list[Step]:
    """Steps of a recipe from JSON, in the spellings of earlier versions too; BadRequest says which step is wrong and why."""
    try:
        found: list[Step] = _recipe.validate_json(text)
    except ValidationError as error:
        raise BadRequest(explain(error, "The recipe")) from None
    return found


def make_step(edit: str, params: dict[str, Any]) -> Step:
    """One step from its name and parameters; BadRequest says what is wrong with them."""
    try:
        found: list[Step] = _recipe.validate_python([{"edit": edit, "params": params}])
    except ValidationError as error:
        raise BadRequest(explain(error, "The edit")) from None
    return found[0]


def explain(error: ValidationError, what: str) -> str:
    """The first thing a validation found, in one line."""
    first = error.errors()[0]
    where = " › ".join(str(step) for step in first["loc"] if step not in ("params",))
    known = f" The edits are: {', '.join(EDITS)}." if first["type"].startswith("union_tag") else ""
    return f"{what} is not right{f' at {where}' if where else ''}: {first['msg']}.{known}"


def apply_recipe(character: Character, store: ArrayStore, steps: list[Step]) -> Character:
    for step in steps:
        character = step.params.apply(character, store)
    return character
