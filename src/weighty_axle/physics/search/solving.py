"""A search of CP-SAT that can be called off."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

ASK_S = 0.1


def silent() -> None:
    """Nobody calls the search off.

    Returns: nothing
    Source: none
    """


def solve(solver: Any, model: Any, watch: Callable[[], None]) -> Any:
    """Run a solver on a thread of its own; what `watch` raises meanwhile ends the search, and is raised.

    Parameters: solver, model - of the library [any]; watch - asked every tenth of a second [s]
    Returns: the solver's status
    Source: OR-Tools
    """
    ended: list[Any] = []
    failed: list[BaseException] = []

    def work() -> None:
        try:
            ended.append(solver.solve(model))
        except BaseException as error:
            failed.append(error)

    thread = threading.Thread(target=work, name="search", daemon=True)
    thread.start()
    try:
        while thread.is_alive():
            thread.join(ASK_S)
            watch()
    finally:
        solver.stop_search()
        thread.join()
    if failed:
        raise failed[0]
    return ended[0]
