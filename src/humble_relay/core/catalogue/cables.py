"""The kinds of cable: what they plug into, what they are called, and the lengths they come in."""

import math
from typing import NamedTuple

from humble_relay.core.plan import CableKind, Connector, Protocol

FITS: dict[CableKind, Connector] = {
    "hdmi": "hdmi",
    "hdmi-active": "hdmi",
    "hdmi-optical": "hdmi",
    "coax": "sdi",
    "vga": "vga",
    "ethernet": "ethernet",
    "usb2": "usb",
    "usb3": "usb",
    "fibre": "fibre",
    "audio": "audio",
}
"""The connector each kind of cable ends in."""
CABLE_FOR: dict[Connector, CableKind] = {
    "hdmi": "hdmi",
    "sdi": "coax",
    "vga": "vga",
    "usb": "usb3",
    "fibre": "fibre",
    "ethernet": "ethernet",
    "audio": "audio",
}
CABLE_WORDS: dict[CableKind, str] = {
    "hdmi": "HDMI",
    "hdmi-active": "Active HDMI",
    "hdmi-optical": "Optical HDMI",
    "coax": "SDI coax",
    "vga": "VGA",
    "ethernet": "Ethernet",
    "usb2": "USB 2",
    "usb3": "USB 3",
    "fibre": "Fibre",
    "audio": "Audio",
}
PROTOCOL_WORDS: dict[Protocol, str] = {
    "rtmp": "RTMP",
    "rtmps": "RTMPS",
    "srt": "SRT",
    "rtsp": "RTSP",
    "ndi": "NDI",
    "paired": "Paired",
    "web": "Browser",
    "hls": "HTTP segments",
}
STOCK_LENGTHS: dict[CableKind, tuple[float, ...]] = {
    "hdmi": (1, 2, 3, 5, 7.5, 10, 15),
    "hdmi-active": (10, 15, 20),
    "hdmi-optical": (10, 20, 30, 50, 100),
    "coax": (1, 2, 5, 10, 20, 30, 50, 100),
    "vga": (2, 5, 10, 15),
    "ethernet": (1, 2, 5, 10, 20, 30, 50, 100),
    "usb2": (1, 2, 3, 5),
    "usb3": (1, 2, 3),
    "fibre": (10, 30, 50, 100, 200, 300),
    "audio": (2, 5, 10, 20, 50, 100),
}
"""The lengths a van carries, in metres (common practice, no source)."""
ONE_WAY: tuple[CableKind, ...] = ("hdmi-active", "hdmi-optical")
"""Leads with electronics in their plugs: one end is the source's, and no coupler joins two."""
REPEATABLE: tuple[CableKind, ...] = ("hdmi", "coax", "usb2", "usb3", "ethernet")


class Lay(NamedTuple):
    """The stock cables that make one run: their lengths in metres, longest first."""

    lengths: tuple[float, ...]

    @property
    def total_m(self) -> float:
        """Metres laid."""
        return sum(self.lengths)

    @property
    def joints(self) -> int:
        """Couplers between them."""
        return len(self.lengths) - 1


def stock_lay(kind: CableKind, need_m: float) -> Lay:
    """The fewest stock cables that cover `need_m`, and of those the shortest.

    >>> stock_lay("coax", 120).lengths
    (100, 20)
    """
    sizes = STOCK_LENGTHS[kind]
    if kind in ONE_WAY:
        return Lay((next((s for s in sizes if s >= need_m - 1e-9), need_m),))
    whole = max(0, math.ceil(need_m / sizes[-1] - 1e-9) - 1)
    rest = need_m - whole * sizes[-1]
    return Lay((sizes[-1],) * whole + (next(s for s in sizes if s >= rest - 1e-9),))
