"""The choice as numbers: what must go out, at which pictures it may, by which lines, and through which relays."""

from collections.abc import Mapping
from types import MappingProxyType
from typing import NamedTuple

from humble_relay.core.plan.video import Codec, VideoFormat


class Encoded(NamedTuple):
    """One way to encode a picture: what it is, what it weighs on a line in Mb/s where it goes straight, counted at its most, and how good
    it looks (more is better)."""

    format: VideoFormat
    codec: Codec
    video_mbps: float
    load_mbps: float
    quality: float
    relayed_mbps: tuple[tuple[str, float | None], ...] = ()
    """What its push to each relay weighs; None where that does not take it. A relay that is not named: as much as straight."""

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
    picture: str = ""
    """What is encoded: pictures that are composed otherwise are encoded apart, however alike their formats are."""
    pushed_as: str = ""
    """What a push to a relay carries besides the picture, its sound above all: only those that are alike share one."""
    backup: bool = False
    """Whether its service has it a second time, at a backup ingest: that is a destination more."""
    pushed_twice: frozenset[str] = frozenset()
    """The relays that a push goes to a second time."""

    @property
    def rank(self) -> tuple[bool, int]:
        """Whether it is only wished, and its priority: the lower, the more it matters."""
        return not self.must, self.priority

    def encoding(self, choice: Encoded) -> tuple[object, ...]:
        """What tells one encoding of its sender from another."""
        return self.sender, self.picture, *choice[:3]

    def push(self, choice: Encoded, relay: str) -> tuple[object, ...]:
        """What tells one push of its sender to a relay from another."""
        return relay, *self.encoding(choice), self.pushed_as

    def pushed_mbps(self, choice: Encoded, relay: str) -> float | None:
        """What such a push weighs on a line, in Mb/s; None where the relay does not take it."""
        return dict(choice.relayed_mbps).get(relay, choice.load_mbps)


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
    barred: frozenset["Barred"] = frozenset()
    """What is known not to work, by the checks of the plan that it would make."""

    @property
    def ranks(self) -> list[tuple[bool, int]]:
        """The ranks of the pictures, the most important first: what must arrive before what is wished, and each by its priority."""
        return sorted({o.rank for o in self.outgoing})

    def bundle(self, sender: SenderRoom, service: str) -> tuple[str, ...]:
        """What leaves by one line with what a sender sends to a service."""
        return (sender.group, sender.id, service) if sender.group in self.steers else (sender.group,)


class Barred(NamedTuple):
    """A way of a picture that is not taken: by a relay (empty: straight) and a line; in every encoding that weighs as much or more."""

    picture: str
    relay: str
    line: str
    from_mbps: float


class Sent(NamedTuple):
    """What is chosen for one picture: how it is encoded, by which relay (None: straight), and by which line it leaves."""

    choice: Encoded
    relay: str | None
    line: str


class Solution(NamedTuple):
    """The best choice: for each outgoing picture (None: it cannot be sent), and how good those of each rank are, the most important
    first (`ToAllocate.ranks`)."""

    sent: dict[str, Sent | None]
    value: tuple[float, ...]
    left_out: tuple[int, ...] = ()
    """How many of each rank must arrive and do not; empty where all do."""
    gap: float = 0.0
    """By what part of its value a better one may still be better, where not all was tried; 0: there is none better."""

    def shape(self) -> frozenset[tuple[str, str, str]]:
        """Which picture goes by which way in which format, whatever its bitrate."""
        return frozenset(
            (id, s.choice.format.label if s else "", (s.relay or "") if s else "-")
            for id, s in self.sent.items()
        )
