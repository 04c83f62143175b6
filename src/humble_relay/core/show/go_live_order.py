"""The go-live order: what to do, when, counted back from the start; feed first, publish later."""

from collections.abc import Callable, Iterator
from datetime import datetime, timedelta
from typing import Literal

from humble_relay.core.egress.outbound import in_the_cloud
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import (
    HOLDS,
    Thing,
    Verdict,
    Words,
    doubtful,
)
from humble_relay.core.judging.case import Case, analysis
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.judging.working import Step, Working, number
from humble_relay.core.plan import SCREENS, Device
from humble_relay.core.plan.vocabulary import is_public, is_source
from humble_relay.core.signal.flow.propagation import flow
from humble_relay.core.uplinks.failover import SPARES, left_on_spare

Phase = Literal["ahead", "set up", "feed", "publish", "show", "end"]


class Task(Frozen):
    """One line of the order. `minutes` counts from the start of the show: before it is negative."""

    id: str
    phase: Phase
    minutes: float
    at: datetime | None
    what: str
    why: str
    lead: bool
    """Others need this long: late is late."""
    done: bool
    working: Working | None = None


@analysis
def order(case: Case) -> tuple[Task, ...]:
    """Every task in the order of time, derived from what the plan contains."""
    return tuple(sorted((*_ahead(case), *_on_the_day(case)), key=lambda t: t.minutes))


def _lead_times(case: Case) -> Iterator[tuple[Thing, Task]]:
    for task in _ahead(case):
        if task.lead and task.at is not None:
            yield Thing("show", task.id.replace(":", "-")), task


LEAD_TIMES: SubjectKind[Task] = SubjectKind("task that others need time for", _lead_times)


@check(
    "lead-time-missed", LEAD_TIMES, "brief", "Is there time left to begin it?", "common practice, no source"
)
def lead_time_missed(case: Case, task: Task) -> Verdict:
    """Whether a task that needs others' time is done, or can still be begun."""
    if task.done or task.at is None or case.as_of <= task.at:
        return HOLDS
    late = (case.as_of - task.at).total_seconds() / 3600
    begun = said_moment(task.at)
    return doubtful(
        lambda: Words(
            f"{task.what}: this had to be begun by {begun}, {late:.0f} h before the moment judged.",
            task.why,
            "Ask now whether it can still be had. If not, plan without it.",
            task.working,
        ),
        compared=(task.at,),
    )


CHECKS = (lead_time_missed,)


MakeTask = Callable[..., Task]


def _task(case: Case) -> MakeTask:
    """What makes a task of this show: its moment counted from the start, and whether it is ticked off."""
    show, done = case.plan.show, set(case.survey.done)

    def task(
        id: str,
        phase: Phase,
        minutes: float,
        what: str,
        why: str,
        lead: bool = False,
        working: Working | None = None,
    ) -> Task:
        at = show.starts_at and (show.starts_at + timedelta(minutes=minutes)).astimezone(show.clock)
        return Task.model_construct(
            id=id, phase=phase, minutes=minutes, at=at, what=what, why=why, lead=lead, done=id in done, working=working
        )  # fmt: skip

    return task


@analysis
def _ahead(case: Case) -> tuple[Task, ...]:
    """What has to be begun days before."""
    return tuple(_ahead_of_it(case, _task(case)))


def _ahead_of_it(case: Case, task: MakeTask) -> Iterator[Task]:
    venue = [s for s in case.sites.values() if s.run_by == "venue"]
    platforms = [d for d in case.devices.values() if d.ingest and case.streams_to.get(d.id)]

    def ahead(figure: str, margin_h: float = 0) -> tuple[float, Working]:
        hours = case.figures[figure] + margin_h
        steps = [case.figures.step(figure)]
        if margin_h:
            steps.append(case.figures.step("rehearse-lead"))
        steps.append(Step(name="Counted back from the start", value=-hours, unit="h"))
        return -hours * 60, Working(name="Begin by", value=hours, unit="h before", steps=tuple(steps))

    for site in venue:
        minutes, working = ahead("network-lead", case.figures["rehearse-lead"])
        yield task(
            f"ask-network:{site.id}", "ahead", minutes,
            f"Talk to the network department of {site.name}",
            "A port takes days to open, or is refused. Better known before the rehearsal than on the evening.",
            lead=True, working=working,
        )  # fmt: skip
    for platform in platforms:
        if platform.ingest and platform.ingest.new_account:
            minutes, working = ahead("account-lead")
            yield task(
                f"open-account:{platform.id}", "ahead", minutes,
                f"Ask {platform.name} to enable live streaming on the account",
                "A new account can wait a day before its first live stream. Nothing shortens it.",
                lead=True, working=working,
            )  # fmt: skip
    show = case.plan.show
    held = [
        s for s in show.sessions if s.kind == "rehearsal" and show.starts_at and s.starts_at < show.starts_at
    ]
    for n, rehearsal in enumerate(held):
        assert show.starts_at
        before = (rehearsal.starts_at - show.starts_at).total_seconds() / 60
        yield task(f"rehearse:{n + 1}", "ahead", before, f"Rehearsal, until {said_moment(rehearsal.ends_at.astimezone(show.clock))}: in the real place, with people in it",
                   "What was never tried does not work.")  # fmt: skip
    if held:
        return
    minutes, working = ahead("rehearse-lead")
    yield task("rehearse", "ahead", minutes, "Rehearse in the real place, at the real hour, with people in it",
               "What was never tried does not work.", working=working)  # fmt: skip


def _looked_at(taker: Device) -> str:
    title = ", title, the scheduled event" if is_public(taker) else ""
    return f"Look at the preview on {taker.name}: picture, sound{title}"


def _on_the_day(case: Case) -> Iterator[Task]:
    """What is done on the day, from the first box switched on to the last one off."""
    task, show = _task(case), case.plan.show
    to_platforms = {s.from_device for s in case.streams if case.devices[s.to_device].ingest}
    encoders = [d for d in case.devices.values() if d.id in to_platforms and not in_the_cloud(d)]
    sources = [d for d in case.devices.values() if is_source(d)]
    power, feed, preview, publish = (
        case.figures[f"{x}-lead"] for x in ("power", "feed", "preview", "publish")
    )
    if sources:
        names = ", ".join(d.name for d in sources)
        yield task(
            "power-on",
            "set up",
            -power,
            f"Power on and look at each source: {names}",
            "One at a time, so that the one that is missing is known.",
        )
    for i, device in enumerate(encoders):
        yield task(f"check-encoder:{device.id}", "set up", -power + 15 + i, f"Read the address off {device.name}; compare it with the address list",
                   "A device on the wrong network looks exactly like one that is off.")  # fmt: skip
    local = [s for s in case.streams if not case.devices[s.to_device].ingest]
    for i, stream in enumerate(local):
        source, sink = case.devices[stream.from_device].name, case.devices[stream.to_device].name
        yield task(f"join:{stream.id}", "set up", -power + 16 + i * min(0.5, 4 / len(local)), f"Start {stream.name} on {source}, and see it on {sink}",
                   "Two devices on two networks look like one that is off: better now than with the room full.")  # fmt: skip
    for i, device in enumerate(d for d in case.devices.values() if d.kind == "switcher"):
        yield task(f"bring-up:{device.id}", "set up", -power + 20.5 + i, f"Bring up each source on {device.name}: picture, name, its own sound off",
                   "An input that was never assigned looks exactly like a camera that is off.")  # fmt: skip
    for i, (_, spare) in enumerate(SPARES.each(case)):
        left, gap = left_on_spare(case, spare), spare.router.switch_s
        start = (
            ""
            if left is None or left >= spare.demand.total.value
            else f"; start again with no more than {number(left * 0.9)} Mb/s in all"
        )
        yield task(f"pull-the-cable:{spare.first if spare.first != spare.router.uplinks[0] else spare.router.id}", "set up", -feed - 12 + i, f"Pull the cable of {case.uplinks[spare.first].name}, and count until {case.uplinks[spare.next].name} carries{f': {gap:g} s as tried' if gap is not None else ''}{start}. Put it back, and see which line is used",
                   "A spare that was never switched to is not one, and some routers do not change back by themselves.")  # fmt: skip
    shown = [d for d in case.devices.values() if d.kind in SCREENS and flow(case).arriving[d.id]]
    for i, device in enumerate(shown):
        does = "Start recording on" if device.kind == "recorder" else "Look at"
        why = (
            "What was not recorded cannot be shown again."
            if device.kind == "recorder"
            else "The room that nobody at the desk can see is the one that stays dark."
        )
        at = -publish if device.kind == "recorder" else -feed
        yield task(
            f"see:{device.id}",
            "feed",
            at + i * min(1.0, 2 / len(shown)),
            f"{does} {device.name}: picture, and the sound that belongs to it",
            why,
        )
    pushes = [s for s in case.streams if case.devices[s.to_device].ingest]
    relayed = (preview + publish) / 2
    for i, stream in enumerate(pushes):
        sender, taker = case.devices[stream.from_device].name, case.devices[stream.to_device]

        def after(lead: float, until: float, i: int = i) -> float:
            """Minutes from the start: one destination a minute, closer together where they would run into what follows."""
            return -lead + i * min(1.0, max(0.0, lead - until) / len(pushes))

        if in_the_cloud(case.devices[stream.from_device]):  # its own preview comes first
            yield task(f"start-feed:{stream.id}", "publish", after(relayed, publish), f"Switch {taker.name} on, on {sender}: {stream.name}",
                       "What the relay gets was looked at: now it may go on.")  # fmt: skip
        else:
            yield task(f"start-feed:{stream.id}", "feed", after(feed, preview), f"Start the feed on {sender}: {stream.name}",
                       "This sends picture. It does not yet show it to anybody.")  # fmt: skip
        looked = preview if not in_the_cloud(case.devices[stream.from_device]) else relayed - 1
        yield task(f"preview:{stream.id}", "feed" if looked == preview else "publish", after(looked, publish), _looked_at(taker),
                   "Attached to the wrong event, the links already sent out lead nowhere." if is_public(taker) else "What is wrong here is wrong everywhere.")  # fmt: skip
        if is_public(taker):
            yield task(
                f"publish:{stream.id}",
                "publish",
                after(publish, 0),
                f"Go live on {taker.name}",
                "Starting the feed did not do this.",
            )
    yield task("start", "show", 0, f"{show.name} starts", "")
    length = (show.ends_at - show.starts_at).total_seconds() / 60 if show.starts_at and show.ends_at else 0
    if length > 0:
        yield task("over", "show", length, f"{show.name} ends", "")
    for i, stream in enumerate(case.streams):
        if is_public(case.devices[stream.to_device]):
            yield task(
                f"end-platform:{stream.id}",
                "end",
                max(length, 1) + 2 + i / 10,
                f"End the show on {case.devices[stream.to_device].name}",
                "First here, so that viewers see an end and not a stall.",
            )
        if case.devices[stream.to_device].ingest:
            yield task(
                f"stop-feed:{stream.id}",
                "end",
                max(length, 1) + 4 + i / 10,
                f"Stop the feed on {case.devices[stream.from_device].name}",
                "Then the encoder.",
            )
    for i, stream in enumerate(local):
        yield task(f"stop-stream:{stream.id}", "end", max(length, 1) + 5 + i / 10, f"Stop {stream.name} on {case.devices[stream.from_device].name}",
                   "A camera left sending fills the network, and its card, until a person comes by.")  # fmt: skip
    for i, device in enumerate(d for d in shown if d.kind == "recorder"):
        yield task(f"stop-recording:{device.id}", "end", max(length, 1) + 6 + i / 10, f"Stop recording on {device.name}, and wait until it has written",
                   "A card pulled too early holds a file that does not open.")  # fmt: skip
