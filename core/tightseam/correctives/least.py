"""The least bending that keeps to inequalities."""

from __future__ import annotations

import numpy as np
from scipy.linalg import LinAlgError, cholesky, eigh, solve_triangular
from scipy.optimize import nnls
from scipy.sparse import csr_matrix

from tightseam.correctives.bending import Bending
from tightseam.document.errors import BadRequest
from tightseam.geometry.types import Floats

MOST_EXCHANGES = 30  # for each row
AT_ONCE = 40  # rows that are taken up in a round, the most violated first
MOST_ROUNDS = 40
MISSED = 1e-10  # cm: a row is kept to within it
RIDGE = 1e-12  # of the diagonal, against rows that say the same


def least_bending(bending: Bending, rows: csr_matrix, wanted: Floats) -> Floats:
    """The offsets (F, 3) of least energy with `rows` (M, 3 F) times them at least what is `wanted` (M,): the rows that push are few, so
    they are taken up by and by."""
    taken = np.zeros(len(wanted), bool)
    offsets: Floats = np.zeros((len(bending), 3))
    for _ in range(MOST_ROUNDS):
        missed = wanted - rows @ offsets.ravel()
        more = np.flatnonzero((missed > MISSED) & ~taken)
        if not len(more):
            break
        taken[more[np.argsort(-missed[more], kind="stable")[:AT_ONCE]]] = True
        own = rows[taken].toarray().reshape(-1, len(bending), 3)
        answers = np.stack([bending.answers(own[:, :, axis].T) for axis in range(3)], axis=2)  # (F, M, 3)
        gram = np.einsum("mfi,fni->mn", own, answers)
        push = multipliers((gram + gram.T) / 2 + RIDGE * np.diag(np.diag(gram)), wanted[taken])
        offsets = np.einsum("fmi,m->fi", answers, push)
    return offsets


def multipliers(gram: Floats, wanted: Floats) -> Floats:
    """The multipliers λ (M,) of min ½ xᵀKx with Cx ≥ h: min ½ λᵀGλ − hᵀλ with λ ≥ 0, where G = C K⁻¹ Cᵀ (M, M) and h is `wanted` (M,);
    then x = K⁻¹ Cᵀ λ. As non-negative least squares on a factor of G (Lawson & Hanson 1974). BadRequest where that comes to no end."""
    factor, target = _factored(gram, wanted)
    try:
        return np.asarray(nnls(factor, target, maxiter=MOST_EXCHANGES * len(wanted))[0])
    except RuntimeError:
        raise BadRequest("There is no room for it there: nothing was found that keeps to all of it.") from None


def _factored(gram: Floats, wanted: Floats) -> tuple[Floats, Floats]:
    """A and b with AᵀA = G and Aᵀb = h: by Cholesky; where rows say the same, or contradict one another, by what is left of the
    eigenvalues."""
    try:
        factor = cholesky(gram)
    except LinAlgError:
        values, vectors = eigh(gram)
        roots = np.sqrt(np.maximum(values, RIDGE * values[-1]))
        return roots[:, None] * vectors.T, vectors.T @ wanted / roots
    return factor, solve_triangular(factor, wanted, trans="T")
