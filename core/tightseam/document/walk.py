"""Going over a document by what its fields are marked with (see `fields`): reading all, or making the same document with other values."""

from __future__ import annotations

import types
from collections.abc import Callable
from dataclasses import dataclass, fields, is_dataclass, replace
from functools import cache
from typing import Annotated, Any, TypeVar, Union, get_args, get_origin, get_type_hints

from tightseam.document.fields import Array, Beside, InUnitOfChannel, Length, Named, Needed, PerPolygon, PerVertex, Refers, Roots, Vertices
from tightseam.document.model import Character

Mark = Named | Refers | Needed | Array | Vertices | Beside | PerVertex | PerPolygon | Roots | Length | InUnitOfChannel
M = TypeVar("M", bound=Mark)
LOST: Any = object()  # in place of a value: what stands there goes


@dataclass(frozen=True)
class _Leaf:
    marks: tuple[Mark, ...]


@dataclass(frozen=True)
class _Record:
    cls: type
    plans: tuple[tuple[str, Any], ...]  # of the fields that hold marks


@dataclass(frozen=True)
class _Row:
    item: Any  # a tuple of any length


@dataclass(frozen=True)
class _Pair:
    items: tuple[Any, ...]  # a tuple that is a record without names; its fields are called "0", "1", ...


@dataclass(frozen=True)
class _Table:
    key: Any
    value: Any


@dataclass(frozen=True)
class Field:
    """A value of the document: its marks, and the records it stands in, the innermost last."""

    marks: tuple[Mark, ...]
    value: Any
    records: tuple[Any, ...]

    def mark(self, kind: type[M]) -> M | None:
        return next((m for m in self.marks if isinstance(m, kind)), None)

    def beside(self, name: str) -> Any:
        """The field of that name in the nearest record that has one."""
        for record in reversed(self.records):
            if isinstance(record, tuple):
                if name.isdigit():
                    return record[int(name)]
            elif hasattr(record, name):
                return getattr(record, name)
        raise LookupError(name)

    @property
    def said(self) -> str:
        """What it stands in, for people: "shape smile", "weights of jaw in the binding of skin"."""
        return " in the ".join(r.SAID.format_map(vars(r)) for r in reversed(self.records) if hasattr(r, "SAID"))


def fields_of(record: Any, *kinds: type) -> list[Field]:
    """Every marked value that is there in a document, or in one noun of it, in order; those of some kinds of marks alone, if any are
    given."""
    cls: Any = type(record)
    found: list[Field] = []
    _read(_pruned(cls, kinds) if kinds else _plan_of(cls), record, (), found)
    return found


def rewritten(character: Character, change: Callable[[Field], Any]) -> Character:
    """The document with `change(field)` in place of every marked value; LOST takes out what the value belongs to. What nothing changes
    stays the same object."""
    changed: Character = _written(_plan_of(Character), character, (), change)
    return changed


def _read(plan: Any, value: Any, records: tuple[Any, ...], found: list[Field]) -> None:
    if value is None or plan is None:
        return
    if isinstance(plan, _Leaf):
        found.append(Field(plan.marks, value, records))
    elif isinstance(plan, _Record):
        inner = (*records, value)
        for name, own in plan.plans:
            _read(own, getattr(value, name), inner, found)
    elif isinstance(plan, _Row):
        for item in value:
            _read(plan.item, item, records, found)
    elif isinstance(plan, _Pair):
        for own, item in zip(plan.items, value, strict=True):
            _read(own, item, (*records, value), found)
    elif isinstance(plan, _Table):
        for key, item in value.items():
            _read(plan.key, key, (*records, (key, item)), found)
            _read(plan.value, item, (*records, (key, item)), found)


def _written(plan: Any, value: Any, records: tuple[Any, ...], change: Callable[[Field], Any]) -> Any:
    if value is None or plan is None:
        return value
    if isinstance(plan, _Leaf):
        return change(Field(plan.marks, value, records))
    if isinstance(plan, _Record):
        return _record_written(plan, value, records, change)
    if isinstance(plan, _Row):
        found = [_written(plan.item, item, records, change) for item in value]
        same = all(a is b for a, b in zip(found, value, strict=True))
        return value if same else tuple(x for x in found if x is not LOST)
    if isinstance(plan, _Pair):
        pair = tuple(_written(own, item, (*records, value), change) for own, item in zip(plan.items, value, strict=True))
        if any(x is LOST for x in pair):
            return LOST
        return value if all(a is b for a, b in zip(pair, value, strict=True)) else pair
    table = {
        _written(plan.key, key, (*records, (key, item)), change): _written(plan.value, item, (*records, (key, item)), change)
        for key, item in value.items()
    }
    return value if table == value else {k: v for k, v in table.items() if k is not LOST and v is not LOST}


def _record_written(plan: _Record, record: Any, records: tuple[Any, ...], change: Callable[[Field], Any]) -> Any:
    changed: dict[str, Any] = {}
    for name, own in plan.plans:
        before = getattr(record, name)
        after = _written(own, before, (*records, record), change)
        if after is before:
            continue
        if after is LOST:
            if not _optional(plan.cls, name) or _lost_with(plan.cls, name):
                return LOST
            after = None
        elif name in getattr(record, "LOST_WITH_ANY", ()) and len(after) < len(before):
            return LOST
        changed[name] = after
    if not changed:
        return record
    needed = getattr(record, "LOST_WITHOUT", ())
    if any(changed.get(n, True) in ((), None) for n in needed) and not any(changed.get(n, getattr(record, n)) for n in needed):
        return LOST
    return replace(record, **changed)


@cache
def _plan_of(cls: Any) -> _Record:
    hints = get_type_hints(cls, include_extras=True)
    plans = ((f.name, _plan(hints[f.name])) for f in fields(cls))
    return _Record(cls, tuple((name, plan) for name, plan in plans if plan is not None))


def _plan(hint: Any) -> Any:
    """How to go over a value of this type; None where nothing in it is marked."""
    marks: tuple[Mark, ...] = ()
    if get_origin(hint) is Annotated:
        hint, *extras = get_args(hint)
        marks = tuple(x for x in extras if isinstance(x, Mark) and not isinstance(x, Needed))
    if marks:
        return _Leaf(marks)
    origin, args = get_origin(hint), get_args(hint)
    if origin in (Union, types.UnionType):
        return next((p for p in map(_plan, args) if p is not None), None)
    if origin is tuple:
        if len(args) == 2 and args[1] is Ellipsis:
            item = _plan(args[0])
            return None if item is None else _Row(item)
        items = tuple(map(_plan, args))
        return _Pair(items) if any(p is not None for p in items) else None
    if origin is dict:
        key, value = map(_plan, args)
        return None if key is None and value is None else _Table(key, value)
    if isinstance(hint, type) and is_dataclass(hint):
        record = _plan_of(hint)
        return record if record.plans else None
    return None


@cache
def _pruned(cls: Any, kinds: tuple[type, ...]) -> Any:
    """The plan of a noun without the values that have no mark of these kinds."""
    return _without(_plan_of(cls), kinds)


def _without(plan: Any, kinds: tuple[type, ...]) -> Any:
    if isinstance(plan, _Leaf):
        return plan if any(isinstance(m, kinds) for m in plan.marks) else None
    if isinstance(plan, _Record):
        own = tuple((name, left) for name, p in plan.plans if (left := _without(p, kinds)) is not None)
        return _Record(plan.cls, own) if own else None
    if isinstance(plan, _Row):
        item = _without(plan.item, kinds)
        return None if item is None else _Row(item)
    if isinstance(plan, _Pair):
        items = tuple(_without(p, kinds) for p in plan.items)
        return _Pair(items) if any(p is not None for p in items) else None
    if isinstance(plan, _Table):
        key, value = _without(plan.key, kinds), _without(plan.value, kinds)
        return None if key is None and value is None else _Table(key, value)
    return None


@cache
def marks_of(cls: Any, name: str) -> tuple[Mark, ...]:
    """The marks of one field of a noun of the document."""
    plan = dict(_plan_of(cls).plans).get(name)
    return plan.marks if isinstance(plan, _Leaf) else ()


@cache
def _optional(cls: type, name: str) -> bool:
    hint = get_type_hints(cls)[name]
    return type(None) in get_args(hint)


@cache
def _lost_with(cls: type, name: str) -> bool:
    hint = get_type_hints(cls, include_extras=True)[name]
    extras = get_args(hint)[1:] if get_origin(hint) is Annotated else ()
    return any(isinstance(x, Needed) or (isinstance(x, Refers) and x.lost) for x in extras)
