"""What a receiver does to a package in silence: drops what it does not take, and sets joints to rests of its own."""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from standin.glb import Floats, Mesh, Scene


def limited(scene: Scene, profile: Mapping[str, Any]) -> tuple[Scene, list[str]]:
    """The scene as a receiver with this profile (docs/handoff.md) keeps it, and in words what it did."""
    told: list[str] = []
    meshes = [_few_influences(m, profile.get("influences"), told) for m in scene.meshes]
    names = list(dict.fromkeys(name for m in meshes for name in m.targets))
    unheard = {n for n in names if profile.get("listens") and n not in profile["listens"]}
    most = profile.get("shapes")
    beyond = set([n for n in names if n not in unheard][most:]) if most is not None else set()
    for dropped, why in ((unheard, "does not listen to"), (beyond, "has no room for")):
        if dropped:
            told.append(f"It {why} {len(dropped)} shapes: {_listed(sorted(dropped))}.")
    gone = unheard | beyond
    meshes = [replace(m, targets={n: t for n, t in m.targets.items() if n not in gone}) for m in meshes]
    joints = [replace(j, turn=_euler(profile["resets"][j.name])) if j.name in profile.get("resets", {}) else j for j in scene.joints]
    for ours, theirs in zip(scene.joints, joints, strict=True):
        off = math.degrees(math.acos(min(max((np.trace(ours.turn.T @ theirs.turn) - 1) / 2, -1), 1)))
        if off > 0.05:
            told.append(f"It sets {ours.name} to a rest of its own, {off:.1f}° away.")
    if profile.get("bones") is not None and len(joints) > profile["bones"]:
        told.append(f"It has room for {profile['bones']} of {len(joints)} bones: what the others carry stays with the bone above.")
        meshes = [_few_joints(m, scene, profile["bones"]) for m in meshes]
    return replace(scene, joints=joints, meshes=meshes), told


def _few_influences(mesh: Mesh, most: int | None, told: list[str]) -> Mesh:
    """The largest are left, and made to add up to 1 again."""
    if most is None or mesh.weights.shape[1] <= most:
        return mesh
    order = np.argsort(-mesh.weights, axis=1, kind="stable")[:, :most]
    kept = np.take_along_axis(mesh.weights, order, axis=1)
    many = int(((mesh.weights > 0).sum(axis=1) > most).sum())
    if many:
        told.append(f"It drops what is beyond {most} influences at {many} vertices of {mesh.name}.")
    total = kept.sum(axis=1, keepdims=True)
    return replace(mesh, joints=np.take_along_axis(mesh.joints, order, axis=1), weights=kept / np.where(total > 0, total, 1))


def _few_joints(mesh: Mesh, scene: Scene, most: int) -> Mesh:
    """Joints that stand behind the first `most` count as what they hang on."""
    stands_for = np.arange(len(scene.joints))
    for k, joint in enumerate(scene.joints):
        if k >= most:
            stands_for[k] = stands_for[max(joint.parent, 0)]
    return replace(mesh, joints=stands_for[mesh.joints]) if mesh.joints.size else mesh


def _euler(degrees: tuple[float, float, float]) -> Floats:
    """Turned about x, then about the turned y, then about the turned z."""
    x, y, z = np.radians(degrees)
    about_x = np.array([[1, 0, 0], [0, np.cos(x), -np.sin(x)], [0, np.sin(x), np.cos(x)]])
    about_y = np.array([[np.cos(y), 0, np.sin(y)], [0, 1, 0], [-np.sin(y), 0, np.cos(y)]])
    about_z = np.array([[np.cos(z), -np.sin(z), 0], [np.sin(z), np.cos(z), 0], [0, 0, 1]])
    return about_x @ about_y @ about_z


def _listed(names: list[str]) -> str:
    return ", ".join(names[:5]) + (f" and {len(names) - 5} more" if len(names) > 5 else "")
