"""The kernel compiled, where the compiler is there: imported late, kept in the user's cache folder."""

from __future__ import annotations

import functools
import hashlib
import types
from collections.abc import Callable
from pathlib import Path
from typing import Any, Literal, NamedTuple, cast

from weighty_axle.physics.year import columns, kernel
from weighty_axle.physics.year.arrays import Floats, YearArrays

_PARTS = (
    "_share_at",
    "_heater_w",
    "_shed_level",
    "_may_run",
    "_generator_runs",
    "_accepts_w",
    "_gives_w",
    "_demand",
    "_tell",
    "_count",
    "live",
    "many",
)
"""Functions of the kernel, each after those it calls."""


class Compiled(NamedTuple):
    """The kernel for one candidate, and for several one after the other."""

    live: Callable[[YearArrays, Floats, Floats, Floats], None]
    many: Callable[[YearArrays, Floats, Floats], None]


@functools.cache
def compiled(cache_folder: str) -> Compiled | None:
    """The kernel compiled; None where the compiler is not installed.

    What was compiled is kept in a folder named after the code itself, so that changed code is never run from an old
    cache.

    Parameters: cache_folder - where compiled code is kept
    Returns: Compiled, or None
    """
    code = b"".join(Path(str(one.__file__)).read_bytes() for one in (columns, kernel)) + Path(__file__).read_bytes()
    try:
        import numba
    except ImportError:
        return None
    folder = str(Path(cache_folder) / hashlib.sha256(code).hexdigest()[:16])
    setattr(numba.config, "CACHE_DIR", folder)  # noqa: B010 (the compiler's types do not name it)
    from numba.np.unsafe.ndarray import to_fixed_tuple

    made: dict[str, Any] = dict(vars(kernel))
    count, fixed = columns.CANDIDATE_COLUMNS, cast(Any, to_fixed_tuple)
    made["_numbers"] = numba.njit(inline="always")(lambda row: fixed(row, count))
    for name in _PARTS:
        # Parts are written into the loop: handing arrays to a function costs more than what most of them do.
        inline: Literal["always", "never"] = "always" if name.startswith("_") else "never"
        # A product and what it is added to in one go, as processors do: within a rounding of plain Python.
        compile_it = numba.njit(
            cache=True, nogil=True, inline=inline, error_model="numpy", fastmath={"contract", "nsz"}
        )
        made[name] = compile_it(_with(getattr(kernel, name), made))
    return Compiled(made["live"], made["many"])


def _with(function: Callable[..., Any], names: dict[str, Any]) -> types.FunctionType:
    """A function that finds its names elsewhere: there its callees are compiled."""
    found = types.FunctionType(function.__code__, names, function.__name__)
    found.__module__ = function.__module__
    return found
