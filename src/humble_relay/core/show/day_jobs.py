"""The jobs of the day up to going on air: what comes before what, how long each takes, and what is then to be seen."""

from collections import defaultdict
from collections.abc import Iterator
from functools import cache
from typing import Literal, NamedTuple

from humble_relay.core.egress.outbound import in_the_cloud
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.working import number
from humble_relay.core.places.distances import distance_m
from humble_relay.core.plan import SCREENS, Device
from humble_relay.core.plan.vocabulary import MIXERS, ends_of, is_public, is_source
from humble_relay.core.setup.setup_list import steps_by_device
from humble_relay.core.show.crew_schedule import Begun, Job, Walk, begun, without_circles
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.uplinks.failover import SPARES, left_on_spare

Phase = Literal["ahead", "set up", "feed", "publish", "show", "end"]
_DAY_BEFORE = ("charged",)
"""Steps that are seen to the day before."""


class DayJob(NamedTuple):
    """A job with its words. `aliases` are what it was called by before: who ticked it then has ticked it."""

    job: Job
    phase: Phase
    what: str
    why: str
    seen: str = ""
    aliases: tuple[str, ...] = ()
    device: str = ""
    """The device whose steps it is made of, where it is of one."""


@analysis
def day_jobs(case: Case) -> tuple[DayJob, ...]:
    """Every job between unloading and going on air; each waits only for jobs that there are."""
    found = {d.job.id: d for d in _jobs(case)}
    waited_for = {b for d in found.values() for b in d.job.after}
    before_the_feed = -case.figures["feed-lead"]
    made = []
    for day in found.values():
        job, after = day.job, tuple(dict.fromkeys(b for b in day.job.after if b in found))
        if after != job.after:
            job = job._replace(after=after)
        if job.by is None and job.id not in waited_for:  # nobody waits for it: it is done before the feed
            job = job._replace(by=before_the_feed - job.minutes)
        made.append(day if job is day.job else day._replace(job=job))
    # Two mixers may feed each other: a circle is cut where it closes.
    jobs = without_circles([day.job for day in made])
    return tuple(
        day if job is day.job else day._replace(job=job) for day, job in zip(made, jobs, strict=True)
    )


@analysis
def all_begun(case: Case) -> dict[str, Begun]:
    """When each of the jobs is begun by the people who set up, while none is done."""
    return begun([d.job for d in day_jobs(case)], round(case.figures["people"]), walk_of(case))


@analysis
def walk_of(case: Case) -> Walk:
    """Minutes from one place to another: their distance at walking speed and a minute a floor; where nobody knows it, a few; between two
    sites none, for each has people of its own."""
    speed, floor, unknown = (case.figures[f] for f in ("walk-speed", "floor-minutes", "walk-unknown"))

    @cache
    def walk(a: str, b: str) -> float:
        one, other = case.places.get(a), case.places.get(b)
        if a == b or one is None or other is None or one.site != other.site:
            return 0.0
        metres = distance_m(case, a, b)
        floors = abs((one.floor or 0) - (other.floor or 0))
        return (unknown if metres is None else metres / speed) + floors * floor

    return walk


def _jobs(case: Case) -> Iterator[DayJob]:
    yield from _rigging(case)
    yield from _setting(case)
    yield from _joining(case)
    yield from _sending(case)


def _here(case: Case, device: Device) -> tuple[str, str]:
    """The place of a device, and the crew that is there: of the desk's site the show's own."""
    place = device.place or ""
    site = case.places[place].site if place in case.places else ""
    return place, "" if not site or site == _desk_site(case) else site


@analysis
def _desk_site(case: Case) -> str:
    desk = next((d for d in case.devices.values() if d.kind in MIXERS and d.place in case.places), None)
    return (
        case.places[desk.place].site
        if desk and desk.place
        else next((p.site for p in case.places.values()), "")
    )


def _job(
    case: Case, device: Device, id: str, minutes: float, after: tuple[str, ...] = (), by: float | None = None
) -> Job:
    place, crew = _here(case, device)
    return Job(id, minutes, place, after, by, crew)


@analysis
def rig_of(case: Case) -> dict[str, str]:
    """The rigging job of each cable: all that lie between the same two places are laid together."""
    found = {}
    for cable in case.cables:
        places = sorted({case.devices[d].place or "" for d in ends_of(cable)})
        found[cable.id] = "rig:" + ":".join(p or "-" for p in places)
    return found


def _rigging(case: Case) -> Iterator[DayJob]:
    """Cables laid between places and plugged in at each; cameras put up."""
    together: dict[str, list[str]] = defaultdict(list)
    for cable, job in rig_of(case).items():
        together[job].append(cable)
    for id, cables in together.items():
        ends = [case.devices[d] for d in ends_of(case.links[cables[0]])]
        names = list(
            dict.fromkeys(case.places[d.place].name if d.place in case.places else "the gear" for d in ends)
        )
        far = distance_m(case, ends[0].place, ends[1].place) if ends[0].place and ends[1].place and len(names) > 1 else None  # fmt: skip
        metres = sum(getattr(case.links[c], "length_m", None) or far or 2 for c in cables)
        minutes = max(float(len(cables)), metres / case.figures["lay-speed"])
        count = f"{len(cables)} cable{'s' * (len(cables) > 1)}"
        what = f"Lay {count} from {names[0]} to {names[1]}, {number(round(metres))} m" if len(names) > 1 else f"Plug in {count} at {names[0]}"  # fmt: skip
        yield DayJob(
            _job(case, ends[0], id, minutes), "set up", what,
            "Outdoors and across ways: covered, strained, out of the wet." if len(names) > 1 else "By the patch list, plug by plug.",
            "both ends plugged in, each with its label",
        )  # fmt: skip
    for device in case.devices.values():
        if device.kind == "camera" and device.place and _in_use(case, device):
            yield DayJob(
                _job(case, device, f"stand:{device.id}", case.figures["camera-minutes"]), "set up",
                f"Put up {device.name}: framed, white balanced", "What stands late is framed on air.", "its picture on its own screen",
            )  # fmt: skip


@analysis
def _linked(case: Case) -> frozenset[str]:
    return frozenset(end for link in case.links.values() for end in ends_of(link))


def _in_use(case: Case, device: Device) -> bool:
    return device.id in _linked(case)


def _setting(case: Case) -> Iterator[DayJob]:
    """Power on; then each device set as the set-up list says, once it is plugged in."""
    sources = [d for d in case.devices.values() if is_source(d) and _in_use(case, d)]
    if sources:
        names = ", ".join(d.name for d in sources)
        yield DayJob(
            _job(case, sources[0], "power-on", case.figures["look-minutes"], tuple(j for d in sources for j in (f"stand:{d.id}", *_own_rigs(case, d.id)))), "set up",
            f"Power on and look at each source: {names}", "One at a time, so that the one that is missing is known.", "each on its own screen",
        )  # fmt: skip
    for id, steps in steps_by_device(case).items():
        device = case.devices[id]
        minutes = sum(s.minutes for s in steps if s.kind not in _DAY_BEFORE)
        if not minutes:
            continue
        after = (f"stand:{id}", *_own_rigs(case, id))
        yield DayJob(
            _job(case, device, f"set:{id}", minutes, after), "set up",
            f"Set {device.name}: {', '.join(dict.fromkeys(s.says for s in steps if s.kind not in _DAY_BEFORE))}",
            "By the set-up list: a device that was never set looks exactly like one that is off.", "each step as the list says",
            (f"check-encoder:{id}",), id,
        )  # fmt: skip


def _before(case: Case, device: str) -> tuple[str, ...]:
    """The jobs that a picture at a device waits for: all that lies before it is laid, put up and set; beyond a mixer, that it is brought up."""
    return _jobs_before(case)[device]


@analysis
def _jobs_before(case: Case) -> dict[str, tuple[str, ...]]:
    into: dict[str, list[str]] = defaultdict(list)
    for link in case.links.values():
        into[ends_of(link)[1]].append(link.id)
    found = {}
    for id in case.devices:
        jobs, stack, seen = {f"set:{id}": None, **dict.fromkeys(_own_rigs(case, id))}, [id], {id}
        while stack:
            for id_of_link in into[stack.pop()]:
                giver = ends_of(case.links[id_of_link])[0]
                if giver in seen:
                    continue
                seen.add(giver)
                if _is_brought_up(case, giver):
                    jobs[f"bring-up:{giver}"] = None
                    continue
                jobs |= dict.fromkeys((f"set:{giver}", f"stand:{giver}", *_own_rigs(case, giver)))
                stack.append(giver)
        found[id] = tuple(jobs)
    return found


def _own_rigs(case: Case, device: str) -> tuple[str, ...]:
    return _rigs_at(case).get(device, ())


@analysis
def _rigs_at(case: Case) -> dict[str, tuple[str, ...]]:
    found: dict[str, dict[str, None]] = defaultdict(dict)
    for cable, job in rig_of(case).items():
        for end in ends_of(case.links[cable]):
            found[end][job] = None
    return {device: tuple(jobs) for device, jobs in found.items()}


def _is_brought_up(case: Case, device: str) -> bool:
    return case.devices[device].kind in MIXERS and bool(flow(case).arriving[device])


def _joining(case: Case) -> Iterator[DayJob]:
    """Streams started before anybody looks for them; then each mixer's sources, one by one; then the screens."""
    look = case.figures["look-minutes"]
    local = [s for s in case.streams if not case.devices[s.to_device].ingest]
    for stream in local:
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        # A mixer is brought up source by source: its streams are there before.
        at_taker = (f"set:{taker.id}", *_own_rigs(case, taker.id))
        yield DayJob(
            _job(case, taker, f"join:{stream.id}", look, (*_before(case, sender.id), *at_taker, "power-on")), "set up",
            f"Start {stream.name} on {sender.name}, and see it on {taker.name}",
            "Two devices on two networks look like one that is off: better now than with the room full.", "its picture at the other end",
        )  # fmt: skip
    for device in case.devices.values():
        if _is_brought_up(case, device.id):
            joins = (f"join:{s.id}" for s in case.streams_to.get(device.id, ()))
            yield DayJob(
                _job(case, device, f"bring-up:{device.id}", look * len(flow(case).arriving[device.id]), ("power-on", *_before(case, device.id), *joins)), "set up",
                f"Bring up each source on {device.name}: picture, name, its own sound off",
                "An input that was never assigned looks exactly like a camera that is off.", "every tile of the multi-view",
            )  # fmt: skip
    for device in case.devices.values():
        if device.kind in SCREENS and flow(case).arriving[device.id]:
            records = device.kind == "recorder"
            joins = (
                f"join:{s.id}"
                for s in local
                if s.to_device == device.id or f"set:{s.to_device}" in _before(case, device.id)
            )
            yield DayJob(
                _job(case, device, f"see:{device.id}", 1.0, (*_before(case, device.id), *joins),
                     -case.figures["publish-lead" if records else "feed-lead"]), "feed",
                f"{'Start recording on' if records else 'Look at'} {device.name}: picture, and the sound that belongs to it",
                "What was not recorded cannot be shown again." if records else "The room that nobody at the desk can see is the one that stays dark.",
                "the time left on its card" if records else "picture, and sound with it",
            )  # fmt: skip


def _sending(case: Case) -> Iterator[DayJob]:
    """Failover tried, the feed started and looked at, the relay's own destinations after its preview; at last published."""
    feed, preview, publish = (case.figures[f"{x}-lead"] for x in ("feed", "preview", "publish"))
    look, drill = case.figures["look-minutes"], case.figures["drill-minutes"]
    pushes = [s for s in case.streams if case.devices[s.to_device].ingest]
    drills = []
    for _, spare in SPARES.each(case):
        left, gap = left_on_spare(case, spare), spare.router.switch_s
        enough = left is None or left >= spare.demand.total.value
        start = "" if enough else f"; start again with no more than {number((left or 0) * 0.9)} Mb/s in all"
        id = f"pull-the-cable:{spare.first if spare.first != spare.router.uplinks[0] else spare.router.id}"
        drills.append(id)
        senders = tuple(j for s in pushes if not in_the_cloud(case.devices[s.from_device]) for j in _before(case, s.from_device))  # fmt: skip
        tried = f": {gap:g} s as tried" if gap is not None else ""
        yield DayJob(
            Job(id, drill, _desk_place(case), senders), "set up",
            f"Pull the cable of {case.uplinks[spare.first].name}, and count until {case.uplinks[spare.next].name} carries{tried}{start}. Put it back, and see which line is used",
            "A spare that was never switched to is not one, and some routers do not change back by themselves.", "the stream comes back, at first in lower quality",
        )  # fmt: skip
    for n, stream in enumerate(pushes):
        sender, taker = case.devices[stream.from_device], case.devices[stream.to_device]
        relayed = in_the_cloud(sender)
        incoming = tuple(f"preview:{s.id}" for s in pushes if s.to_device == sender.id)
        if relayed:  # its own preview comes first
            yield DayJob(
                Job(f"start-feed:{stream.id}", 1.0, _desk_place(case), (*incoming, f"set:{sender.id}"), _apart(n, len(pushes), (preview + publish) / 2, publish)), "publish",
                f"Switch {taker.name} on, on {sender.name}: {stream.name}", "What the relay gets was looked at: now it may go on.", f"{taker.name} connected",
            )  # fmt: skip
        else:
            yield DayJob(
                _job(case, sender, f"start-feed:{stream.id}", 1.0, (*_before(case, sender.id), f"set:{taker.id}", *drills), _apart(n, len(pushes), feed, preview)), "feed",
                f"Start the feed on {sender.name}: {stream.name}", "This sends picture. It does not yet show it to anybody.", "its bitrate, steady",
            )  # fmt: skip
        looked = (preview + publish) / 2 - 1 if relayed else preview
        how = taker.ingest.publication if taker.ingest else None
        title = ", title, the scheduled event" if is_public(taker) else ""
        title += f". {how.note}" if how and how.note else ""
        yield DayJob(
            Job(f"preview:{stream.id}", look, _desk_place(case), (f"start-feed:{stream.id}", f"set:{taker.id}"), _apart(n, len(pushes), looked, publish)), "publish" if relayed else "feed",
            f"Look at the preview on {taker.name}: picture, sound{title}",
            "Attached to the wrong event, the links already sent out lead nowhere." if is_public(taker) else "What is wrong here is wrong everywhere.",
            "its picture, as late as it always is",
        )  # fmt: skip
        if is_public(taker):
            yield DayJob(
                Job(f"publish:{stream.id}", 1.0, _desk_place(case), (f"preview:{stream.id}",), _apart(n, len(pushes), publish, 0)), "publish",
                f"Go live on {taker.name}", "Starting the feed did not do this.", "live, as a viewer sees it",
            )  # fmt: skip


def _apart(n: int, of: int, lead: float, until: float) -> float:
    """When the n-th destination is seen to: one a minute, closer together where they would run into what follows."""
    return -lead + n * min(1.0, max(0.0, lead - until) / of)


@analysis
def _desk_place(case: Case) -> str:
    return next((d.place or "" for d in case.devices.values() if d.kind in MIXERS and d.place), "")
