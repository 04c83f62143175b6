"""What a typed line may mean: edits to make, a page to open, something to do, or why it is not done."""

from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.core.log.entries import FaultBegun, SettingsLost, SetupSeen
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.stages import Stage
from humble_relay.core.plan.survey import Measurement

Action = Literal[
    "undo", "redo", "history", "keys", "print", "light", "findings", "plans", "glossary", "export"
]


class Alternative(Frozen):
    """One thing the line may mean. Nothing is done until it is chosen; of all that could be said, at most one kind is."""

    title: str
    edits: tuple[Edit, ...] = ()
    measured: Measurement | None = None
    """A measurement to add, taken at the moment of the choice."""
    seen: tuple[SetupSeen, ...] = ()
    """What was seen, by the numbers of the set-up list."""
    lost: SettingsLost | None = None
    """What happened to a device that may lose settings by it."""
    fault: FaultBegun | None = None
    """A fault whose cause is to be found."""
    go: Stage | None = None
    page: str = ""
    """Which page of the stage."""
    pick: str = ""
    """What is picked there: `noun:id`, or `finding:id`."""
    do: Action | None = None
    to_get: tuple[str, ...] = ()
    """What has to be bought or borrowed for it."""
