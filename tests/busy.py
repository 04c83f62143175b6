"""What is measured in real time on a machine that does other things too."""

import functools
import sys
import time
from collections.abc import Callable
from typing import ParamSpec

P = ParamSpec("P")


TIMES = 3
"""How often a measurement in real time is taken before it is believed to be wrong."""


def measured_again(check: Callable[P, None]) -> Callable[P, None]:
    """A check that is made up to three times before it fails, a moment apart: a busy machine is a slow line. What is wrong in the code
    is wrong each time."""

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
                time.sleep(2)

    return again
