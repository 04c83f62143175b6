"""What the signal map is made of: bands, boxes and hops, in px from its top left."""

from typing import Literal, NamedTuple

from humble_relay.core.judging.answer import State

Pattern = Literal["cable", "radio", "stream", "sound", "network"]

Detail = Literal["places", "names", "full"]
"""How near one looks: every place as one box; every box by its name, links by their pattern; every label."""

DETAILS: tuple[Detail, ...] = ("full", "names", "places")
"""From the nearest to the furthest."""


class Scale(NamedTuple):
    """Sizes of the map at one detail, in px, and how many letters of a name fit on a line of a box."""

    box: float
    row: float
    """Height of a row whose links say nothing; one with labels is as high as at full detail."""
    track: float
    gap: float
    """Least width between two columns."""
    pad: float
    """Space at a band's top and bottom."""
    apart: float
    """Space between two boxes below each other."""
    letters: int
    labels: bool


SCALES: dict[Detail, Scale] = {
    "full": Scale(box=132, row=36, track=9, gap=0, pad=8, apart=6, letters=19, labels=True),
    "names": Scale(box=90, row=27, track=5, gap=16, pad=2, apart=4, letters=12, labels=False),
    "places": Scale(box=150, row=31, track=7, gap=22, pad=3, apart=6, letters=22, labels=True),
}
LABELLED_ROW = SCALES["full"].row


class Point(NamedTuple):
    """A corner of a line, in px."""

    x: float
    y: float


class DrawnBox(NamedTuple):
    """A device on the map, or a whole place drawn as one; px from the map's top left."""

    device: str
    name: str
    lines: tuple[str, ...]
    """The name as it fits the box."""
    notes: tuple[str, ...]
    band: str
    column: int
    row: int
    x: float
    y: float
    width: float
    height: float
    mark: State | None
    """The weakest answer about it, where it is not that it holds."""
    back: bool
    """Whether it steps back: a way is picked, and this is not on it."""


class PlaceBand(NamedTuple):
    """A place, drawn as a horizontal band. `aside` are the boxes there that no picture goes through."""

    place: str
    name: str
    y: float
    height: float
    aside: tuple[str, ...]
    devices: int
    collapsed: bool


class DrawnHop(NamedTuple):
    """A link on the map: its corners in px, and what matters on it in words."""

    link: str
    from_device: str
    to_device: str
    pattern: Pattern
    state: Literal["live", "dark", "broken"]
    label: str
    detail: str
    """What stands at the link: nothing where one looks from too far."""
    title: str
    """Everything that is to be said of it, however far one looks from."""
    points: tuple[Point, ...]
    label_x: float
    label_y: float
    mark: State | None
    back: bool


class SignalMap(NamedTuple):
    """Bands from the top, boxes in them, hops between boxes; px."""

    detail: Detail
    width: float
    height: float
    bands: tuple[PlaceBand, ...]
    boxes: tuple[DrawnBox, ...]
    hops: tuple[DrawnHop, ...]


class Wire(NamedTuple):
    """A hop before it is laid out: one link, or all links between two boxes."""

    id: str
    a: str
    b: str
    order: int
    pattern: Pattern
    state: Literal["live", "dark", "broken"]
    label: str
    detail: str
    title: str
    mark: State | None = None
    back: bool = False

    @property
    def labelled(self) -> bool:
        """Whether anything stands beside the line."""
        return bool(self.label or self.detail)
