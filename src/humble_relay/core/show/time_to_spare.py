"""How much time is left over before the start, with what is still to be done; and where it is short, the remedy."""

from collections.abc import Collection
from datetime import datetime, timedelta
from math import ceil
from typing import NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.judging.working import number
from humble_relay.core.plan.vocabulary import ends_of, is_source
from humble_relay.core.setup.day import SetupDay
from humble_relay.core.setup.seen_pictures import seen_pictures
from humble_relay.core.setup.setup_list import steps_by_device
from humble_relay.core.show.crew_schedule import Begun, Job, begun
from humble_relay.core.show.day_jobs import all_begun, day_jobs, rig_of, walk_of


class TimeToSpare(NamedTuple):
    """What is left to do, when each of it is begun, and what that leaves."""

    done: frozenset[str]
    """The jobs that are done: ticked, or shown to be by what was seen."""
    when: dict[str, Begun]
    """When the others are begun, in min from the start."""
    spare_min: float | None
    """Below zero: short. None where the show has no start, or all is done."""
    says: str


_LONG = 18 * 60.0
"""With more than this to spare it is said when it begins, and not how long there is, in min."""


def time_to_spare(case: Case, day: SetupDay, now: datetime) -> TimeToSpare:
    """The time left over as of a moment, for as many people as set up (figure `people`)."""
    done = done_jobs(case, day)
    left = [d.job for d in day_jobs(case) if d.job.id not in done]
    when = all_begun(case) if not done else _begun(case, left)
    starts = case.plan.show.starts_at
    if not left:
        return TimeToSpare(done, when, None, "Everything up to going on air is done.")
    if starts is None:
        return TimeToSpare(done, when, None, "When the show starts is not known yet.")
    at = (now - starts).total_seconds() / 60
    spare = min(b.at for b in when.values()) - at
    if at >= 0:
        return TimeToSpare(done, when, spare, "The show has begun.")
    if spare > _LONG:
        first = starts + timedelta(minutes=min(b.at for b in when.values()))
        return TimeToSpare(
            done, when, spare, f"Begin by {said_moment(first.astimezone(case.plan.show.clock))}"
        )
    if spare >= 0:
        return TimeToSpare(done, when, spare, f"{number(spare // 1)} min to spare")
    return TimeToSpare(done, when, spare, _remedy(case, left, at, -spare, starts))


def done_jobs(case: Case, day: SetupDay) -> frozenset[str]:
    """The jobs that are done: those that were ticked, and those that what was seen today shows to be."""
    ticked = set(case.survey.done)
    done = {d.job.id for d in day_jobs(case) if not ticked.isdisjoint((d.job.id, *d.aliases))}
    done |= {
        f"set:{device}"
        for device, steps in steps_by_device(case).items()
        if all(day.steps[s.id].state != "open" for s in steps)
    }
    pictures = seen_pictures(case)
    seen = [p for p in pictures if day.pictures[p.id].state != "open"]
    for picture in seen:
        for hop in picture.hops:
            done |= {
                f"stand:{hop.giver}",
                f"join:{hop.link}",
                f"start-feed:{hop.link}",
                f"preview:{hop.link}",
            }
        done.add(f"see:{picture.device}")
    waiting = {p.device for p in pictures if day.pictures[p.id].state == "open"}
    done |= {f"bring-up:{p.device}" for p in seen if p.device not in waiting}
    shown = {hop.link for picture in seen for hop in picture.hops}
    rigs = rig_of(case)
    done |= set(rigs.values()) - {job for cable, job in rigs.items() if cable not in shown}
    return frozenset(done)


def _begun(case: Case, left: list[Job]) -> dict[str, Begun]:
    return begun(left, round(case.figures["people"]), walk_of(case)) if left else {}


def _remedy(case: Case, left: list[Job], at: float, short: float, starts: datetime) -> str:
    """How much is missing, and the remedy: one source less, or a later start."""
    later = (starts + timedelta(minutes=ceil(short - 0.02))).astimezone(case.plan.show.clock)
    later += timedelta(minutes=-later.minute % 5, seconds=-later.second, microseconds=-later.microsecond)
    ways = []
    for device in case.devices.values():
        if not is_source(device) or device.id not in {
            end for link in case.links.values() for end in ends_of(link)
        }:
            continue
        rest = [job for job in left if job.id not in _only_of(case, device.id)]
        if rest and len(rest) < len(left):
            spare = min(b.at for b in _begun(case, rest).values()) - at
            if spare >= 0:
                ways.append((spare, device.name))
    drop = f"drop {min(ways)[1]}, or " if ways else ""
    return f"{number(ceil(short - 0.02))} min short: {drop}start at {later:%H:%M}"


def _only_of(case: Case, device: str) -> Collection[str]:
    """The jobs that are there for one device alone."""
    of_it: dict[str, set[bool]] = {}
    for cable, job in rig_of(case).items():
        of_it.setdefault(job, set()).add(device in ends_of(case.links[cable]))
    joins = (f"join:{s.id}" for s in case.streams if device in (s.from_device, s.to_device))
    return {
        f"stand:{device}",
        f"set:{device}",
        *joins,
        *(job for job, mine in of_it.items() if mine == {True}),
    }
