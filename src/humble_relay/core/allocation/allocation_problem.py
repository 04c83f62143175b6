"""The choice as numbers: what must go out, at which pictures it may, by which lines, and through which relays."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import NamedTuple

from humble_relay.core.plan.video import Codec, VideoFormat


class Encoded(NamedTuple):
    """One way to encode a picture: what it is, what it weighs on a line in Mb/s, and how good it looks (more is better)."""

    format: VideoFormat
    codec: Codec
    video_mbps: float
    load_mbps: float
    quality: float

    @property
    def words(self) -> str:
        """Such as `1080p50 HEVC 4.8 Mb/s`."""
        codec = {"h264": "", "hevc": " HEVC", "intra": " intra-frame"}[self.codec]
        return f"{self.format.label}{codec} {self.video_mbps:g} Mb/s"


class Outgoing(NamedTuple):
    """A picture that must be at a destination: of which sender, how much it matters (1 first), how it may be encoded,
    through which relays it may go, and which service it ends at."""

    id: str
    name: str
    sender: str
    priority: int
    choices: tuple[Encoded, ...]
    relays: tuple[str, ...] = ()
    end: str = ""
    """The service; empty: one of its own."""
    must: bool = True
    """Whether it must arrive: then it is not left out to make another one better."""
    direct: bool = True
    """Whether its sender speaks to it without a relay."""


class SenderRoom(NamedTuple):
    """A box that encodes: which group it leaves with, to how many it sends at once, and how many pictures it encodes."""

    id: str
    group: str
    destinations: int
    channels: int


class RelayRoom(NamedTuple):
    """A service that repeats what it is sent once: to how many, and up to what bitrate in Mb/s."""

    id: str
    destinations: int
    max_mbps: float


class ToAllocate(NamedTuple):
    """All of it. `lines` is what each line may be asked for in Mb/s, and `groups` by which lines the senders behind one router
    can leave: all of them by the same, but where the router `steers` what each sends to each service by itself."""

    outgoing: tuple[Outgoing, ...]
    senders: tuple[SenderRoom, ...]
    relays: tuple[RelayRoom, ...]
    lines: dict[str, float]
    groups: dict[str, tuple[str, ...]]
    steers: frozenset[str] = frozenset()
    besides: Mapping[str, float] = MappingProxyType({})
    """What else goes by the line that a group leaves by, in Mb/s, where its router does not steer."""

    def bundle(self, sender: SenderRoom, service: str) -> tuple[str, ...]:
        """What leaves by one line with what a sender sends to a service."""
        return (sender.group, sender.id, service) if sender.group in self.steers else (sender.group,)


class Sent(NamedTuple):
    """What is chosen for one picture: how it is encoded, by which relay (None: straight), and by which line it leaves."""

    choice: Encoded
    relay: str | None
    line: str


class Solution(NamedTuple):
    """The best choice: for each outgoing picture (None: it cannot be sent), and how good it is in all."""

    sent: dict[str, Sent | None]
    value: float
    left_out: float = 0.0
    """What must arrive and does not, each as much as it matters."""
    gap: float = 0.0
    """By what part of its value a better one may still be better, where not all was tried; 0: there is none better."""

    def shape(self) -> frozenset[tuple[str, str, str]]:
        """Which picture goes by which way in which format, whatever its bitrate."""
        return frozenset(
            (id, s.choice.format.label if s else "", (s.relay or "") if s else "-")
            for id, s in self.sent.items()
        )
