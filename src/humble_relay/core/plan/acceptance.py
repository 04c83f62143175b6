"""Accepted doubts, and what they were about: by numbers and things, never by their sentence."""

from typing import Annotated

from pydantic import Field

from humble_relay.core.frozen import Frozen, Label, Text

LARGEST = 1e15
Compared = Annotated[float, Field(ge=-LARGEST, le=LARGEST)]


class ComparedValues(Frozen):
    """What an answer compared: a value with its limits, what else decided it, and the fields of the thing that it is about."""

    value: Compared | None = None
    relied: Compared | None = None
    hopeless: Compared | None = None
    """None: nothing is hopeless, or no numbers were compared."""
    unit: Label = ""
    at_least: bool = False
    things: Annotated[tuple[Text, ...], Field(max_length=20)] = ()
    """What else was compared: formats, addresses, other things by their ids."""
    fields: Annotated[tuple[Text, ...], Field(max_length=100)] = ()
    """The plain fields of the thing and the figures that the plan sets for itself, such as `length_m=100`."""


class Accepted(Frozen):
    """An accepted doubt, and why. It stands until what was compared changes for the worse."""

    finding: Annotated[str, Field(pattern=r"^[a-z0-9:/-]+$", max_length=300)]
    compared: ComparedValues | None = None
    """What the answer compared when it was accepted; None: nobody noted it, and it stands by its check and thing."""
    reason: Annotated[Text, Field(min_length=1)]
