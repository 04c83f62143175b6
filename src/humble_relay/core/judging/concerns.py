"""The concerns that a picture has on its way, and what may be asked about each of them of one kind of hop."""

from typing import Literal, NamedTuple, get_args

from humble_relay.core.judging.check import Check

Concern = Literal[
    "plugs and direction",
    "format",
    "reach",
    "way between places",
    "assignment",
    "protection",
    "sound",
    "power",
    "address",
    "reach over networks",
    "capacity",
    "delay",
    "the box itself",
]
CONCERNS: tuple[Concern, ...] = get_args(Concern)
Family = Literal["cable", "radio", "stream", "box"]


Scope = Literal["", "to a platform", "between services", "from a service", "within a site", "between sites"]
"""Where a stream goes: it is asked other things on a network of one's own than across the internet."""
SCOPES: tuple[Scope, ...] = get_args(Scope)[1:]


class HopKind(NamedTuple):
    """A kind of hop: its family, which cable, protocol or box of it, and where a stream of it goes."""

    family: Family
    kind: str
    scope: Scope = ""


class Cell(NamedTuple):
    """What is asked about one concern of one kind of hop."""

    checks: tuple[Check, ...] = ()
    """The checks that ask about it. Where none of them had anything to ask, nothing was asked, unless `unless` says why."""
    unless: str = ""
    """Why there may be no question: always, where no check is named, or on a hop where none applied."""
    yet: str = ""
    """What is not asked yet."""


Row = dict[Concern, Cell]


def not_asked(row: Row, asked: set[str]) -> list[tuple[Concern, str]]:
    """What is not asked yet of a hop with this row, about which these checks gave answers: the concern, and what would be asked."""
    found: list[tuple[Concern, str]] = []
    for concern, cell in row.items():
        if cell.yet:
            found.append((concern, cell.yet))
        elif cell.checks and not cell.unless and not asked & {check.name for check in cell.checks}:
            found.append((concern, f"nothing that is asked about {concern} elsewhere applies here"))
    return found
