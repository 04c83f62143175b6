"""Entries of the log: each says one thing that was found, done or noted, when, by which role; none is ever changed.

An entry is made once under an id of its maker's: sent any number of times it is there once. What was wrong is corrected by
another entry, or withdrawn by one.
"""

import re
from typing import Annotated, Any, Literal

from pydantic import Field, StringConstraints

from humble_relay.core.frozen import Frozen, Label, Slug, Text, When
from humble_relay.core.log.fault_kinds import Came, FaultAnswer, FaultTestId, Spread, Symptom
from humble_relay.core.plan.nouns import Noun
from humble_relay.core.plan.setup_kinds import SettingLoss
from humble_relay.core.plan.survey import Fact, Measurement, TaskId

EntryKind = Literal[
    "measurement",
    "fact",
    "task",
    "seen",
    "lost",
    "fault",
    "tried",
    "mended",
    "line",
    "photograph",
    "withdrawal",
]
MOST_ENTRIES = 80_000
"""Entries of one plan's log."""


class TaskMark(Frozen):
    """A task of the go-live order that was seen to, or is open again."""

    task: TaskId
    done: bool = True


StepId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9:/-]+$", max_length=240)]
"""Of a step of the set-up, or of a picture that can be looked at."""


class SeenStep(Frozen):
    """A step of the set-up, or a picture, and the digest of what was to be set, or of the way it took, when it was seen."""

    step: StepId
    stamp: Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{4,32}$", max_length=32)]


class SetupSeen(Frozen):
    """What was looked at on the day: settings of a device, or a picture, with all that it proves."""

    device: Slug
    steps: Annotated[tuple[SeenStep, ...], Field(min_length=1, max_length=300)]
    picture: bool = False
    """Whether it is a picture that was seen; its steps are then those that it proves."""
    right: bool = True
    """False: looked at, and wrong."""


class SettingsLost(Frozen):
    """What happened to a device that loses settings: its power was off, it was reset, its mode changed, or another one took its place."""

    device: Slug
    how: SettingLoss = "power-off"


class FaultBegun(Frozen):
    """A picture that does not appear as it should: where, and what is seen in its place."""

    picture: StepId
    symptom: Symptom
    came: Came | None = None
    spread: Spread | None = None


class FaultTried(Frozen):
    """What a test of a fault showed; `fault` is the entry that began it."""

    fault: Slug
    test: FaultTestId
    answer: FaultAnswer


class FaultMended(Frozen):
    """The end of a fault, with what it was; empty where nobody knows."""

    fault: Slug
    cause: FaultTestId | Literal[""] = ""


class LogLine(Frozen):
    """A line of text, of a thing or of the show."""

    text: Annotated[Text, Field(min_length=1)]
    noun: Noun | Literal["show"] = "show"
    thing: Slug = "show"


class Photograph(Frozen):
    """A picture that was taken, of a thing or of the show, and what it shows. The picture itself is kept beside the log."""

    photo: Slug
    text: Text = ""
    noun: Noun | Literal["show"] = "show"
    thing: Slug = "show"


class Withdrawal(Frozen):
    """An entry that counts no more, or counts again."""

    of: Slug
    withdrawn: bool = True


class _Entry(Frozen):
    """What every entry says of itself."""

    id: Slug
    at: When | None = None
    """When it was written, by the clock of the device it was written on, corrected by how far that clock was off; None of what an
    older version kept without saying."""
    received_at: When | None = None
    """When it was kept, by the server's clock."""
    sequence: Annotated[int, Field(ge=1, le=2**60)] | None = None
    """Its place in the log of its folder; given when it is kept."""
    role: Label = ""
    """Who wrote it, by role."""
    corrects: Slug | None = None
    """The entry, of the same kind, in whose place it stands."""


class MeasurementEntry(_Entry):
    """A measurement of an uplink."""

    kind: Literal["measurement"] = "measurement"
    body: Measurement


class FactEntry(_Entry):
    """A fact that was found out, or a test that was made."""

    kind: Literal["fact"] = "fact"
    body: Fact


class TaskEntry(_Entry):
    """A task ticked, or opened again."""

    kind: Literal["task"] = "task"
    body: TaskMark


class SeenEntry(_Entry):
    """Settings or a picture that was looked at."""

    kind: Literal["seen"] = "seen"
    body: SetupSeen


class LostEntry(_Entry):
    """A device that may have lost settings."""

    kind: Literal["lost"] = "lost"
    body: SettingsLost


class FaultEntry(_Entry):
    """A fault that began."""

    kind: Literal["fault"] = "fault"
    body: FaultBegun


class TriedEntry(_Entry):
    """A test of a fault."""

    kind: Literal["tried"] = "tried"
    body: FaultTried


class MendedEntry(_Entry):
    """A fault that ended."""

    kind: Literal["mended"] = "mended"
    body: FaultMended


class LineEntry(_Entry):
    """A line of the log."""

    kind: Literal["line"] = "line"
    body: LogLine


class PhotographEntry(_Entry):
    """A photograph."""

    kind: Literal["photograph"] = "photograph"
    body: Photograph


class WithdrawalEntry(_Entry):
    """An entry withdrawn, or counted again."""

    kind: Literal["withdrawal"] = "withdrawal"
    body: Withdrawal


AnyEntry = (
    MeasurementEntry
    | FactEntry
    | TaskEntry
    | SeenEntry
    | LostEntry
    | FaultEntry
    | TriedEntry
    | MendedEntry
    | LineEntry
    | PhotographEntry
    | WithdrawalEntry
)
Entry = Annotated[AnyEntry, Field(discriminator="kind")]


def subject_of(entry: AnyEntry) -> tuple[str, str]:
    """The noun and id of the thing that an entry is about; of a withdrawal and a task, the show.

    >>> subject_of(LineEntry(id="a", body=LogLine(text="Wind gets up", noun="place", thing="slipway")))
    ('place', 'slipway')
    """
    match entry.body:
        case Measurement(uplink=uplink):
            return "uplink", uplink
        case SetupSeen(device=device) | SettingsLost(device=device):
            return "device", device
        case FaultBegun(picture=picture):
            return "device", re.split("[:/]", picture)[0]
        case Fact() | LogLine() | Photograph():
            return entry.body.noun, entry.body.thing
    return "show", "show"


def same_entry(one: AnyEntry, other: AnyEntry) -> bool:
    """Whether two are one entry, sent twice: what the server adds to it, and by how much its clock was off, aside."""
    return _as_sent(one) == _as_sent(other)


def _as_sent(entry: AnyEntry) -> dict[str, Any]:
    bare = entry.model_dump(exclude={"received_at", "sequence", "at"})
    bare["body"].pop("id", None)
    if entry.at and bare["body"].get("at") == entry.at:
        bare["body"].pop("at")
    return bare
