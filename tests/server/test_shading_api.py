"""What light needs to know of a head, as the stage gets it."""

import msgpack
import numpy as np

from tests.server.http import edit


def unpacked(client, character, what, revision=1):
    return {p["name"]: p for p in msgpack.unpackb(client.get(f"/api/characters/{character}/{what}?revision={revision}").content)["parts"]}


def shading_of(client, character, revision=1):
    return msgpack.unpackb(client.get(f"/api/characters/{character}/shading?revision={revision}").content)["parts"]


def test_every_vertex_of_both_surfaces_has_its_sky(client, maren):
    meshes, shading = unpacked(client, maren, "meshes"), shading_of(client, maren)
    assert meshes.keys() == shading.keys()
    for name, mesh in meshes.items():
        found = shading[name]
        assert len(found["own"]["sky"]) == mesh["count"]
        assert len(found["smooth"]["sky"]) == mesh["smooth"]["count"]
        assert ("strands" in found["own"]) == (mesh["kind"] in ("hair", "brow", "whiskers"))
    strands = np.frombuffer(shading["hair"]["smooth"]["strands"], np.int8).reshape(-1, 3) / 127
    assert np.abs(np.linalg.norm(strands, axis=1) - 1).max() < 0.02


def test_anchors_stand_where_the_vertices_rest(client, maren):
    body = {"revision": 1, "values": {}, "overdrive": False, "smooth": False, "weights_of": None, "known": {}}
    frame = msgpack.unpackb(client.post(f"/api/characters/{maren}/frame", body, "application/json").content)["parts"]
    for name in ("eye_L", "hair"):
        anchors = shading_of(client, maren)[name]["anchors"]
        points = np.frombuffer(frame[name]["points"], np.float32).reshape(-1, 3)
        assert np.abs(points[anchors["vertices"]].ravel() - anchors["own"]).max() < 1e-4
        first, second, third = np.reshape(anchors["own"], (3, 3))
        assert np.linalg.norm(np.cross(second - first, third - first)) > 0.5  # they span a plane


def test_an_edit_that_leaves_the_meshes_alone_leaves_the_light_alone(client, maren):
    before = client.get(f"/api/characters/{maren}/shading?revision=1").content
    status, answer = edit(client, maren, 1, "binding.set_carrier", part="teeth_lower", carrier="rigid", bones=["teeth_lower"])
    assert status == 200, answer
    assert client.get(f"/api/characters/{maren}/shading?revision=2").content == before
    assert client.get("/api/characters/999/shading?revision=1").status_code == 404
