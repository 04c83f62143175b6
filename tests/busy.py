"""What is measured in real time on a machine that does other things too."""

import functools
import sys
import time
from collections.abc import Callable
from typing import ParamSpec

P = ParamSpec("P")


TIMES = 4
"""How often a measurement in real time is taken before it is believed to be wrong."""
_QUIET_S, _PATIENCE_S = 1.0, 15.0


def measured_again(check: Callable[P, None]) -> Callable[P, None]:
    """A check that is made up to four times before it fails, each time once the machine is quiet: a busy machine is a slow line. What
    is wrong in the code is wrong each time."""

    @functools.wraps(check)
    def again(*given: P.args, **named: P.kwargs) -> None:
        for left in reversed(range(TIMES)):
            try:
                check(*given, **named)
                return
            except (AssertionError, IndexError) as missed:
                if not left:
                    raise
                print(f"{check.__name__}: measured again, {missed}", file=sys.stderr)
                until_quiet()

    return again


def until_quiet() -> None:
    """Waits until who sleeps for 2 ms is woken in time for a whole second, for 15 s at most."""
    ends = time.monotonic() + _PATIENCE_S
    quiet_since = time.monotonic()
    while (begun := time.monotonic()) < ends and begun - quiet_since < _QUIET_S:
        time.sleep(0.002)
        if time.monotonic() - begun > 0.008:
            quiet_since = time.monotonic()
