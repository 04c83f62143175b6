"""Look-ups over one plan and its survey, built once per report; rules and analyses read this."""

from collections import defaultdict
from collections.abc import Callable, Iterable
from datetime import datetime
from typing import Any, TypeVar, cast

from humble_relay.core.edits import Edit, apply
from humble_relay.core.gear import Model, library
from humble_relay.core.patience import Pulse, patient
from humble_relay.core.plan import Cable, Device, Network, Place, Plan, Port, Radio, Site, Stream, Uplink
from humble_relay.core.stock import Stock
from humble_relay.core.survey import Survey
from humble_relay.core.working import Figures

T = TypeVar("T")


class PlanIndex:
    """One plan, what was measured, and the moment it is judged as of.

    `survey` is what counts: measurements that the plan strikes out are not in it. `pulse` is felt between steps of
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
        self.plan, self.survey, self.stock, self.pulse = (
            plan,
            survey.without(set(plan.struck)),
            stock or Stock(),
            pulse,
        )
        self._whole_survey, self._asked_as_of = survey, as_of
        self.models: dict[str, Model] = {**library(), **{m.id: m for m in self.stock.models}}
        self.as_of = plan.show.judge_at or as_of
        self.figures = Figures(plan.settings.figures)
        self.sites: dict[str, Site] = {s.id: s for s in plan.sites}
        self.places: dict[str, Place] = {p.id: p for p in plan.places}
        self.uplinks: dict[str, Uplink] = {u.id: u for u in plan.uplinks}
        self.networks: dict[str, Network] = {n.id: n for n in plan.networks}
        self.devices: dict[str, Device] = {d.id: d for d in plan.devices}
        self.links = {link.id: link for link in plan.links}
        self.cables = [x for x in plan.links if isinstance(x, Cable)]
        self.streams = [x for x in plan.links if isinstance(x, Stream)]
        self.ports: dict[str, Port] = {f"{d.id}/{p.id}": p for d in plan.devices for p in d.ports}
        self.radios = [x for x in plan.links if isinstance(x, Radio)]
        self.joins: list[Cable | Radio] = [x for x in plan.links if not isinstance(x, Stream)]
        self.join_at: dict[str, Cable | Radio] = {}
        for join in self.joins:
            self.join_at[join.from_port] = self.join_at[join.to_port] = join
        self.streams_from: dict[str, list[Stream]] = defaultdict(list)
        self.streams_to: dict[str, list[Stream]] = defaultdict(list)
        for stream in self.streams:
            self.streams_from[stream.from_device].append(stream)
            self.streams_to[stream.to_device].append(stream)
        self._memo: dict[Callable[..., Any], Any] = {}
        self._broken: dict[Callable[..., Any], Exception] = {}

    def with_plan(self, plan: Plan) -> "PlanIndex":
        """The same question about another plan."""
        return PlanIndex(plan, self._whole_survey, self._asked_as_of, self.stock, self.pulse)

    def after(self, edits: Iterable[Edit]) -> "PlanIndex":
        """The same question after the edits. Raises EditRefused."""
        return self.with_plan(apply(self.plan, edits))

    def once(self, analysis: Callable[["PlanIndex"], T]) -> T:
        """The analysis of this plan, computed the first time it is asked for. One that broke breaks again at once."""
        if analysis in self._broken:
            raise self._broken[analysis]
        if analysis not in self._memo:
            self.pulse()
            try:
                self._memo[analysis] = analysis(self)
            except Exception as error:
                self._broken[analysis] = error
                raise
        return cast(T, self._memo[analysis])

    def device_of(self, port: str) -> Device:
        """The device a port belongs to."""
        return self.devices[port.split("/")[0]]

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
