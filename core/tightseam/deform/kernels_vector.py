"""What a frame spends its time on, in the vectors of the processor.

Left to itself the compiler looks, at every vertex, whether what is read might overlap what is written, and works the length of a row out
anew: that took longer than the sums. Here lengths are known, and all is read before anything is written.

Loops that use these are kept compiled for as long as their own files stay: clear `__pycache__` after a change here.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from llvmlite import ir
from numba import types
from numba.core.errors import TypingError
from numba.extending import intrinsic

FAST = ("fast",)
FLOAT, LANE = ir.FloatType(), ir.IntType(32)
PLACE = ir.VectorType(FLOAT, 3)
Made = tuple[Any, Callable[..., Any]]  # a signature, and what writes the instructions


@intrinsic(prefer_literal=True)  # type: ignore[untyped-decorator]
def sum_rows(typing: Any, out: Any, at: Any, weights: Any, w: Any, bones: Any, b: Any, table: Any, width: Any, length: Any) -> Made:
    """out[at] = sum over k < `width` of weights[w, k] table[bones[b, k]]; rows of `out` and of `table` have `length` float32, bones are
    uint16, and all arrays are contiguous. `width` and `length` have to be written out where it is called."""
    _have_to_be_contiguous(out, weights, bones, table)
    count, lanes = width.literal_value, length.literal_value
    row = ir.VectorType(FLOAT, lanes)

    def generate(context: Any, builder: ir.IRBuilder, signature: Any, args: Any) -> Any:
        to, share, bone, rows = (_data(context, builder, signature.args[k], args[k]) for k in (0, 2, 4, 6))
        total = _summed(builder, share, args[3], bone, args[5], rows, count, row)
        builder.store(total, _row(builder, to, args[1], row), align=4)
        return context.get_dummy_value()

    index = types.intp
    return types.void(out, index, weights, index, bones, index, table, width, length), generate


@intrinsic(prefer_literal=True)  # type: ignore[untyped-decorator]
def carry(typing: Any, out: Any, points: Any, weights: Any, bones: Any, matrices: Any, i: Any, width: Any) -> Made:
    """Send point i through the sum of the matrices (B, 16), column by column, of its `width` bones, uint16, by their weights, to `out`.
    All arrays are contiguous; `width` has to be written out where it is called."""
    _have_to_be_contiguous(out, points, weights, bones, matrices)
    matrix, column = ir.VectorType(FLOAT, 16), ir.VectorType(FLOAT, 4)

    def generate(context: Any, builder: ir.IRBuilder, signature: Any, args: Any) -> Any:
        to, at, share, bone, rows = (_data(context, builder, signature.args[k], args[k]) for k in range(5))
        total = _summed(builder, share, args[5], bone, args[5], rows, width.literal_value, matrix)
        x, y, z, shift = (_picked(builder, total, [4 * k, 4 * k + 1, 4 * k + 2, 4 * k + 3]) for k in range(4))
        for k, axis in enumerate((x, y, z)):
            part = builder.fmul(axis, _everywhere(builder, builder.load(_start(builder, at, args[5], 3, k)), column), flags=FAST)
            shift = builder.fadd(shift, part, flags=FAST)
        builder.store(_picked(builder, shift, [0, 1, 2]), _row(builder, to, args[5], PLACE), align=4)
        return context.get_dummy_value()

    return types.void(out, points, weights, bones, matrices, types.intp, width), generate


@intrinsic(prefer_literal=True)  # type: ignore[untyped-decorator]
def add_area(typing: Any, out: Any, points: Any, faces: Any, f: Any, corners: Any) -> Made:
    """Add twice the vector area of a face to `out` (N, 3) at each of its `corners`, 3 or 4, which has to be written out where it is
    called. A quad's is the cross product of its diagonals, however it would be split. `faces` are uint32; all arrays are contiguous."""
    _have_to_be_contiguous(out, points, faces)
    count = corners.literal_value

    def generate(context: Any, builder: ir.IRBuilder, signature: Any, args: Any) -> Any:
        to, at, face = (_data(context, builder, signature.args[k], args[k]) for k in range(3))
        numbers = [_entry(builder, face, args[3], count, k) for k in range(count)]
        corner = [builder.load(_row(builder, at, number, PLACE), align=4) for number in numbers]
        u = builder.fsub(corner[2 if count == 4 else 1], corner[0], flags=FAST)
        v = builder.fsub(corner[3], corner[1], flags=FAST) if count == 4 else builder.fsub(corner[2], corner[0], flags=FAST)
        area = _cross(builder, u, v)
        for number in numbers:  # one after another: corners may fall together
            place = _row(builder, to, number, PLACE)
            builder.store(builder.fadd(builder.load(place, align=4), area, flags=FAST), place, align=4)
        return context.get_dummy_value()

    return types.void(out, points, faces, types.intp, corners), generate


def _summed(builder: ir.IRBuilder, weights: Any, w: Any, bones: Any, b: Any, table: Any, count: int, kind: ir.VectorType) -> Any:
    """The rows of a table that row `b` of `bones` names, by the weights in row `w`."""
    total = ir.Constant(kind, [0.0] * kind.count)
    for k in range(count):
        number = _entry(builder, bones, b, count, k)
        weight = _everywhere(builder, builder.load(_start(builder, weights, w, count, k)), kind)
        term = builder.fmul(weight, builder.load(_row(builder, table, number, kind), align=4), flags=FAST)
        total = builder.fadd(total, term, flags=FAST)
    return total


def _have_to_be_contiguous(*arrays: Any) -> None:
    if any(array.layout != "C" for array in arrays):
        raise TypingError("vectors are read from contiguous arrays")


def _data(context: Any, builder: ir.IRBuilder, kind: Any, array: Any) -> Any:
    return context.make_array(kind)(context, builder, array).data


def _start(builder: ir.IRBuilder, data: Any, row: Any, length: int, column: int = 0) -> Any:
    """Where a column of a row stands, rows having a known `length`."""
    place = builder.mul(row, ir.Constant(row.type, length))
    return builder.gep(data, [builder.add(place, ir.Constant(row.type, column))])


def _entry(builder: ir.IRBuilder, data: Any, row: Any, length: int, column: int) -> Any:
    """An unsigned number out of a table, as wide as `row`."""
    return builder.zext(builder.load(_start(builder, data, row, length, column)), row.type)


def _row(builder: ir.IRBuilder, data: Any, number: Any, kind: ir.VectorType) -> Any:
    return builder.bitcast(_start(builder, data, number, kind.count), kind.as_pointer())


def _everywhere(builder: ir.IRBuilder, value: Any, kind: ir.VectorType) -> Any:
    first = builder.insert_element(ir.Constant(kind, ir.Undefined), value, ir.Constant(LANE, 0))
    return _picked(builder, first, [0] * kind.count)


def _picked(builder: ir.IRBuilder, vector: Any, lanes: list[int]) -> Any:
    return builder.shuffle_vector(vector, ir.Constant(vector.type, ir.Undefined), ir.Constant(ir.VectorType(LANE, len(lanes)), lanes))


def _cross(builder: ir.IRBuilder, u: Any, v: Any) -> Any:
    after = [1, 2, 0]
    one = builder.fmul(u, _picked(builder, v, after), flags=FAST)
    other = builder.fmul(_picked(builder, u, after), v, flags=FAST)
    return _picked(builder, builder.fsub(one, other, flags=FAST), after)
