"""The least bending that keeps to inequalities."""

from __future__ import annotations

import numpy as np
from scipy.linalg import LinAlgError, cho_factor, cho_solve, lstsq
from scipy.sparse import csr_matrix

from tightseam.correctives.bending import Bending
from tightseam.geometry.types import Bools, Floats

ROUNDED = 1e-11  # of the largest right side: what is less beyond it is rounding
PATIENCE = 3  # exchanges of all that is wrong without fewer being wrong, before they are made one at a time
MOST_EXCHANGES = 400
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
    then x = K⁻¹ Cᵀ λ. Block principal pivoting with a safeguard, which ends (Júdice & Pires, 1994)."""
    pushing: Bools = wanted > 0
    found = np.zeros(len(wanted))
    fewest, patience = len(wanted) + 1, PATIENCE
    slack = ROUNDED * (1 + float(np.abs(wanted).max(initial=0.0)))
    for _ in range(MOST_EXCHANGES):
        rows = np.flatnonzero(pushing)
        found = np.zeros(len(wanted))
        if len(rows):
            found[rows] = _solved(gram[np.ix_(rows, rows)], wanted[rows])
        wrong = np.where(pushing, found < -slack, gram @ found - wanted < -slack)
        count = int(wrong.sum())
        if not count:
            break
        if count < fewest:
            fewest, patience = count, PATIENCE
        elif patience > 0:
            patience -= 1
        else:
            wrong = np.arange(len(wanted)) == np.flatnonzero(wrong)[-1]
        pushing = pushing ^ wrong
    return np.maximum(found, 0.0)


def _solved(gram: Floats, wanted: Floats) -> Floats:
    """By Cholesky; where rows contradict one another, which leaves nothing to divide by, the least of what comes nearest."""
    try:
        return np.asarray(cho_solve(cho_factor(gram), wanted))
    except LinAlgError:
        return np.asarray(lstsq(gram, wanted)[0])
