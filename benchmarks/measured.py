"""Medians with their spread, and how a cost grows with the size of what is asked."""

import math
import re
import statistics
import time
from collections.abc import Callable
from typing import TypeVar

from humble_relay.web.serving import collect_seldom

T = TypeVar("T")


def _yardstick() -> float:
    """The median of a fixed piece of pure Python, in ms: figures in its multiples can be compared between machines."""
    took = []
    for _ in range(9):
        start = time.perf_counter()
        sum(n * n % 7 for n in range(100_000))
        took.append((time.perf_counter() - start) * 1000)
    return statistics.median(took)


YARDSTICK_MS = _yardstick()
collect_seldom()  # as the server does
TARGETED_MS = 10.0
"""What a yardstick takes on the machine that the targets are meant for, when it is quiet: they are kept in yardsticks too."""


def in_yardsticks(target: str) -> str:
    """A target such as `20 ms`, with its yardsticks.

    >>> in_yardsticks("20 ms")
    '20 ms = 2 yardsticks'
    """
    found = re.match(r"(\d+) ms", target)
    return f"{target} = {int(found[1]) / TARGETED_MS:g} yardsticks" if found else target


def spread(name: str, target: str, run: Callable[[], object], times: int = 15) -> float:
    """Prints median, quartiles and the target of one figure, in ms; the median comes back."""
    run()
    took = []
    for _ in range(times):
        start = time.perf_counter()
        run()
        took.append((time.perf_counter() - start) * 1000)
    low, middle, high = statistics.quantiles(took, n=4)
    print(f"{name:<44} {middle:8.1f} ms = {middle / YARDSTICK_MS:7.2f} yardsticks   (quartiles {low:.1f} to {high:.1f}; target {in_yardsticks(target)})")  # fmt: skip
    return middle


def grows(name: str, sizes: tuple[int, ...], make: Callable[[int], T], run: Callable[[T], object]) -> None:
    """Prints the median cost at each size and the exponent from the first to the last."""
    medians = []
    for size in sizes:
        made, took = make(size), []
        for _ in range(5):
            start = time.perf_counter()
            run(made)
            took.append((time.perf_counter() - start) * 1000)
        medians.append(statistics.median(took))
    exponent = math.log(medians[-1] / medians[0]) / math.log(sizes[-1] / sizes[0])
    shown = ", ".join(f"{n}: {ms:.0f} ms" for n, ms in zip(sizes, medians, strict=True))
    print(f"{name:<44} {shown}; cost grows with size^{exponent:.2f}")
