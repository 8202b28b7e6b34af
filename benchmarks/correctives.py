"""Correctives solved: all that one takes, and its quadratic programs against OSQP's (Stellato et al. 2020) on the same rows."""

from __future__ import annotations

from collections.abc import Callable
from unittest.mock import patch

import numpy as np
import osqp
from scipy.sparse import csc_matrix, csr_matrix, eye, kron
from tightseam.correctives import holding
from tightseam.correctives.bending import Bending
from tightseam.correctives.drivers import drivers_of
from tightseam.correctives.least import least_bending
from tightseam.correctives.solve import Place, solved
from tightseam.deform.evaluator import Evaluator
from tightseam.demo.cast import cast
from tightseam.document.arrays import MemoryStore
from tightseam.document.model import Activation
from tightseam.document.poses import rest_values
from tightseam.geometry.types import Floats

from benchmarks.timing import Row, medians

MOST_MS = 300.0
REACH = 2.0  # cm
HELD = (("lips_teeth_lower", {"smile": 1.0, "jaw_thrust": 1.0}), ("lid_upper_L", {"gaze_height": 25.0, "squint": 0.5}))

Program = tuple[Bending, csr_matrix, Floats]


def run() -> list[Row]:
    store = MemoryStore()
    hob = cast("hob", store, clean=True)
    rest = rest_values(hob)
    rows = []
    for seam, away in HELD:
        values = rest | away
        activation = Activation(drivers_of(hob, Evaluator(hob, store), values))

        def whole(values: dict[str, float] = values, seam: str = seam, activation: Activation = activation) -> object:
            return solved(hob, store, Place(values, held=seam), activation, REACH)

        programs = _programs(whole)
        took = medians(
            {
                "whole": whole,
                "ours": lambda programs=programs: [least_bending(*p) for p in programs],
                "theirs": lambda programs=programs: [_by_osqp(*p) for p in programs],
            },
            rounds=5,
            warm=1,
        )
        rows += [
            Row(f"a corrective, {seam}", took["whole"], "design: 0.3 s", MOST_MS, ">= 1x", took["whole"] <= MOST_MS),
            Row(f"its programs, {seam}", took["ours"], "OSQP", took["theirs"], ">= 2.5x", 2.5 * took["ours"] <= took["theirs"]),
        ]
    return rows


def _programs(whole: Callable[[], object]) -> list[Program]:
    """What the solver is asked for on the way."""
    asked: list[Program] = []

    def recorded(*program: object) -> Floats:
        asked.append(program)  # type: ignore[arg-type]
        return least_bending(*program)  # type: ignore[arg-type]

    with patch.object(holding, "least_bending", recorded):
        whole()
    return asked


def _by_osqp(bending: Bending, rows: csr_matrix, wanted: Floats) -> Floats:
    """The same program as OSQP has it, as exactly as it can be asked for."""
    solver = osqp.OSQP()
    above = np.full(len(wanted), np.inf)
    matrix = csc_matrix(kron(bending.matrix, eye(3)))
    exact = {"eps_abs": 1e-7, "eps_rel": 1e-7, "max_iter": 20_000}
    solver.setup(matrix, np.zeros(matrix.shape[0]), csc_matrix(rows), wanted, above, verbose=False, **exact)
    return np.asarray(solver.solve(raise_error=True).x).reshape(-1, 3)
