"""What can be done to a plan that is kept: each a value, handed to `Plans.make`."""

from collections.abc import Sequence
from typing import NamedTuple

from humble_relay.core.plan.edits import Edit


class Edited(NamedTuple):
    """Edits made, with an optional reason; `older` where they were typed in an older form and are in today's now."""

    edits: Sequence[Edit]
    why: str = ""
    who: str = ""
    older: bool = False


class Undone(NamedTuple):
    """The last change that stands taken back."""


class Redone(NamedTuple):
    """The last undone change made again."""


class Restored(NamedTuple):
    """The plan as it stood after a revision."""

    number: int


PlanChange = Edited | Undone | Redone | Restored


class NoSuchPlan(LookupError):
    """There is no plan of that id."""


class NothingToDo(ValueError):
    """There is nothing to undo, redo or restore."""


class TooMuch(ValueError):
    """More than a plan can hold; the message says what and how much."""
