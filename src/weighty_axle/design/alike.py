"""Whether what was worked out again is as it was, so that what reads it need not be worked out again."""

from __future__ import annotations

import functools
import typing
from typing import Any

from msgspec import Struct


def alike(old: Any, new: Any) -> bool:
    """Whether two answers are equal in all they say, dicts also in their order: it is that of what is shown."""
    return old is new or (type(old) is type(new) and bool(old == new) and _in_same_order(old, new))


def _in_same_order(old: Any, new: Any) -> bool:
    """Whether all dicts in two equal values have their keys in the same order."""
    if isinstance(new, dict):
        if list(old) != list(new):
            return False
        pairs = zip(old.values(), new.values(), strict=True)
    elif isinstance(new, Struct) or hasattr(new, "_fields"):
        pairs = zip(_holding(old), _holding(new), strict=True)
    elif isinstance(new, tuple):
        pairs = zip(old, new, strict=True)
    else:
        return True
    return all(one is other or type(other) in _PLAIN or _in_same_order(one, other) for one, other in pairs)


def _holding(value: Any) -> tuple[Any, ...]:
    return tuple(getattr(value, name) for name in _holders(type(value)))  # type: ignore[arg-type]


_PLAIN = (float, str, int, bool, complex, type(None))
"""Holds nothing."""


@functools.cache
def _holders(kind: type) -> tuple[str, ...]:
    """Fields of a kind of answer that may hold dicts, at any depth."""
    return tuple(name for name, hint in _hints(kind).items() if _may_hold(hint, (kind,)))


def _hints(kind: type) -> dict[str, Any]:
    try:
        return typing.get_type_hints(kind)
    except NameError:  # a name that only type checkers import: it may be anything
        return dict.fromkeys(kind.__annotations__, Any)


def _may_hold(hint: Any, within: tuple[type, ...]) -> bool:
    if hint is Any or hint is object or typing.get_origin(hint) is dict or hint is dict:
        return True
    if typing.get_args(hint):
        return any(_may_hold(one, within) for one in typing.get_args(hint))
    if isinstance(hint, type) and hint not in within and (issubclass(hint, Struct) or hasattr(hint, "_fields")):
        return any(_may_hold(one, (*within, hint)) for one in _hints(hint).values())
    return False
