"""What the lower face and the neck measure, and what is found and repaired there."""

from __future__ import annotations

import json
from dataclasses import replace

import igl
import numpy as np
import pytest
import robust_laplacian
import trimesh
from scipy.sparse import diags
from scipy.sparse.linalg import spsolve
from tightseam.cli import main
from tightseam.deform.compare import in_head
from tightseam.deform.evaluator import Evaluator
from tightseam.demo.jaw_faults import hollow_cheeks
from tightseam.document.arrays import MemoryStore
from tightseam.document.errors import BadRequest
from tightseam.document.model import Control, CurveKey
from tightseam.edits.jaw_edits import HardenHead, SetLips, SetMovement
from tightseam.edits.registry import make_step
from tightseam.edits.relief_edits import AddPreset, AddRelief, SetRelief
from tightseam.exchange.character_file import write_character
from tightseam.geometry.normals import vertex_normals
from tightseam.jaw.curves import JawMeter
from tightseam.jaw.cut import jaw_cut
from tightseam.jaw.face import LowerFace
from tightseam.jaw.findings import findings_of
from tightseam.jaw.movement import movement_of, opened
from tightseam.jaw.neck import neck_meter

from tests import cast
from tests.head import Head, after, repaired


def meter_of(head: Head) -> JawMeter:
    return JawMeter(LowerFace(head.character, head.store), head.evaluator)


def found(head: Head):
    return findings_of(head.character, head.store)


def with_hollow(head: Head):
    store = MemoryStore(head.store)
    character, planted = hollow_cheeks(head.character, store)
    return Head(character, store), planted


@pytest.mark.parametrize("who", cast.NAMES)
def test_nothing_is_wrong_with_the_clean_cast_in_any_way_of_the_jaw(who):
    assert [f.title for f in cast.jaw_findings(who)] == []


def test_what_is_planted_in_hob_is_found_as_deep_as_it_is_and_filled(rigged):
    head, planted = with_hollow(rigged["hob"])
    findings = found(head)
    assert [f.kind for f in findings] == ["hollow", "hollow"]
    for finding, truth in zip(findings, planted, strict=True):
        assert finding.title == f"Cheek {truth.side} sinks in"
        assert finding.size == pytest.approx(10 * truth.depth, rel=0.1)
        assert set(finding.vertices) <= truth.vertices
        assert "Jaw open relief pushes it in" in finding.text
    seams = {p: [r.excess > 1 for r in row] for p, row in head.readings().items()}
    for finding in findings:
        head = repaired(head, finding)
    assert found(head) == []
    curves = meter_of(head).measure(head.values())
    assert max(curves.hollow["cheek_L"].max(), curves.hollow["cheek_R"].max()) < 1.0
    assert {p: [r.excess > 1 for r in row] for p, row in head.readings().items()} == seams


@pytest.mark.parametrize("seed", range(2))
def test_random_dents_are_found_and_filled(rigged, seed):
    """Pressed in by a relief that nobody would call asked for: a shape, along a curve of its own."""
    rng = np.random.default_rng(seed)
    head = rigged[("maren", "hob", "pim")[seed % 3]]
    face = LowerFace(head.character, head.store)
    side = "LR"[seed % 2]
    patch = np.flatnonzero(face.patches[f"cheek_{side}"])
    middle = face.surface.points[patch].mean(axis=0)
    near = np.clip(1 - np.linalg.norm(face.surface.points[patch] - middle, axis=1) / rng.uniform(1.2, 1.9), 0, 1) ** 0.7
    keys = (CurveKey(0.0, 0.0), CurveKey(rng.uniform(0.2, 0.7), rng.uniform(0.2, 0.9)), CurveKey(1.0, 1.0))
    dent = AddRelief(
        label="Dent", part="skin", vertices=patch[near > 0].tolist(), region=near[near > 0].tolist(), cm=-rng.uniform(0.5, 0.9), keys=keys
    )
    pressed = after(head, dent, make_step("relief.bake", {"name": "relief"}).params)
    findings = [f for f in found(pressed) if f.kind == "hollow"]
    assert [f.title for f in findings] == [f"Cheek {side} sinks in"]
    mended = repaired(pressed, findings[0])
    assert [f.title for f in found(mended) if f.kind == "hollow"] == []


def test_what_a_relief_asks_for_is_no_finding(clean):
    deep = after(clean, AddPreset(preset="cheek_lower"), SetRelief(name="cheek_lower_L", cm=-0.5))
    curves = meter_of(deep).measure(deep.values())
    assert curves.hollow["cheek_L"].max() > 2
    assert [f for f in found(deep) if f.kind == "hollow"] == []
    told = found(after(deep, SetRelief(name="cheek_lower_L", exaggerate=3, mirror=False)))
    assert "Jowl L is exaggerated" in [f.title for f in told]


@pytest.mark.parametrize("who", ["maren", "hob"])
def test_hollow_and_volume_are_those_of_other_libraries(rigged, who):
    head, _ = with_hollow(rigged[who])
    meter = meter_of(head)
    values = opened(head.character, 0.8, head.values())
    to_head = head.evaluator.to_head(head.evaluator.matrices(values))
    posed = in_head(head.evaluator.points(values)[meter.rows].astype(float), to_head)
    s = meter.face.surface
    curves = meter.measure(head.values(), (0.8,))
    patch = meter.face.patches["cheek_L"]
    l = robust_laplacian.mesh_laplacian(s.points, s.triangles.astype(np.int64))[0]
    mass = igl.massmatrix(s.points, s.triangles.astype(np.int64), igl.MASSMATRIX_TYPE_BARYCENTRIC)
    whole, inner = (l @ diags(1 / mass.diagonal()) @ l).tocsr(), np.flatnonzero(patch)
    fair, offset = posed.copy(), np.where(patch[:, None], 0, posed - s.points)
    fair[inner] = s.points[inner] - spsolve(whole[inner][:, inner].tocsc(), (whole @ offset)[inner])
    normals = vertex_normals(fair, s.triangles)
    deep = ((fair - posed) * normals)[patch].sum(axis=1).max()
    assert curves.hollow["cheek_L"][0] == pytest.approx(10 * deep, rel=0.01)

    def volume(points):
        mesh = trimesh.Trimesh(points, meter.face.lower, process=False)
        mesh.remove_unreferenced_vertices()
        closing = igl.boundary_loop_all(np.array(mesh.faces, np.int64))
        vertices, faces = list(mesh.vertices), list(mesh.faces)
        for loop in closing:
            vertices.append(mesh.vertices[loop].mean(axis=0))
            faces += [[b, a, len(vertices) - 1] for a, b in zip(loop, np.roll(loop, -1), strict=True)]
        return abs(trimesh.Trimesh(vertices, faces, process=False).volume)

    assert curves.volume[0] == pytest.approx(100 * volume(posed) / volume(s.points), rel=0.01)


def test_the_lip_gap_is_the_distance_of_the_lines(clean):
    meter = meter_of(clean)
    curves = meter.measure(clean.values(), (0.0, 1.0))
    upper, lower = (np.asarray(clean.store.get(x)) for x in (clean.character.lips[0].upper, clean.character.lips[0].lower))
    middle = [line[np.abs(clean.rest("skin")[line, 0]).argmin()] for line in (upper, lower)]
    posed = clean.posed("skin", {"jaw_open": 1.0})
    rest = np.linalg.norm(np.subtract(*clean.rest("skin")[middle]))
    assert curves.gap[1][20] == pytest.approx(10 * (np.linalg.norm(np.subtract(*posed[middle])) - rest), rel=0.01)
    assert curves.gap[0].max() == pytest.approx(0, abs=1e-3)


def test_ways_turn_about_the_hinge_and_slide(clean):
    curves = meter_of(clean).measure(clean.values())
    m = movement_of(clean.character)
    assert (m.opens, m.slides) == (22.0, pytest.approx(0.12))
    hinge = np.array(next(b.base for b in clean.character.bones if b.name == "jaw"))
    tooth = clean.rest("teeth_lower")[meter_of(clean).face.tooth[1]]
    arm, angle = (tooth - hinge)[[2, 1]], np.radians(-m.opens)
    turned = np.array([arm[0] * np.cos(angle) - arm[1] * np.sin(angle), arm[0] * np.sin(angle) + arm[1] * np.cos(angle)])
    assert curves.tooth[-1] == pytest.approx(10 * (turned - arm + [m.slides, 0]), abs=0.01)


def test_the_movement_is_set_and_missing_controls_are_made(clean):
    head = after(clean, SetMovement(opens=30, slides=0.3, side=0.2, turns=1, forward=0.1))
    m = movement_of(head.character)
    assert (m.opens, m.slides, m.side, m.turns, m.forward) == pytest.approx((30, 0.3, 0.2, 1, 0.1))
    assert [n.kind for c in head.character.controls if c.name == "jaw_open" for n in c.links if n.kind == "shape"] == ["shape"]
    bare = replace(clean.character, controls=(), poses=())
    made = SetMovement(opens=20).apply(bare, clean.store)
    assert {c.name for c in made.controls} == {"jaw_open", "jaw_side", "jaw_thrust"}
    assert movement_of(made).opens == pytest.approx(20)


def test_a_soft_head_is_found_and_made_hard(rigged, clean):
    head = clean
    face = LowerFace(head.character, head.store)
    neck = neck_meter(face, head.store, head.evaluator)
    report = neck.measure()
    assert max(r.squash for r in report.readings) < 0.1
    assert report.hard_from <= report.line
    low = neck.measure(report.line - 3)
    assert max(r.squash for r in low.readings) > 1
    for reading in low.readings:  # what is lost by turning linearly dual quaternions keep
        if "turn" in reading.label:
            assert abs(reading.volume_dual - 100) < abs(reading.volume - 100)
    hard = after(head, HardenHead(part="skin", above=report.line - 3))
    again = neck_meter(LowerFace(hard.character, hard.store), hard.store, hard.evaluator).measure(report.line - 3)
    assert max(r.squash for r in again.readings) == pytest.approx(0, abs=1e-3)
    with pytest.raises(BadRequest, match="No neck bone"):
        after(hard, HardenHead(part="skin", above=report.line - 3))


def test_maren_who_was_half_tuned_has_a_soft_head_and_it_is_repaired(rigged):
    from tightseam.demo.weight_faults import plant_in_maren

    store = MemoryStore(rigged["maren"].store)
    character, _ = plant_in_maren(rigged["maren"].character, store)
    head = Head(character, store)
    finding = next(f for f in found(head) if f.kind == "squash")
    assert finding.size > 5
    mended = repaired(head, finding)
    assert "squash" not in [f.kind for f in found(mended)]


def test_sealed_lips_that_go_through_the_teeth_are_kept_ahead_of_them(rigged):
    head = after(rigged["hob"], SetLips(ahead=0.6))
    finding = next(f for f in found(head) if f.kind == "clash")
    assert "lips sealed" in finding.moment
    mended = repaired(head, finding)
    assert 0.6 < mended.character.lips[0].ahead < 1.3
    assert [f.title for f in found(mended)] == []


def test_a_tongue_that_the_head_carries_is_named_and_given_to_its_bones(rigged):
    from tightseam.demo.faults import HOB_FAULTS, plant_in_rig

    store = MemoryStore(rigged["hob"].store)
    character = plant_in_rig(rigged["hob"].character, store, HOB_FAULTS)
    head = Head(character, store)
    finding = next(f for f in found(head) if f.kind == "clash")
    assert "Tongue does not follow the tongue bones." in finding.text
    mended = repaired(head, finding)
    assert [f.title for f in found(mended)] == []


def test_a_cut_shows_the_neutral_and_how_far_the_cheeks_are_from_it(rigged):
    head, _ = with_hollow(rigged["hob"])
    meter = meter_of(head)
    still = jaw_cut(meter, "cheeks", 0.5, head.values())
    assert len(still.posed[0]) == len(still.neutral[0])
    assert np.abs(still.posed[0] - still.neutral[0]).max() < 1e-3
    wide = jaw_cut(meter, "cheeks", 0.5, opened(head.character, 1.0, head.values()))
    assert min(np.linalg.norm(wide.posed[0] - p, axis=1).min() for p in wide.neutral[0]) < 1
    assert max(np.linalg.norm(wide.posed[0] - p, axis=1).min() for p in wide.neutral[0]) > 3
    middle = jaw_cut(meter, "middle", 0, head.values())
    assert np.ptp(np.concatenate(middle.neutral)[:, 1]) > 200


def test_a_jaw_that_does_not_open_is_told_and_nothing_is_infinite(clean):
    shut = after(clean, SetMovement(opens=0))
    curves = meter_of(shut).measure(shut.values())
    assert np.isfinite(curves.volume).all()
    assert curves.volume == pytest.approx(np.full(21, 100), abs=3)
    titles = [f.title for f in found(shut)]
    assert titles[0] == "The jaw does not open"
    forward = tuple(replace(b, base=(0.0, b.base[1], 40.0)) if b.name == "jaw" else b for b in clean.character.bones)
    odd = replace(clean.character, bones=forward)
    assert "The hinge is in front of the chin" in [f.title for f in findings_of(odd, clean.store)]


def test_negative_ranges_and_missing_teeth_and_tongue(clean):
    from tightseam.document.removal import without

    bare = clean.character
    for part in ("teeth_upper", "teeth_lower", "tongue"):
        bare = without(bare, "part", {part})
    backwards = tuple(
        Control(c.name, c.label, -1, 0, 0, tuple(replace(n, gain=-n.gain) for n in c.links)) if c.name == "jaw_open" else c
        for c in bare.controls
    )
    bare = replace(bare, controls=backwards, poses=())
    meter = JawMeter(LowerFace(bare, clean.store), Evaluator(bare, clean.store))
    curves = meter.measure({c.name: c.rest for c in bare.controls})
    assert curves.tooth is None
    assert curves.gap[-1].max() == pytest.approx(meter_of(clean).measure(clean.values()).gap[-1].max(), rel=1e-3)
    assert findings_of(bare, clean.store) == []
    sunk = AddPreset(preset="cheek_lower").apply(bare, clean.store)  # a preset goes by the control's own range
    deep = JawMeter(LowerFace(sunk, clean.store), Evaluator(sunk, clean.store)).measure({c.name: c.rest for c in sunk.controls})
    assert deep.asked["cheek_L"][0] == 0
    assert deep.asked["cheek_L"][-1] == pytest.approx(2.0, rel=0.05)


def test_a_cheek_that_sinks_in_under_a_control_that_opens_downwards_is_filled(rigged):
    head, _ = with_hollow(rigged["hob"])
    turned = tuple(
        replace(c, low=-1, high=0, links=tuple(replace(n, gain=-n.gain) for n in c.links)) if c.name == "jaw_open" else c
        for c in head.character.controls
    )
    character = replace(head.character, controls=turned, poses=())
    backwards = Head(character, head.store)
    finding = found(backwards)[0]
    assert finding.title == "Cheek L sinks in"
    mended = repaired(backwards, finding)
    assert "Cheek L sinks in" not in [f.title for f in found(mended)]


def test_without_a_jaw_or_landmarks_it_says_what_is_missing(clean):
    bones = tuple(b for b in clean.character.bones if b.region not in ("jaw", "teeth", "tongue"))
    bare = replace(clean.character, bones=bones, bindings=(), controls=(), seams=(), poses=())
    with pytest.raises(BadRequest, match="no jaw bone"):
        findings_of(bare, clean.store)
    blind = replace(clean.character, landmarks=())
    with pytest.raises(BadRequest, match="not placed yet"):
        findings_of(blind, clean.store)


def test_the_command_line_gives_curves_as_numbers(rigged, tmp_path, capsys):
    head, _ = with_hollow(rigged["hob"])
    file = tmp_path / "hob.seam"
    file.write_bytes(write_character(head.character, head.store))
    assert main(["jaw", str(file), "--json"]) == 1
    said = json.loads(capsys.readouterr().out)
    assert len(said["openings"]) == 21
    assert max(said["hollow"]["cheek_L"]) == pytest.approx(6, rel=0.1)
    assert [f["kind"] for f in said["findings"]] == ["hollow", "hollow"]
    assert said["movement"]["opens"] == 22
    assert {e["what"] for e in said["baked"]} == {"Lip seal and corners"}
    assert main(["jaw", str(file)]) == 1
    assert "Cheek L sinks in" in capsys.readouterr().out
