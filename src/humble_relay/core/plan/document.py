"""The whole plan: one document, well-formed or refused."""

from collections import Counter
from collections.abc import Mapping
from typing import Annotated, Any, Literal, NamedTuple, get_args

from pydantic import AfterValidator, Field, model_validator

from humble_relay.core.frozen import Frozen, Text
from humble_relay.core.plan.acceptance import Accepted
from humble_relay.core.plan.aims import Aim
from humble_relay.core.plan.comms import CommsLink
from humble_relay.core.plan.devices import Device, Kind
from humble_relay.core.plan.figures import within_bounds
from humble_relay.core.plan.links import Link, Stream
from humble_relay.core.plan.networks import Network, Router, Uplink
from humble_relay.core.plan.nouns import Collection, Noun, ids_at, references_of
from humble_relay.core.plan.secret_fields import nouns_in
from humble_relay.core.plan.show import Show
from humble_relay.core.plan.sites import Place, Site, Span
from humble_relay.core.plan.stages import Stage

HeadroomRule = Literal["half", "third-free", "one-and-half", "worst", "one-push"]


HostNumber = Annotated[int, Field(ge=1, le=65_534)]


class KindRange(Frozen):
    """Where boxes of some kinds have their addresses, counted from the start of their network: `10` is .10 of a /24."""

    kinds: Annotated[tuple[Kind, ...], Field(min_length=1, max_length=30)]
    first: HostNumber
    last: HostNumber

    @model_validator(mode="after")
    def _in_order(self) -> "KindRange":
        if self.last < self.first:
            raise ValueError(f"a range of addresses ends at {self.last}, before it begins at {self.first}")
        return self


class Settings(Frozen):
    """The choices practitioners differ on, and the figures this plan sets for itself."""

    headroom: HeadroomRule = "third-free"
    headroom_why: Text = ""
    """Why this school and no other."""
    takes_stock: bool = True
    """Whether its gear is counted against the stock; that of a sketch or an example is not."""
    figures: Annotated[dict[str, float], AfterValidator(within_bounds)] = Field(default_factory=dict)
    address_ranges: Annotated[tuple[KindRange, ...], Field(max_length=50, fail_fast=True)] | None = None
    """The scheme of addresses, by kind of box; None: the usual one. Kinds in none have what is left."""


class Plan(Frozen):
    """One document: what is intended."""

    show: Show
    settings: Settings = Settings()
    sites: Annotated[
        tuple[Site, ...], Field(max_length=200, fail_fast=True), Collection("site", "brief")
    ] = ()
    places: Annotated[
        tuple[Place, ...], Field(max_length=1_000, fail_fast=True), Collection("place", "brief")
    ] = ()
    uplinks: Annotated[
        tuple[Uplink, ...], Field(max_length=200, fail_fast=True), Collection("uplink", "survey")
    ] = ()
    networks: Annotated[
        tuple[Network, ...], Field(max_length=500, fail_fast=True), Collection("network", "addresses")
    ] = ()
    devices: Annotated[
        tuple[Device, ...],
        Field(max_length=3_000, fail_fast=True),
        Collection(
            "device",
            "gear",
            {"delay_ms": "delay_ms", "firmware": "software.firmware", "power_w": "power.draw_w"},
        ),
    ] = ()
    links: Annotated[
        tuple[Link, ...],
        Field(max_length=10_000, fail_fast=True),
        Collection("link", "signal", {"length_m": "length_m", "distance_m": "distance_m"}),
    ] = ()
    spans: Annotated[
        tuple[Span, ...],
        Field(max_length=2_000, fail_fast=True),
        Collection("span", "brief", {"distance_m": "distance_m"}),
    ] = ()
    routers: Annotated[
        tuple[Router, ...], Field(max_length=200, fail_fast=True), Collection("router", "addresses")
    ] = ()
    aims: Annotated[tuple[Aim, ...], Field(max_length=1_000, fail_fast=True), Collection("aim", "brief")] = ()
    comms: Annotated[
        tuple[CommsLink, ...], Field(max_length=1_000, fail_fast=True), Collection("comms", "signal")
    ] = ()
    accepted: Annotated[tuple[Accepted, ...], Field(max_length=2_000, fail_fast=True)] = ()
    """Accepted doubts, each once."""

    @model_validator(mode="after")
    def _well_formed(self) -> "Plan":
        """Refuses doubled ids and references to nothing; everything else is for findings."""
        ids = {noun: {x.id for x in getattr(self, row.collection)} for noun, row in NOUNS.items()}
        for noun, row in NOUNS.items():
            things = getattr(self, row.collection)
            if len(ids[noun]) < len(things):
                twice = next(i for i, n in Counter(x.id for x in things).items() if n > 1)
                raise ValueError(f"{row.collection}: the id {twice} is used twice; give one another id")
            for thing in things:
                for read, to in _READERS[thing.__class__]:
                    for id in read(thing):
                        if id not in ids[to] and "/" not in id:  # ports are looked at with what ends at them
                            raise ValueError(
                                f"{_called(noun, thing)} points at {to} {id}, which the plan does not have"
                            )
        self._uplinks_bonded_once()
        for network, n in Counter(n for r in self.routers for n in r.networks).items():
            if n > 1:
                raise ValueError(f"network {network} is on two routers: take it off one of them")
        pairs: set[frozenset[str]] = set()
        for span in self.spans:
            if span.a == span.b or frozenset((span.a, span.b)) in pairs:
                raise ValueError(f"span {span.id} must join two different places that no other span joins")
            pairs.add(frozenset((span.a, span.b)))
        if len({a.finding for a in self.accepted}) < len(self.accepted):
            raise ValueError("a doubt is accepted twice: once is enough")
        self._ports_taken_once()
        return self

    def _uplinks_bonded_once(self) -> None:
        bonded = {u.id: bool(u.parts) for u in self.uplinks}
        for uplink in self.uplinks:
            for part in uplink.parts:
                if part == uplink.id or bonded.get(part) or len(set(uplink.parts)) < len(uplink.parts):
                    raise ValueError(
                        f"{uplink.name} joins {part}: it must join lines of their own, each once, and none that is bonded"
                    )

    def _ports_taken_once(self) -> None:
        ports = {f"{d.id}/{p.id}" for d in self.devices for p in d.ports}
        taken: dict[str, str] = {}
        for link in self.links:
            if isinstance(link, Stream):
                if link.input is not None and f"{link.to_device}/{link.input}" not in ports:
                    raise ValueError(
                        f"{link.name} is assigned to input {link.input}, which {link.to_device} does not have"
                    )
                continue
            for ref in (link.from_port, link.to_port):
                if ref not in ports:
                    raise ValueError(
                        f"{link.kind} {link.id} ends at port {ref}, which the plan does not have"
                    )
                if ref in taken:
                    raise ValueError(f"port {ref} already has {taken[ref]}: take that one out first")
                taken[ref] = f"{link.kind} {link.id}"


def _called(noun: Noun, thing: Any) -> str:
    return getattr(thing, "name", None) or f"{noun} {thing.id}"


class NounRow(NamedTuple):
    """What is declared of a noun: its collection in a plan, what it may be there, and the rest of its row."""

    collection: str
    kinds: tuple[type[Frozen], ...]
    typed_at: Stage
    measured: Mapping[str, str]


NOUNS: dict[Noun, NounRow] = {
    mark.noun: NounRow(name, tuple(nouns_in(field.annotation)), mark.typed_at, mark.measured)
    for name, field in Plan.model_fields.items()
    for mark in field.metadata
    if isinstance(mark, Collection)
}
"""Every noun by its name, as `Plan` declares it."""
assert NOUNS.keys() == set(get_args(Noun))
_READERS = {
    kind: [(ids_at(reference.path), reference.noun) for reference in references_of(kind)]
    for row in NOUNS.values()
    for kind in row.kinds
}
