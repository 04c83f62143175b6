"""Uploads with how much each counts."""

from collections.abc import Sequence
from typing import NamedTuple


class Weighed(NamedTuple):
    """Uploads in Mb/s, each with how much it counts, 0 to 1, and the evening that it was taken on."""

    ups: tuple[float, ...]
    weights: tuple[float, ...]
    evenings: tuple[int, ...] = ()
    """Any number, the same for those of one evening; empty: each is of an evening of its own."""

    @property
    def effective(self) -> float:
        """How many measurements of full weight they are worth: (Σw)² ÷ Σw² (Kish 1965), never more than there are."""
        return effective(self.weights) if sum(self.weights) else 0.0


def effective(weights: Sequence[float]) -> float:
    """How many of full weight they are worth: (Σw)² ÷ Σw² (Kish 1965), never more than there are.

    >>> effective([1, 1, 0.5]), effective([0.5])
    (2.7777777777777777, 0.5)
    """
    total = sum(weights)
    return total * total / sum(w * w for w in weights) * min(1.0, max(weights))
