"""What can be done to a plan that is kept: each a value, handed to `Plans.make`."""

from collections.abc import Sequence
from typing import NamedTuple

from humble_relay.core.edits import Edit
from humble_relay.core.survey import Measurement


class Edited(NamedTuple):
    """Edits made, with an optional reason."""

    edits: Sequence[Edit]
    why: str = ""
    who: str = ""


class Undone(NamedTuple):
    """The last change that stands taken back."""


class Redone(NamedTuple):
    """The last undone change made again."""


class Restored(NamedTuple):
    """The plan as it stood after a revision."""

    number: int


class Measured(NamedTuple):
    """Measurements added. They go with any version of the plan."""

    measurements: Sequence[Measurement]


Change = Edited | Undone | Redone | Restored | Measured


class NoSuchPlan(LookupError):
    """There is no plan of that id."""


class NothingToDo(ValueError):
    """There is nothing to undo, redo or restore."""


class TooMuch(ValueError):
    """More than a plan can hold; the message says what and how much."""


class UnknownUplink(ValueError):
    """Measurements name an uplink that the plan does not have."""
