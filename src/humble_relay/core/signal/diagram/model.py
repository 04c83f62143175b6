"""What the signal map is made of: bands, boxes and hops, in px from its top left."""

from typing import Literal, NamedTuple

from humble_relay.core.frozen import Frozen

Pattern = Literal["cable", "radio", "stream", "sound", "network"]


class Point(Frozen):
    """A corner of a line, in px."""

    x: float
    y: float


class DrawnBox(Frozen):
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


class PlaceBand(Frozen):
    """A place, drawn as a horizontal band. `aside` are the boxes there that no picture goes through."""

    place: str
    name: str
    y: float
    height: float
    aside: tuple[str, ...]
    devices: int
    collapsed: bool


class DrawnHop(Frozen):
    """A link on the map: its corners in px, and what matters on it in words."""

    link: str
    from_device: str
    to_device: str
    pattern: Pattern
    state: Literal["live", "dark", "broken"]
    label: str
    detail: str
    points: tuple[Point, ...]
    label_x: float
    label_y: float


class SignalMap(Frozen):
    """Bands from the top, boxes in them, hops between boxes; px."""

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
