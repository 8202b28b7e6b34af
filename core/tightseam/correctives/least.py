"""The least change that keeps to inequalities."""

from __future__ import annotations

import numpy as np
from scipy.linalg import LinAlgError, cho_factor, cho_solve, lstsq

from tightseam.geometry.types import Bools, Floats

ROUNDED = 1e-11  # of the largest right side: what is less beyond it is rounding
PATIENCE = 3  # exchanges of all that is wrong without fewer being wrong, before they are made one at a time
MOST_EXCHANGES = 400


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
