"""A binary heap of vertices by distance, for compiled loops: two lists that go together."""

from __future__ import annotations

from numba import njit

OPTIONS = {"cache": True, "nogil": True, "boundscheck": False, "error_model": "numpy"}


@njit(**OPTIONS)
def empty():  # type: ignore[no-untyped-def]
    """A heap with nothing on it."""
    distances, vertices = [0.0], [0]
    distances.pop()
    vertices.pop()
    return distances, vertices


@njit(**OPTIONS)
def push(heap_d, heap_v, d, v):  # type: ignore[no-untyped-def]
    heap_d.append(d)
    heap_v.append(v)
    at = len(heap_d) - 1
    while at > 0:
        above = (at - 1) // 2
        if heap_d[above] <= heap_d[at]:
            break
        heap_d[above], heap_d[at] = heap_d[at], heap_d[above]
        heap_v[above], heap_v[at] = heap_v[at], heap_v[above]
        at = above


@njit(**OPTIONS)
def pop(heap_d, heap_v):  # type: ignore[no-untyped-def]
    d, v = heap_d[0], heap_v[0]
    last_d, last_v = heap_d.pop(), heap_v.pop()
    if len(heap_d) > 0:
        heap_d[0], heap_v[0] = last_d, last_v
        at = 0
        while True:
            small = at
            for side in (2 * at + 1, 2 * at + 2):
                if side < len(heap_d) and heap_d[side] < heap_d[small]:
                    small = side
            if small == at:
                break
            heap_d[small], heap_d[at] = heap_d[at], heap_d[small]
            heap_v[small], heap_v[at] = heap_v[at], heap_v[small]
            at = small
    return d, v
