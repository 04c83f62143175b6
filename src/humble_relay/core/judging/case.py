"""The case that is judged: a plan, what was found, the stock, and the moment; with the look-ups that analyses read."""

from collections import defaultdict
from collections.abc import Callable, Hashable, Iterable
from datetime import datetime
from functools import lru_cache, wraps
from threading import RLock
from typing import Any, Protocol, TypeVar, cast

from humble_relay.core.catalogue.gear import Model, library
from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.judging.found import found_over, typed_over, with_entries
from humble_relay.core.judging.implied import with_implied
from humble_relay.core.judging.working import Figures
from humble_relay.core.patience import Pulse, Stopped, patient
from humble_relay.core.plan import (
    NOUNS,
    Cable,
    Device,
    Link,
    Network,
    Place,
    Plan,
    Port,
    Radio,
    Router,
    Site,
    Span,
    Stream,
    Uplink,
)
from humble_relay.core.plan.edits import Edit
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.survey import Fact, Measurement, Survey
from humble_relay.core.plan.vocabulary import PICTURE_CABLES, is_lan_socket

T = TypeVar("T")
K = TypeVar("K", bound=Hashable)


class HasId(Protocol):
    """A thing that a plan keeps in a collection."""

    @property
    def id(self) -> str:
        """Its id."""


N = TypeVar("N", bound=HasId)


class Case:
    """One plan, what was measured, and the moment it is judged as of.

    `survey` is what counts: what was withdrawn is not in it. `pulse` is felt between steps of
    long work, and may raise Stopped.
    """

    def __init__(
        self,
        plan: Plan,
        survey: Survey,
        as_of: datetime,
        stock: Stock | None = None,
        pulse: Pulse = patient,
    ) -> None:
        self.survey = survey.standing()
        self.intended, self.found = plan, found_over(plan, self.survey)
        self.plan = with_implied(self.found)
        self.stock, self.pulse = stock or Stock(), pulse
        if not plan.settings.takes_stock:
            self.stock = Stock(models=self.stock.models)
        plan = self.plan
        self.whole_survey, self._asked_as_of = survey, as_of
        self.models: dict[str, Model] = {**library(), **{m.id: m for m in self.stock.models}}
        self.as_of = plan.show.judge_at or as_of
        self.figures = Figures(plan.settings.figures)
        self.sites, self.places = self.by_id(Site), self.by_id(Place)
        self.uplinks, self.networks = self.by_id(Uplink), self.by_id(Network)
        self.devices = self.by_id(Device)
        self.span_between: dict[frozenset[str], Span] = {frozenset((x.a, x.b)): x for x in plan.spans}
        self.router_of: dict[str, Router] = {n: r for r in plan.routers for n in r.networks}
        self.links = {link.id: link for link in plan.links}
        self.cables = [x for x in plan.links if x.kind == "cable"]
        self.streams = [x for x in plan.links if x.kind == "stream"]
        self.ports: dict[str, Port] = {}
        self._device_of_port: dict[str, Device] = {}
        for device in plan.devices:
            refs = {f"{device.id}/{p.id}": p for p in device.ports}
            self.ports.update(refs)
            self._device_of_port.update(dict.fromkeys(refs, device))
        self.lan_cables = {c.id: c for c in self.cables if self._joins_sockets(c)}
        self.radios = [x for x in plan.links if x.kind == "radio"]
        self.joins: list[Cable | Radio] = [x for x in plan.links if x.kind != "stream"]
        self.join_at: dict[str, Cable | Radio] = {}
        for join in self.joins:
            self.join_at[join.from_port] = self.join_at[join.to_port] = join
        self.streams_from: dict[str, list[Stream]] = defaultdict(list)
        self.streams_to: dict[str, list[Stream]] = defaultdict(list)
        for stream in self.streams:
            self.streams_from[stream.from_device].append(stream)
            self.streams_to[stream.to_device].append(stream)
        self.measured: dict[str, list[Measurement]] = {id: [] for id in self.uplinks}
        """What was measured on each line, in the order of time."""
        for m in sorted(self.survey.measurements, key=lambda m: m.at):
            if m.uplink in self.measured:
                self.measured[m.uplink].append(m)
        self.known: dict[Callable[..., Any], Any] = {}
        self._broken: dict[Callable[..., Any], Exception] = {}
        self._computing = RLock()

    def with_plan(self, plan: Plan) -> "Case":
        """The same question about another plan."""
        return Case(plan, self.whole_survey, self._asked_as_of, self.stock, self.pulse)

    def after(self, edits: Iterable[Edit]) -> "Case":
        """The same question after the edits; those of fields that found values are laid over correct what was found. Raises EditRefused."""
        over, of_plan = typed_over(self.whole_survey, edits, self._asked_as_of)
        survey = with_entries(self.whole_survey, over)
        return Case(apply(self.intended, of_plan), survey, self._asked_as_of, self.stock, self.pulse)

    def by_id(self, kind: type[N]) -> dict[str, N]:
        """The things of a kind that the plan has, by their ids."""
        return _by_id(x for x in getattr(self.plan, _collection_of(kind)) if isinstance(x, kind))

    def once(self, computed: Callable[["Case"], T]) -> T:
        """An analysis of this plan, computed the first time it is asked for, by whichever thread asks first. One that broke
        breaks again at once."""
        if computed in self.known:
            return cast(T, self.known[computed])
        with self._computing:
            if computed in self._broken:
                raise self._broken[computed]
            if computed not in self.known:
                self.pulse()
                try:
                    self.known[computed] = computed(self)
                except Stopped:
                    raise  # nothing is wrong with it: the next request may wait longer
                except Exception as error:
                    self._broken[computed] = error
                    raise
        return cast(T, self.known[computed])

    def fact(self, noun: str, thing: str, quantity: str) -> Fact | None:
        """The newest fact found about a quantity of a thing."""
        found = (f for f in self.survey.facts if (f.noun, f.thing, f.quantity) == (noun, thing, quantity))
        return max(
            reversed(list(found)), key=lambda f: f.at, default=None
        )  # of two at one time, the later one

    def _joins_sockets(self, cable: Cable) -> bool:
        refs = (cable.from_port, cable.to_port)
        ends = [self.ports[ref] for ref in refs]
        if cable.cable in ("usb2", "usb3"):  # a tether: data, and no picture
            return all(p.way == "both" for p in ends) or any(self.device_of(r).kind == "router" for r in refs)
        return cable.cable == "ethernet" or (cable.cable == "fibre" and all(map(is_lan_socket, ends)))

    def brings_picture(self, link: Link) -> bool:
        """Whether a link is one that a picture runs over, broken or not: no network or audio cable."""
        return link.kind != "cable" or (link.cable in PICTURE_CABLES and link.id not in self.lan_cables)

    def device_of(self, port: str) -> Device:
        """The device a port belongs to."""
        return self._device_of_port[port]

    def port_name(self, ref: str) -> str:
        """Device and port in words, as printed on a label."""
        return f"{self.device_of(ref).name}, {self.ports[ref].name}"

    def other_end(self, ref: str) -> str | None:
        """The port at the far end of the cable or radio link on this port."""
        join = self.join_at.get(ref)
        if join is None:
            return None
        return join.to_port if join.from_port == ref else join.from_port

    def network_ports(self, device: Device) -> list[tuple[str, Port]]:
        """The device's IP ports that are on a network."""
        return [(f"{device.id}/{p.id}", p) for p in device.ports if p.network]

    def uplink_of(self, network: str | None) -> str | None:
        """The uplink a network's traffic leaves by first: its router's; None where it leaves by none."""
        router = self.router_of.get(network or "")
        return router.uplinks[0] if router and router.uplinks else None

    def site_of(self, device: Device) -> Site | None:
        """The site a device stands in, through its place."""
        place = self.places.get(device.place or "")
        return self.sites[place.site] if place else None

    def link_name(self, id: str) -> str:
        """A link in words."""
        link = self.links.get(id)
        if link is None:
            return id
        if isinstance(link, Stream):
            return link.name
        return f"{self.port_name(link.from_port)} to {self.port_name(link.to_port)}"


def analysis(computed: Callable[[Case], T]) -> Callable[[Case], T]:
    """Makes a function of the case one that is computed once a case, however often it is called."""

    @wraps(computed)
    def once(case: Case) -> T:
        try:
            return cast(T, case.known[computed])
        except KeyError:
            pass
        return case.once(computed)

    return once


def analysis_of_each(computed: Callable[[Case, K], T]) -> Callable[[Case, K], T]:
    """Makes a function of the case and an id, or another key, one that is computed once for each, however often it is called."""

    @wraps(computed)
    def once(case: Case, key: K) -> T:
        known: dict[K, T] = case.known.setdefault(computed, {})
        if key not in known:
            known[key] = computed(case, key)
        return known[key]

    return once


@lru_cache(maxsize=64)
def _collection_of(kind: type) -> str:
    return next(row.collection for row in NOUNS.values() if kind.__name__ in {k.__name__ for k in row.kinds})


def _by_id(things: Iterable[N]) -> dict[str, N]:
    return {thing.id: thing for thing in things}
