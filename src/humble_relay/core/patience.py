"""Long work that can be stopped: the caller hands in a pulse, which is felt between steps and raises when to stop.

The core knows no clock and no network; the pulse is how both reach it.
"""

from collections.abc import Callable

Pulse = Callable[[], None]


class Stopped(Exception):
    """The work was stopped before it was done; the message says why."""


def patient() -> None:
    """The pulse of a caller who waits for as long as it takes."""
