"""glTF that other programs wrote: splits welded with the map kept, transforms applied and reported, skins and targets taken along."""

from __future__ import annotations

import contextlib
import itertools

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from tightseam.deform.evaluator import Evaluator
from tightseam.deform.skeleton import checked_values
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadDocument, TightSeamError
from tightseam.document.lookup import polygons
from tightseam.document.make import dense_weights
from tightseam.exchange.character_file import read_character, write_character
from tightseam.exchange.gltf_read import read_gltf
from tightseam.exchange.quads import _best_pairing, recover_quads
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.triangulate import triangulate_with_faces
from tightseam.intake.take_in import take_in

from tests.core.gltf_foreign import Foreign, flat_shaded
from tests.core.shapes import cube, grid


def canonical(lists: list[list[int]]) -> list[tuple[int, ...]]:
    """Faces as sets of turns: the first corner does not matter."""
    return sorted(tuple(np.roll(f, -int(np.argmin(f))).tolist()) for f in lists)


def test_split_vertices_are_welded_and_the_map_gives_the_file_back():
    points, faces = cube(2)
    mesh = read_gltf(flat_shaded(points, faces).glb(), "box.glb").meshes[0]
    assert (len(mesh.points), mesh.file_count) == (8, 24)
    assert np.array_equal(mesh.points[mesh.split], points[faces.corners])
    assert np.array_equal(mesh.split[mesh.source], np.arange(8))
    assert mesh.polygons.sizes.tolist() == [4] * 6


def test_the_split_map_lives_on_in_the_character_file():
    points, faces = cube(0.2)
    store = MemoryStore()
    taken = take_in({"box.glb": flat_shaded(points, faces).glb()}, store).character
    again = MemoryStore()
    back = read_character(write_character(taken, store), again)
    assert back == taken
    split = np.asarray(again.get(back.parts[0].split))
    assert np.allclose(np.asarray(again.get(back.parts[0].points))[split], points[faces.corners] * 100, atol=1e-4)  # metres to cm


@pytest.mark.parametrize("mesh", [grid(7, 5), cube()], ids=["sheet", "box"])
def test_quads_that_were_cut_are_put_together_again(mesh):
    points, faces = mesh
    triangles, _ = triangulate_with_faces(points, faces)
    assert canonical(recover_quads(points, triangles).lists()) == canonical(faces.lists())


@given(st.lists(st.floats(0, 1), min_size=2, max_size=9))
def test_the_pairing_is_the_best_of_all(worth):
    worth = np.array([*worth[:-1], 0.0])  # the last triangle has nobody behind it
    choices = itertools.chain.from_iterable(itertools.combinations(range(len(worth)), n) for n in range(len(worth) // 2 + 1))
    best = max(worth[list(c)].sum() for c in choices if all(b - a > 1 for a, b in itertools.pairwise(c)))
    assert worth[_best_pairing(worth)].sum() == pytest.approx(best)


def test_a_mesh_of_triangles_stays_one():
    rng = np.random.default_rng(0)
    points = rng.normal(size=(30, 3))
    triangles = np.array([rng.choice(30, 3, replace=False) for _ in range(40)])
    assert recover_quads(points, triangles).sizes.tolist() == [3] * 40


def test_node_transforms_are_applied_down_the_tree_and_reported():
    points, faces = cube(1)
    made = flat_shaded(points, faces, translation=[1, 2, 3], scale=[2, 1, 1])
    made.tree["nodes"].append({"children": [0], "rotation": [0, np.sin(np.pi / 4), 0, np.cos(np.pi / 4)]})
    made.tree["scenes"] = [{"nodes": [1]}]
    mesh = read_gltf(made.glb(), "box.glb").meshes[0]
    quarter = np.array([[0, 0, 1], [0, 1, 0], [-1, 0, 0]])  # 90° about Y
    assert np.allclose(mesh.points[mesh.split], (points[faces.corners] * [2, 1, 1] + [1, 2, 3]) @ quarter.T, atol=1e-6)
    assert np.allclose(mesh.linear, quarter @ np.diag([2, 1, 1]))
    assert np.allclose(mesh.pivot, quarter @ [1, 2, 3])


def test_a_mirrored_node_is_turned_right_side_out():
    points, faces = cube(1)
    mesh = read_gltf(flat_shaded(points, faces, scale=[-1, 1, 1]).glb(), "box.glb").meshes[0]
    p, q = mesh.points, mesh.polygons
    volume = sum(float(p[f[0]] @ np.cross(p[f[k]], p[f[k + 1]])) for f in q.lists() for k in (1, 2))
    assert volume > 0
    assert np.linalg.det(mesh.linear) < 0


def skinned() -> Foreign:
    """Two joints, the second bending the upper half; a target; the mesh node's own transform must play no part."""
    made = Foreign()
    points, _ = grid(1, 4)
    triangles = np.array([[2 * j, 2 * j + 1, 2 * j + 3, 2 * j, 2 * j + 3, 2 * j + 2] for j in range(4)], "u2").ravel()
    upper = points[:, 1] / 4
    weights = np.stack([1 - upper, upper, 0 * upper, 0 * upper], axis=1).astype("f4")
    joints = np.tile(np.array([0, 1, 0, 0], "u1"), (10, 1))
    smile = np.zeros((10, 3), "f4")
    smile[9] = [0, 0.5, 0]
    inverse = np.stack([np.eye(4), np.eye(4)])
    inverse[1, 1, 3] = -2
    made.tree |= {
        "meshes": [
            {
                "primitives": [
                    {
                        "attributes": {
                            "POSITION": made.add(points.astype("f4")),
                            "WEIGHTS_0": made.add(weights),
                            "JOINTS_0": made.add(joints),
                        },
                        "indices": made.add(triangles),
                        "targets": [{"POSITION": made.add(smile)}],
                    }
                ],
                "extras": {"targetNames": ["smile"]},
            }
        ],
        "nodes": [{"mesh": 0, "skin": 0, "name": "face", "translation": [9, 9, 9]}, {"name": "root", "children": [2]}, {"name": "tip"}],
        "scenes": [{"nodes": [0, 1]}],
        "skins": [{"joints": [1, 2], "inverseBindMatrices": made.add(inverse.transpose(0, 2, 1).reshape(2, 16).astype("f4"))}],
    }
    return made


def test_skins_and_targets_come_along():
    store = MemoryStore()
    taken = take_in({"f.glb": skinned().glb()}, store).character
    assert [(b.name, b.parent, b.base) for b in taken.bones] == [("root", None, (0, 0, 0)), ("tip", "root", (0, 200, 0))]
    weights = dense_weights(store, taken.bindings[0].influences, ["root", "tip"], 10)
    assert np.allclose(weights[:, 1], np.repeat(np.arange(5), 2) / 4, atol=1e-6)
    assert [s.name for s in taken.shapes] == ["smile"]
    delta = taken.shapes[0].deltas[0]
    assert store.get(delta.vertices).tolist() == [9]
    assert np.allclose(store.get(delta.offsets), [[0, 50, 0]])
    assert np.asarray(store.get(taken.parts[0].points)).max() < 401  # where the bind pose puts it, not its node
    assert [c.name for c in taken.controls] == ["smile"]


def test_a_rig_from_elsewhere_is_posed_by_its_own_bones_before_any_control_is_made():
    """The tip's axes lie along its joint's: its own x points up, so that turning about x turns about the world's y."""
    made = skinned()
    tip = np.eye(4)
    tip[:3, :3] = [[0, 0, 1], [1, 0, 0], [0, 1, 0]]  # columns: own x up, own y forward, own z to the left
    tip[:3, 3] = [0, 2, 0]
    inverse = np.stack([np.eye(4), np.linalg.inv(tip)])
    made.tree["skins"][0]["inverseBindMatrices"] = made.add(inverse.transpose(0, 2, 1).reshape(2, 16).astype("f4"))
    store = MemoryStore()
    character = take_in({"face.glb": made.glb()}, store).character
    assert np.allclose(np.array(character.bones[1].axes).reshape(3, 3), tip[:3, :3].T, atol=1e-6)
    evaluator = Evaluator(character, store)
    posed = evaluator.points(checked_values(character, {"tip.turn_x": 90.0}))
    rest = np.asarray(store.get(character.parts[0].points))
    top = rest[:, 1].argmax()
    assert np.allclose(posed[top], [rest[top, 2], rest[top, 1], -rest[top, 0]], atol=1e-3 * np.abs(rest).max())


def test_a_gltf_with_its_buffer_beside_or_within_is_the_same():
    made = flat_shaded(*cube(1))
    whole = read_gltf(made.glb(), "box.glb").meshes[0]
    within = read_gltf(made.text(), "box.gltf").meshes[0]
    beside = read_gltf(made.text("deep/box%20one.bin"), "in/box.gltf", {"in/deep/box one.bin": made.binary}).meshes[0]
    for mesh in (within, beside):
        assert np.array_equal(mesh.points, whole.points)
        assert mesh.polygons.lists() == whole.polygons.lists()
    with pytest.raises(BadDocument, match=r"needs the file “box\.bin”, which did not come along"):
        read_gltf(made.text("box.bin"), "box.gltf")
    with pytest.raises(BadDocument, match="did not come along"):
        read_gltf(made.text("../../etc/passwd"), "box.gltf", {"box.gltf": b""})


def spoiled(change) -> bytes:
    made = skinned()
    change(made.tree)
    return made.glb()


@pytest.mark.parametrize(
    ("change", "said"),
    [
        (lambda t: t.update(nodes=[]), "not there|no mesh"),
        (lambda t: t["nodes"][0].pop("mesh"), "shows no mesh"),
        (lambda t: t["nodes"][0].update(mesh=4), "not there"),
        (lambda t: t["nodes"][0].update(translation=["a", 0, 0]), "does not hold together"),
        (lambda t: t["nodes"][0].update(matrix=[1, 2, 3]), "does not hold together"),
        (lambda t: t["nodes"][0].update(scale=[float("inf"), 1, 1]), "not finite"),
        (lambda t: t["meshes"][0]["primitives"][0].update(mode=1), "no triangles"),
        (lambda t: t["meshes"][0]["primitives"][0].update(indices=0), "speak of vertices|does not|does not fit"),
        (lambda t: t["meshes"][0]["primitives"][0]["attributes"].update(JOINTS_0=0), "does not|do not fit|joint"),
        (lambda t: t["meshes"][0]["primitives"][0]["targets"][0].update(POSITION=3), "does not"),
        (lambda t: t["skins"][0].update(joints=[1]), "hold together|joint"),
        (lambda t: t["accessors"][0].update(count=2_000_000_000), "cannot be"),
        (lambda t: t.update(nodes=[{"mesh": 0}] * 30_000), "nodes; 20000 are the most"),
        (lambda t: t.update(scene=7), "not there"),
    ],
)
def test_files_that_are_wrong_are_refused_in_words(change, said):
    with pytest.raises(BadDocument, match=said):
        read_gltf(spoiled(change), "bad.glb")


@pytest.mark.parametrize(
    "ring", [[(1, 1)], [(2, 1)], [(4, 3), (3, 4)], [(0, 3), (3, 0)], [(4, 0), (0, 3), (3, 4)], [(4, 1), (3, 4), (4, 3)]]
)
def test_nodes_that_hang_below_themselves_are_refused(ring):
    made = skinned()
    made.tree["nodes"] += [{"name": "a"}, {"name": "b"}]
    for above, below in ring:
        made.tree["nodes"][above]["children"] = [below]
    with pytest.raises(BadDocument, match=r"the node \w+ hangs below itself"):
        read_gltf(made.glb(), "round.glb")


def test_a_long_chain_of_joints_is_read():
    made, longest = skinned(), 15_000
    first = len(made.tree["nodes"])
    made.tree["nodes"] += [{"name": f"j{k}", "children": [first + k + 1]} for k in range(longest)] + [{"name": "last"}]
    for node in made.tree["nodes"][:first]:
        node.pop("children", None)
    skin = made.tree["skins"][0]
    own = len(skin["joints"])
    skin["joints"] = [*skin["joints"], *range(first + longest, first - 1, -1)]
    skin["inverseBindMatrices"] = made.add(np.tile(np.eye(4, dtype="f4").ravel(), (len(skin["joints"]), 1)))
    joints = read_gltf(made.glb(), "long.glb").joints
    assert len(joints) == own + longest + 1
    assert [j.parent for j in joints[own:]] == [None, *(f"j{k}" for k in range(longest))]


@settings(max_examples=60, deadline=None)
@given(st.integers(0, 2**32 - 1))
def test_random_bytes_changed_are_read_or_refused_never_worse(seed):
    rng = np.random.default_rng(seed)
    data = bytearray(skinned().glb())
    for at in rng.integers(12, len(data), 6):
        data[at] = rng.integers(0, 256)
    with contextlib.suppress(TightSeamError):
        assert read_gltf(bytes(data), "x.glb").meshes


def test_polygons_of_a_whole_character_are_recovered_from_our_own_glb(clean):
    """Without our extras the file is like anybody's: quads, weights and shapes must still come back."""
    from tightseam.exchange.glb_write import write_glb

    from tests.core.test_exchange import with_tree

    store = MemoryStore()
    data = with_tree(write_glb(clean.character, clean.store), lambda t: t.pop("extras"))
    taken = take_in({"m.glb": data}, store).character
    skin = next(p for p in taken.parts if p.name == "skin")
    theirs, own = set(canonical(polygons(store, skin).lists())), set(canonical(clean.polygons("skin").lists()))
    assert len(own - theirs) <= 0.002 * len(own)  # a quad folded like a book stays two triangles
    assert skin.vertex_count == len(clean.rest("skin"))
    assert {b.name.removesuffix("_joint") for b in taken.bones} == {b.name for b in clean.character.bones}
    assert {s.name for s in taken.shapes} >= {s.name for s in clean.character.shapes}  # and those the eye relief was baked to
    kinds = {p.name: p.kind for p in taken.parts}
    assert kinds == {p.name: p.kind for p in clean.character.parts}
    assert isinstance(polygons(store, skin), Polygons)
