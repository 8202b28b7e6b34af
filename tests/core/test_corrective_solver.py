"""Correctives that are solved: the least bending that keeps to what is asked, held against other ways to find it, and on planted faults."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import osqp
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.sparse import csc_matrix, csr_matrix, kron
from tightseam.correctives.bending import Bending, around
from tightseam.correctives.drivers import drivers_of
from tightseam.correctives.least import least_bending, multipliers
from tightseam.correctives.solve import Place, solved
from tightseam.deform.evaluator import Evaluator
from tightseam.document.errors import BadRequest
from tightseam.document.lookup import part as find_part
from tightseam.document.model import Activation
from tightseam.document.part_mesh import part_mesh
from tightseam.edits.corrective_edits import SolveCorrective
from tightseam.geometry.polygons import Polygons
from tightseam.geometry.surface_mesh import SurfaceMesh
from tightseam.mix.cell import Dialled
from tightseam.mix.sweeper import Sweeper

from tests.core.mix_faults import PAIRS, Planter
from tests.head import Head, after

SEEDS = st.integers(0, 2**32 - 1)


def sheet(side: int) -> SurfaceMesh:
    """A flat square of so many vertices a side, 1 cm apart."""
    x, y = np.meshgrid(np.arange(side, dtype=float), np.arange(side, dtype=float))
    corner = (np.arange(side - 1)[:, None] * side + np.arange(side - 1)).ravel()
    quads = np.stack([corner, corner + 1, corner + side + 1, corner + side], axis=1)
    return SurfaceMesh(np.stack([x.ravel(), y.ravel(), 0 * x.ravel()], axis=1), Polygons.from_lists(quads.tolist()))


@settings(max_examples=60, deadline=None)
@given(SEEDS, st.integers(1, 30), st.integers(0, 12))
def test_multipliers_push_only_where_they_have_to(seed, count, extra):
    """What Karush, Kuhn and Tucker ask of an optimum, also where rows say the same."""
    rng = np.random.default_rng(seed)
    rows = rng.normal(size=(count, count + extra))
    if count > 2:
        rows[-1] = rows[0]
    gram, wanted = rows @ rows.T, rows @ rng.normal(size=count + extra)
    found = multipliers(gram, wanted)
    over = gram @ found - wanted
    close = 1e-7 * (1 + np.abs(wanted).max())
    assert found.min() >= 0
    assert over.min() > -close
    assert np.abs(found * over).max() <= close * (1 + found.max())


@settings(max_examples=25, deadline=None)
@given(SEEDS, st.integers(1, 120))
def test_the_least_bending_keeps_to_its_rows_and_costs_what_another_solver_says(seed, count):
    """Within 1e-9 cm; the energy within a hundredth of what OSQP finds for the program as it stands."""
    mesh = sheet(9)
    bending = Bending(mesh, around(mesh, np.array([40]), 3.2))
    rng = np.random.default_rng(seed)
    dense = np.zeros((count, len(bending), 3))
    at = rng.integers(len(bending), size=(count, 3))
    for corner in at.T:
        dense[np.arange(count), corner] += rng.uniform(0.1, 1.0, (count, 1)) * np.array([0.1, 0.1, 1.0])
    rows, wanted = dense.reshape(count, -1), rng.uniform(-0.1, 0.2, count)
    offsets = least_bending(bending, csr_matrix(rows), wanted)
    assert (wanted - rows @ offsets.ravel()).max() <= 1e-9
    known = osqp.OSQP()
    matrix = csc_matrix(kron(bending.matrix, np.eye(3)))
    exact = {"eps_abs": 1e-8, "eps_rel": 1e-8, "max_iter": 200_000, "verbose": False}
    known.setup(matrix, np.zeros(matrix.shape[0]), csc_matrix(rows), wanted, np.full(count, np.inf), **exact)
    best = known.solve(raise_error=True)
    assert bending.energy(offsets) == pytest.approx(bending.energy(best.x.reshape(-1, 3)), rel=0.01, abs=1e-9)


@settings(max_examples=20, deadline=None)
@given(SEEDS)
def test_answers_are_the_inverse_of_the_energy_and_nothing_else_costs_less(seed):
    mesh = sheet(9)
    bending = Bending(mesh, around(mesh, np.array([40]), 3.2))
    rng = np.random.default_rng(seed)
    forces = rng.normal(size=(len(bending), 3))
    offsets = bending.answers(forces)
    assert np.abs(bending.matrix @ offsets - forces).max() < 1e-8 * np.abs(forces).max()
    other = offsets + 1e-3 * rng.normal(size=offsets.shape)
    work = [bending.energy(x) - (forces * x).sum() for x in (offsets, other)]
    assert work[0] < work[1]


def test_a_lifted_sheet_bends_as_a_plate_does():
    """Symmetric about the lifted vertex, falling off to the rim, and with four times the energy for twice the lift."""
    mesh = sheet(13)
    bending = Bending(mesh, around(mesh, np.array([84]), 4.5))
    middle = int(np.flatnonzero(bending.free == 84)[0])
    lift = bending.answers(np.eye(len(bending))[:, [middle]])[:, 0]
    at = mesh.points[bending.free] - mesh.points[84]
    for turned in (at[:, [1, 0, 2]], at * [-1, 1, 1]):
        image = [int(np.linalg.norm(at - p, axis=1).argmin()) for p in turned]
        assert np.abs(lift[image] - lift).max() < 0.02 * lift.max()
    assert lift.argmax() == middle
    far = np.linalg.norm(at, axis=1) > 3.5
    assert np.abs(lift[far]).max() < 0.2 * lift.max()
    as_offsets = np.stack([0 * lift, 0 * lift, lift], axis=1)
    assert bending.energy(2 * as_offsets) == pytest.approx(4 * bending.energy(as_offsets))


@pytest.fixture(scope="module")
def planted(rigged):
    """Hob or Maren with a fault, by its name."""

    def made(head: str, name: str) -> tuple[Head, Sweeper]:
        clean = rigged[head]
        planter = Planter(clean)
        found = Head(PAIRS[head, name].plant(planter), planter.store)
        return found, Sweeper(found.character, found.store)

    return made


@pytest.mark.parametrize("name", ["lid", "lip"])
def test_what_is_held_out_is_out_at_all_strengths_and_nothing_else_moves(planted, name):
    head, sweeper = planted("hob", name)
    fault = PAIRS["hob", name]
    cell = sweeper.cell(*map(Dialled, fault.ends))
    about = [f for f in sweeper.measure(cell).findings if f.about == fault.about]
    assert about
    reach = 1.5
    values = cell.values(head.character, sweeper.ends)
    mended = after(head, SolveCorrective(values=values, held=fault.about, reach=reach))
    now = Sweeper(mended.character, mended.store)
    for one in (0.5, 0.75, 1.0):
        for other in (0.5, 0.75, 1.0):
            strengths = zip(fault.ends, (one, other), strict=True)
            mixed = now.measure(now.cell(*(Dialled(e, s) for e, s in strengths)))
            assert [f for f in mixed.findings if f.about == fault.about] == []
    skin = Evaluator(head.character, head.store).meshes.rows("skin")
    before, moved = (Evaluator(h.character, h.store) for h in (head, mended))
    for end in fault.ends:
        alone = sweeper.cell(Dialled(end)).values(head.character, sweeper.ends)
        assert np.array_equal(before.points(alone), moved.points(alone))
    mesh = part_mesh(head.store, find_part(head.character, "skin"))
    goes = np.linalg.norm(moved.shaped(values) - before.shaped(values), axis=1)[skin]
    assert 0 < goes.max() < 0.3
    near = around(mesh, np.flatnonzero(goes > 0.5 * goes.max()), 2 * reach)
    assert set(np.flatnonzero(goes)) <= set(near.tolist())


@pytest.mark.parametrize(("head", "name", "reach"), [("hob", "rough", 2.0), ("hob", "sunken", 3.0)])
def test_what_crumples_or_sinks_in_is_laid_smooth(planted, head, name, reach):
    found, sweeper = planted(head, name)
    fault = PAIRS[head, name]
    cell = sweeper.cell(*map(Dialled, fault.ends))
    bad = [f for f in sweeper.measure(cell).findings if f.kind == fault.kind]
    assert bad
    vertices = sorted({v for f in bad for v in f.vertices})
    mended = after(found, SolveCorrective(values=cell.values(found.character, sweeper.ends), vertices=vertices, reach=reach))
    left = Sweeper(mended.character, mended.store)
    assert [f for f in left.measure(left.cell(*map(Dialled, fault.ends))).findings if f.kind == fault.kind] == []


def test_riders_go_along(planted):
    """Where the brow is moved, so is what grows on it."""
    head, _ = planted("hob", "rough")
    values = head.values({"brows_up": 1.0, "smile": 1.0})
    brow = np.flatnonzero(np.linalg.norm(head.rest("skin") - head.rest("brow_L").mean(axis=0), axis=1) < 0.8)
    activation = Activation(drivers_of(head.character, head.evaluator, values))
    found = solved(head.character, head.store, Place(values, tuple(brow.tolist())), activation, 2.0)
    assert {"skin", "brow_L"} <= set(found)


def test_a_whole_frame_is_solved_for_as_well(planted):
    """Of many controls not every mixture is made: that would never end."""
    head, sweeper = planted("hob", "lid")
    values = sweeper.cell(*map(Dialled, PAIRS["hob", "lid"].ends)).values(head.character, sweeper.ends)
    slight = {c.name: c.rest + 0.01 * (c.high - c.rest) for c in head.character.controls if c.high > c.rest}
    mended = after(head, SolveCorrective(values=slight | {n: values[n] for n in ("blink_L", "smile")}, held="lid_lower_L", reach=1.0))
    assert len(mended.character.shapes[-1].deltas) > 0


@pytest.mark.parametrize(
    ("params", "why"),
    [
        ({"values": {"smile": 1.0, "jaw_open": 0.2}, "held": "lips_teeth_upper"}, "does not overlap"),
        ({"values": {"smile": 1.0, "jaw_open": 0.2}, "held": "lips"}, "does not speak of"),
        ({"values": {"smile": 1.0, "jaw_open": 0.2}, "held": "nothing"}, "no seam"),
        ({"values": {"smile": 1.0}, "vertices": [10**7]}, "has vertices"),
        ({"values": {"smile": 1.0}}, "has vertices"),
        ({"values": {"smile": 1.0}, "vertices": [-1, 5]}, "has vertices"),
        ({"values": {}, "vertices": [1]}, "at rest"),
    ],
)
def test_what_cannot_be_solved_is_said(clean, params, why):
    with pytest.raises(BadRequest, match=why):
        after(clean, SolveCorrective(**params))


def test_the_same_edit_gives_the_same_corrective_to_the_bit(planted):
    head, sweeper = planted("hob", "lid")
    cell = sweeper.cell(*map(Dialled, PAIRS["hob", "lid"].ends))
    edit = SolveCorrective(values=cell.values(head.character, sweeper.ends), held="lid_lower_L", reach=1.0, mirror=True)
    one, other = (after(head, edit).character.shapes[-2:] for _ in range(2))
    assert one == other
    assert {d.channel for d in one[1].activation.drivers} == {"blink_R", "smile"}
    assert replace(one[0], deltas=()) != replace(one[1], deltas=())
