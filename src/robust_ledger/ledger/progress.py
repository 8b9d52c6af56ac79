"""How long work says how far it is, and how it is told to stop."""

from __future__ import annotations

from collections.abc import Callable

# Called with the part done so far, 0 to 1; answering False stops the work.
Progress = Callable[[float], bool]


class CanceledError(Exception):
    """The user has stopped the work; nothing was changed."""


def unwatched(_part: float) -> bool:
    """Progress that nobody follows."""
    return True


def go_on(progress: Progress, part: float) -> None:
    """Tell how far the work is. Raises CanceledError when it is to stop."""
    if not progress(part):
        raise CanceledError
