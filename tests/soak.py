"""How much of a long suite a run takes: a seeded part in `make test`, the whole of it in `make soak`."""

import os

import pytest

WHOLE = bool(os.environ.get("SOAK"))
only = pytest.mark.skipif(not WHOLE, reason="long: run by `make soak`")
"""Marks what is run there alone."""


def of_many(few: int, many: int) -> int:
    """How many are taken: the few, or in `make soak` the many."""
    return many if WHOLE else few
