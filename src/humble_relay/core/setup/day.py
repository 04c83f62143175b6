"""What of the set-up was seen today: ticks and pictures out of the log, less what was lost, changed, or is of another day."""

from collections.abc import Iterable
from datetime import date, datetime, timedelta, tzinfo
from typing import Literal, NamedTuple

from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import said_moment
from humble_relay.core.log.entries import AnyEntry, LostEntry, SeenEntry, WithdrawalEntry
from humble_relay.core.plan.setup_kinds import SettingLoss
from humble_relay.core.setup.items import ELSEWHERE
from humble_relay.core.setup.seen_pictures import SeenPicture, seen_pictures
from humble_relay.core.setup.setup_list import setup_list
from humble_relay.core.setup.step import SetupStep

StepState = Literal["seen", "implied", "carried", "open"]
"""Looked at today; shown by a picture of today; seen on an earlier day and not lost since; not seen."""
_DAY_BEGINS_H = 5
"""A show that goes past midnight is of the day it began on: days begin at five in the morning."""


class Sight(NamedTuple):
    """What the day knows of a step or a picture: its state, when it was seen and by whom, and why it is open again."""

    state: StepState
    at: datetime | None = None
    by: str = ""
    why: str = ""


class SetupDay(NamedTuple):
    """The day: every step and every picture by its id."""

    steps: dict[str, Sight]
    pictures: dict[str, Sight]


class _Said(NamedTuple):
    stamp: str
    at: datetime
    by: str
    picture: str
    """The picture that showed it; empty where it was looked at itself."""


def day_of(case: Case, log: Iterable[AnyEntry], now: datetime) -> SetupDay:
    """What of the plan's set-up was seen, as of a moment. A picture proves no more than what a picture shows, whatever an entry says."""
    said, lost = _said(case, log)
    clock = case.plan.show.clock
    shows = {s.id for s in setup_list(case) if s.shown_by == "picture"}

    def sight(id: str, stamp: str, lost_by: tuple[SettingLoss, ...]) -> Sight:
        found = said.get(id)
        if found is None or (found.picture and id in steps and id not in shows):
            return Sight("open", why=lost.get(id, ""))
        if found.stamp != stamp:
            return Sight("open", why=_OTHERWISE if found.by == ELSEWHERE else "changed since it was seen")
        if found.picture and id in steps and any(map(is_open, needs.get(found.picture, ()))):
            return Sight("open", why="the software may show its own camera: see first which it was told")
        if _day(found.at, clock) < _day(now, clock):
            if "new-day" in lost_by or "power-off" in lost_by:
                return Sight("open", why="a new day")
            return Sight("carried", found.at, found.by)
        return Sight("implied" if found.picture else "seen", found.at, found.by)

    def is_open(id: str) -> bool:
        return sight(id, steps[id].stamp, steps[id].lost_by).state == "open"

    needs = {picture_id(p): p.needs for p in seen_pictures(case)}
    steps: dict[str, SetupStep] = {s.id: s for s in setup_list(case)}
    return SetupDay(
        {s.id: sight(s.id, s.stamp, s.lost_by) for s in steps.values()},
        {p.id: sight(picture_id(p), p.stamp, _OF_TODAY) for p in seen_pictures(case)},
    )


_OTHERWISE = f"last set otherwise, for {ELSEWHERE}"
_OF_TODAY: tuple[SettingLoss, ...] = ("new-day", "power-off")
"""A picture is seen anew every day, and after whatever it comes through was off."""


def picture_id(picture: SeenPicture) -> str:
    """What a picture is called among the steps of an entry."""
    return f"picture:{picture.id}"


def _said(case: Case, log: Iterable[AnyEntry]) -> tuple[dict[str, _Said], dict[str, str]]:
    """What was last said of each step that still stands, and why others no longer do."""
    log = list(log)
    out: dict[str, bool] = {}
    for entry in log:
        if isinstance(entry, WithdrawalEntry):
            out[entry.body.of] = entry.body.withdrawn
    clock = case.plan.show.clock
    told = [e for e in log if isinstance(e, SeenEntry | LostEntry) and e.at and not out.get(e.id)]
    said, why = dict[str, _Said](), dict[str, str]()
    for entry in sorted(told, key=lambda e: (e.at, e.sequence or 0)):
        assert entry.at
        if isinstance(entry, SeenEntry):
            pictures = (x.step for x in entry.body.steps if x.step.startswith("picture:"))
            shows = next(pictures, "picture:") if entry.body.picture else ""
            for seen in entry.body.steps:
                why.pop(seen.step, None)
                if entry.body.right:
                    kept = said.get(seen.step)
                    # What was looked at itself is not turned into what a picture implies.
                    if not (entry.body.picture and kept and not kept.picture and kept.stamp == seen.stamp):
                        said[seen.step] = _Said(seen.stamp, entry.at, entry.role, shows)
                elif said.pop(seen.step, None):
                    why[seen.step] = "looked at, and wrong"
            continue
        for id in _lost_by(case, entry):
            if said.pop(id, None):
                why[id] = f"{_HOW[entry.body.how]} {said_moment(entry.at.astimezone(clock))}"
    return said, why


_HOW: dict[SettingLoss, str] = {
    "power-off": "its power was off,",
    "reconnecting": "it was plugged in anew,",
    "new-day": "a new day,",
    "firmware": "it has other firmware,",
    "reset": "it was reset,",
    "mode": "its mode was changed,",
    "away": "it was out of our hands,",
}


def _lost_by(case: Case, entry: LostEntry) -> list[str]:
    """The steps of a device that are lost so, and the pictures that come through it."""
    device, how = entry.body.device, entry.body.how
    steps = [s.id for s in setup_list(case) if s.device == device and (how in s.lost_by or how == "away")]
    through = [
        picture_id(p) for p in seen_pictures(case) if any(device in (hop.giver, hop.taker) for hop in p.hops)
    ]
    return [*steps, *through]


def _day(at: datetime, clock: tzinfo | None) -> date:
    return (at.astimezone(clock) - timedelta(hours=_DAY_BEGINS_H)).date()
