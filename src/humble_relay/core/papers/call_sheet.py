"""The call sheet: who is needed where, from when until when, and under which number."""

from collections.abc import Iterator
from datetime import datetime, timedelta

from humble_relay.core.catalogue.words import COMMS_MEANS_WORDS
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed, said_moment
from humble_relay.core.plan import CommsLink
from humble_relay.core.plan.comms import COMMS_KIND
from humble_relay.core.show.day_jobs import all_begun, day_jobs
from humble_relay.core.show.go_live_order import order

CALL_COLUMNS = ("Who", "What for", "At", "Needed from", "Needed until", "Telephone")


def call_lines(case: Case) -> Iterator[tuple[str, ...]]:
    """The rows: whom to call on the day, who sets up at each place, who is at the ends of the comms, who watches and reads along."""
    show = case.plan.show
    if show.call:
        yield show.call, "whatever goes wrong", "", "", "", ""
    for place, begins in _begun_at(case).items():
        people = round(case.figures["people"]) if place == _first_place(case) else 0
        who = f"{people} people" if people > 1 else "one person" if people else "crew"
        yield who, "set-up", case.places[place].name, _said(case, begins), "", ""
    at_air = _said(case, -case.figures["feed-lead"])
    over = _said(case, _over_min(case))
    for (who, telephone), comms in _people(case).items():
        places = dict.fromkeys(_place_name(case, c.to_device) for c in comms)
        what = listed(
            dict.fromkeys(
                f"{COMMS_KIND[c.kind]}{f', {COMMS_MEANS_WORDS[c.means]}' if c.means else ''}" for c in comms
            )
        )
        begins = min(
            _begun_at(case).get(case.devices[c.to_device].place or "", -case.figures["feed-lead"])
            for c in comms
        )
        yield who or "not known yet", what, listed(places), _said(case, begins), over, telephone
    for device in case.devices.values():
        how = device.ingest.publication if device.ingest else None
        if how and how.watched_by:
            yield how.watched_by, f"watches {device.name} as a viewer", "", at_air, over, ""
        if how and how.chat_by:
            yield how.chat_by, f"reads the chat on {device.name}", "", at_air, over, ""


def _people(case: Case) -> dict[tuple[str, str], list[CommsLink]]:
    found: dict[tuple[str, str], list[CommsLink]] = {}
    for comms in case.plan.comms:
        if comms.who or comms.telephone:
            found.setdefault((comms.who, comms.telephone), []).append(comms)
    return found


def _place_name(case: Case, device: str) -> str:
    place = case.devices[device].place or ""
    return case.places[place].name if place in case.places else case.devices[device].name


def _begun_at(case: Case) -> dict[str, float]:
    """When the first job at each place is begun, in min from the start."""
    found: dict[str, float] = {}
    when = all_begun(case)
    for day in day_jobs(case):
        if day.job.place in case.places:
            found[day.job.place] = min(found.get(day.job.place, 0.0), when[day.job.id].at)
    return dict(sorted(found.items(), key=lambda each: each[1]))


def _first_place(case: Case) -> str:
    return next(iter(_begun_at(case)), "")


def _over_min(case: Case) -> float:
    return max((t.minutes for t in order(case) if t.phase == "end"), default=0.0)


def _said(case: Case, minutes: float) -> str:
    starts: datetime | None = case.plan.show.starts_at
    if starts is None:
        return f"{abs(minutes):.0f} min {'before' if minutes < 0 else 'after'}"
    return said_moment((starts + timedelta(minutes=minutes)).astimezone(case.plan.show.clock))
