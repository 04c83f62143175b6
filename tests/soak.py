"""How much of the tests a run takes. `make test` takes what a change breaks soonest, `.ci/run` what goes further too (other screens,
other sizes, many at once), and `make soak` all of each seeded suite."""

import os
from collections.abc import Sequence
from typing import TypeVar

import pytest

T = TypeVar("T")

WHOLE = bool(os.environ.get("SOAK"))
FURTHER = WHOLE or bool(os.environ.get("CI"))
only = pytest.mark.skipif(not WHOLE, reason="long: run by `make soak`")
"""Marks what is run there alone."""
further = pytest.mark.skipif(not FURTHER, reason="further: run by `.ci/run`")
"""Marks what is run there and in `make soak`."""


def of_many(few: int, many: int) -> int:
    """How many are taken: the few, or in `make soak` the many."""
    return many if WHOLE else few


def part(things: Sequence[T], one_in: int) -> Sequence[T]:
    """Of things looked at one by one one in so many, or in `make soak` all."""
    return things if WHOLE else things[::one_in]
