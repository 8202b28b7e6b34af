"""The compiled loop of `rows`: weights of some vertices put among those that a bone has already."""

from __future__ import annotations

from numba import njit


@njit(cache=True, nogil=True, boundscheck=False, error_model="numpy")
def merge(index, values, old, kept, chosen, vertices, weights):  # type: ignore[no-untyped-def]
    """How many vertices `index` and weights `values`, with room for all, a bone has: what it had, `kept` (M,) of `old` (M,), but where
    `chosen` (N,), and there the `weights` (K,) of `vertices` (K,) that are more than 0. In their order where both are in order."""
    count, next_one = 0, 0
    for k in range(old.size):
        v = old[k]
        if v < chosen.size and chosen[v]:
            continue
        while next_one < vertices.size and vertices[next_one] < v:
            if weights[next_one] > 0:
                index[count], values[count] = vertices[next_one], weights[next_one]
                count += 1
            next_one += 1
        index[count], values[count] = v, kept[k]
        count += 1
    for k in range(next_one, vertices.size):
        if weights[k] > 0:
            index[count], values[count] = vertices[k], weights[k]
            count += 1
    return count
