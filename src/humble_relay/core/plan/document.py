"""The whole plan: one document, well-formed or refused."""

from collections import Counter
from typing import Annotated, Literal

from pydantic import AfterValidator, Field, StringConstraints, model_validator

from humble_relay.core.frozen import Frozen, Slug, Text
from humble_relay.core.plan.aims import Accepted, Aim
from humble_relay.core.plan.devices import Device, Kind
from humble_relay.core.plan.figures import within_bounds
from humble_relay.core.plan.links import Link, Stream
from humble_relay.core.plan.networks import Network, Router, Uplink
from humble_relay.core.plan.show import Show
from humble_relay.core.plan.sites import Place, Site, Span

School = Literal["half", "third-free", "one-and-half", "worst"]


TaskId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9:-]+$", max_length=200)]


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

    headroom: School = "third-free"
    headroom_why: Text = ""
    """Why this school and no other."""
    takes_stock: bool = True
    """Whether its gear is counted against the stock; that of a sketch or an example is not."""
    figures: Annotated[dict[str, float], AfterValidator(within_bounds)] = Field(default_factory=dict)
    address_ranges: Annotated[tuple[KindRange, ...], Field(max_length=50, fail_fast=True)] | None = None
    """The scheme of addresses, by kind of box; None: the usual one. Kinds in none have what is left."""
    done: Annotated[tuple[TaskId, ...], Field(max_length=2000, fail_fast=True)] = ()
    """Tasks of the go-live order already seen to."""


class Plan(Frozen):
    """One document: what is intended."""

    show: Show
    settings: Settings = Settings()
    sites: Annotated[tuple[Site, ...], Field(max_length=200, fail_fast=True)] = ()
    places: Annotated[tuple[Place, ...], Field(max_length=1_000, fail_fast=True)] = ()
    uplinks: Annotated[tuple[Uplink, ...], Field(max_length=200, fail_fast=True)] = ()
    networks: Annotated[tuple[Network, ...], Field(max_length=500, fail_fast=True)] = ()
    devices: Annotated[tuple[Device, ...], Field(max_length=3_000, fail_fast=True)] = ()
    links: Annotated[tuple[Link, ...], Field(max_length=10_000, fail_fast=True)] = ()
    spans: Annotated[tuple[Span, ...], Field(max_length=2_000, fail_fast=True)] = ()
    routers: Annotated[tuple[Router, ...], Field(max_length=200, fail_fast=True)] = ()
    aims: Annotated[tuple[Aim, ...], Field(max_length=1_000, fail_fast=True)] = ()
    accepted: Annotated[tuple[Accepted, ...], Field(max_length=2_000, fail_fast=True)] = ()
    """Doubts that somebody took on, each once."""
    struck: Annotated[tuple[Slug, ...], Field(max_length=50_000, fail_fast=True)] = ()
    """Measurements that are not to be judged by: kept, and marked. An id the survey does not have means nothing."""

    @model_validator(mode="after")
    def _well_formed(self) -> "Plan":
        """Refuses doubled ids and references to nothing; everything else is for findings."""
        groups = {g: {x.id for x in getattr(self, g)} for g in COLLECTIONS.values()}
        for group, ids in groups.items():
            items = getattr(self, group)
            if len(ids) < len(items):
                twice = [i for i, n in Counter(x.id for x in items).items() if n > 1]
                raise ValueError(f"{group}: the id {twice[0]} is used twice; give one another id")

        def need(owner: str, ref: str | None, group: str) -> None:
            if ref is not None and ref not in groups[group]:
                raise ValueError(f"{owner} points at {group[:-1]} {ref}, which the plan does not have")

        for place in self.places:
            need(place.name, place.site, "sites")
        bonded = {u.id: bool(u.parts) for u in self.uplinks}
        for uplink in self.uplinks:
            need(uplink.name, uplink.site, "sites")
            need(uplink.name, uplink.behind, "networks")
            for part in uplink.parts:
                need(uplink.name, part, "uplinks")
                if part == uplink.id or bonded.get(part) or len(set(uplink.parts)) < len(uplink.parts):
                    raise ValueError(
                        f"{uplink.name} joins {part}: it must join lines of their own, each once, and none that is bonded"
                    )
        for network in self.networks:
            need(network.name, network.site, "sites")
        for router in self.routers:
            need(router.name, router.site, "sites")
            need(router.name, router.device, "devices")
            for joined, group in ((router.networks, "networks"), (router.uplinks, "uplinks")):
                for id in joined:
                    need(router.name, id, group)
            for rule in router.rules:
                need(f"a rule of {router.name}", rule.from_network, "networks")
                need(f"a rule of {router.name}", rule.to_network, "networks")
        for network_id, n in Counter(n for r in self.routers for n in r.networks).items():
            if n > 1:
                raise ValueError(f"network {network_id} is on two routers: take it off one of them")
        pairs: set[frozenset[str]] = set()
        for span in self.spans:
            need(f"span {span.id}", span.a, "places")
            need(f"span {span.id}", span.b, "places")
            if span.a == span.b or frozenset((span.a, span.b)) in pairs:
                raise ValueError(f"span {span.id} must join two different places that no other span joins")
            pairs.add(frozenset((span.a, span.b)))
        for aim in self.aims:
            need(f"aim {aim.id}", aim.of, "devices")
            need(f"aim {aim.id}", aim.end, "devices")
        if len({a.finding for a in self.accepted}) < len(self.accepted):
            raise ValueError("a doubt is accepted twice: once is enough")
        ports: set[str] = set()
        for device in self.devices:
            need(device.name, device.place, "places")
            for port in device.ports:
                need(f"{device.name}, {port.name}", port.network, "networks")
                ports.add(f"{device.id}/{port.id}")
        taken: dict[str, str] = {}
        for link in self.links:
            if isinstance(link, Stream):
                need(link.name, link.from_device, "devices")
                need(link.name, link.to_device, "devices")
                need(link.name, link.line, "uplinks")
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
        return self


COLLECTIONS = {
    "site": "sites",
    "place": "places",
    "uplink": "uplinks",
    "network": "networks",
    "device": "devices",
    "link": "links",
    "span": "spans",
    "router": "routers",
    "aim": "aims",
}
"""Where each noun lives in a plan."""
