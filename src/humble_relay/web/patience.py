"""How long a request may take: until nobody waits for it any more, the server stops, or its time is up."""

import threading
import time
from collections.abc import Iterator
from typing import Annotated

from fastapi import Depends, Request
from starlette.exceptions import HTTPException

from humble_relay.core.patience import Pulse, Stopped

LONGEST_S = 20.0
_SEARCHES_AT_ONCE = 3
_searching = threading.BoundedSemaphore(_SEARCHES_AT_ONCE)


class Patience:
    """One request's: `pulse` is felt between the steps of long work, on whatever thread it runs."""

    stopping = False
    """Set on the class when the server stops: all work ends."""

    def __init__(self, seconds: float = LONGEST_S) -> None:
        self._until = time.monotonic() + seconds
        self._seconds = seconds
        self.gone = False
        """The asker went away."""

    def pulse(self) -> None:
        """Raises Stopped when there is no point in going on."""
        if Patience.stopping:
            raise Stopped("Humble Relay is stopping. Nothing was changed: send it again when it is back.")
        if self.gone:
            raise Stopped("Nobody waits for this any more.")
        if time.monotonic() > self._until:
            raise Stopped(
                f"This took longer than {self._seconds:g} s and was stopped; nothing was changed. Ask about less at once: name the input, or take what is not needed out of the plan."
            )


def pulse_of(request: Request) -> Pulse:
    """The pulse of the request."""
    patience: Patience = request.state.patience
    return patience.pulse


Pulsed = Annotated[Pulse, Depends(pulse_of)]


def _search(pulse: Pulsed) -> Iterator[Pulse]:
    """A place among the few long searches that run at once."""
    if not _searching.acquire(timeout=5):
        raise HTTPException(
            503, "Several long questions are being worked out just now: ask again in a moment."
        )
    try:
        yield pulse
    finally:
        _searching.release()


Search = Annotated[Pulse, Depends(_search)]
"""The pulse of a request that searches."""
