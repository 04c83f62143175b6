"""What is to be set, and what a picture proves: ten shows by hand, and drawn ones in which one setting is wrong."""

import random
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from ipaddress import ip_address, ip_interface
from urllib.parse import urlsplit

import pytest

from humble_relay.core.catalogue.gear import from_library
from humble_relay.core.judging.case import Case
from humble_relay.core.log.entries import (
    AnyEntry,
    LostEntry,
    SeenEntry,
    SettingsLost,
    SetupSeen,
    Withdrawal,
    WithdrawalEntry,
)
from humble_relay.core.plan.edits import Edit, added
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.vocabulary import ends_of
from humble_relay.core.setup.day import day_of
from humble_relay.core.setup.seen_pictures import seen_pictures
from humble_relay.core.setup.setup_list import setup_list
from humble_relay.core.setup.step import SetupStep
from humble_relay.core.views.setup_view import setup_view
from humble_relay.demo import demo_plan
from humble_relay.examples import example_plan, examples
from tests.build import put, put_port, small_show
from tests.shows import wire
from tests.soak import of_many
from tests.variants import sound

NOON = datetime(2026, 9, 19, 12, tzinfo=UTC)


def case_of(show: str) -> Case:
    return Case((demo_plan() if show == "demo" else example_plan(show)).plan, Survey(), NOON)


MIXER = {"clock", "system-format", "input-on:in-1", "input-on:in-2", "sound-level:sound", "carries:multi"}
PUSH = {"clock", "password"}
# What each account of the work names, and nothing that its plan does not need (common practice, no source).
TEN: dict[str, dict[str, set[str]]] = {
    "phone-through-a-browser": {  # which browser, which lens, lying or upright; the link that sends; the size; the reload
        "phone": {"charged", "lens:phone-to-laptop", "guest-link:phone-to-laptop"},
        "laptop": {"system-format", "assigned:net-1", "profile:laptop-to-alder", "source-size:phone-to-laptop", "source-reloads:phone-to-laptop"},
        "alder": {"login", "event"},
    },
    "decoder-in-the-loft": {  # the settings file; the output's format, or that screen stays dark
        "switcher": MIXER | {"carries:clean"},
        "camera-1": {"charged", "muted"}, "camera-2": {"muted"},
        "encoder": PUSH | {"profile:encoder-to-alder"}, "alder": {"login", "event"},
        "sender": {"password", "input-type:in", "settings-file:sender-to-decoder"},
        "decoder": {"password", "remote-admin", "named", "output-format:hdmi", "network:lan", "settings-file:sender-to-decoder"},
    },
    "four-kinds-of-camera": {  # RTSP switched on; user and password, or none; the address read off its screen
        "recorder-streamer": {"clock", "password", "system-format", "sound-level:sound", "carries:multi", "network:lan", "assigned:in-6", "profile:recorder-streamer-to-alder", "substream:wide-to-recorder-streamer", "credentials:wide-to-recorder-streamer"} | {f"input-on:in-{n}" for n in (1, 2, 6, 8)},
        "camera-1": {"charged", "muted"}, "camera-2": {"muted", "menus-off:hdmi", "output-mode:hdmi"}, "camera-3": {"muted"},
        "wide": {"password", "muted", "comes-back", "network:lan", "stream-on:wide-to-recorder-streamer"},
        "alder": {"login", "event"},
    },
    "two-platforms-by-a-relay": {  # one push; the relay's own destinations; attached to the event
        "switcher": MIXER, "camera-1": {"charged", "muted"}, "camera-2": {"muted"},
        "encoder": PUSH | {"profile:encoder-to-millrace"},
        "millrace": {"login", "profile:millrace-to-alder", "profile:millrace-to-birch"},
        "alder": {"login", "event"}, "birch": {"login", "event"},
    },
    "action-camera-by-wifi": {  # leftover Bluetooth, stabilisation, the server proven first
        "pebble": {"charged", "bluetooth-off", "stabilisation", "profile:pebble-to-server"},
        "server": {"network:lan", "server-on:pebble-to-server"},
        "laptop": {"system-format", "assigned:net-1", "profile:laptop-to-alder"},
        "alder": {"login", "event"},
    },
    "camera-on-a-pole": {  # RTSP off until enabled, main or sub, a computer's firewall, back by itself after a power cut
        "hide": {"password", "comes-back", "network:lan", "stream-on:hide-to-laptop"},
        "laptop": {"system-format", "assigned:net-1", "profile:laptop-to-alder", "substream:hide-to-laptop", "credentials:hide-to-laptop", "firewall:hide-to-laptop"},
        "alder": {"login", "event"},
    },
    "hardware-switcher": {  # date and time, system format, inputs told, the card, the password, newer firmware
        "switcher": MIXER | {"firmware", "password", "input-on:in-4", "input-type:in-4", "network:control", "network:stream", "profile:switcher-to-alder"},
        "camera-3": {"muted", "menus-off:hdmi", "output-mode:hdmi"},
        "alder": {"login", "event"}, "card-recorder": {"clock", "card"},
    },
    "network-camera-input": {  # the file carried to the camera; then the input assigned, or nothing appears
        "switcher": (MIXER - {"input-on:in-2"}) | {"firmware", "password", "input-on:in-7", "input-type:in-7", "assigned:in-7", "network:stream", "settings-file:roving-to-switcher"},
        "camera-1": {"charged", "muted"}, "roving": {"firmware", "muted", "settings-file:roving-to-switcher"},
        "encoder": PUSH | {"profile:encoder-to-alder"}, "alder": {"login", "event"},
    },
    "overflow-rooms": {  # each named after its room, remote configuration off
        "switcher": MIXER, "camera-1": {"charged", "muted"}, "camera-2": {"muted"},
        "encoder": PUSH | {"profile:encoder-to-alder"}, "alder": {"login", "event"},
        "program-sender": {"input-type:in", "network:lan"} | {f"stream-on:program-sender-to-{room}-decoder" for room in ("net-loft", "sail-store")},
        **{f"{room}-decoder": {"password", "remote-admin", "named", "output-format:hdmi", f"assigned:program-sender-to-{room}-decoder"} for room in ("net-loft", "sail-store")},
    },
    "wide-and-vertical": {  # orientation is fixed when the event is made; the picture shrunk into the canvas
        "switcher": MIXER, "camera-1": {"charged", "muted"}, "camera-2": {"muted"},
        "encoder": PUSH | {"profile:encoder-to-alder"}, "alder": {"login", "event", "orientation"},
        "upright": PUSH | {"firmware", "profile:upright-to-cedar", "layout:upright-to-cedar"},
        "cedar": {"login", "event", "orientation"},
    },
}  # fmt: skip


@pytest.mark.parametrize("show", TEN)
def test_ten_shows_have_the_steps_that_their_accounts_name_and_no_others(show: str) -> None:
    found: dict[str, set[str]] = {}
    for step in setup_list(case_of(show)):
        found.setdefault(step.device, set()).add(step.id.partition(":")[2])
    assert found == TEN[show]


@pytest.mark.parametrize(("show", "most"), [("demo", 40), ("usb-capture-box", 12), ("hardware-switcher", 15)])
def test_what_is_confirmed_by_hand_stays_within_its_budget_and_settles_all(show: str, most: int) -> None:
    case = case_of(show)
    view = setup_view(case, [], NOON)
    assert view.seen == 0 and 0 < view.of <= most
    done = [
        *(confirmed(d.ask, d.id) for d in view.devices if d.ask),
        *(confirmed(p.proves, p.device, True) for p in view.pictures),
    ]
    assert len(done) == view.of
    after = setup_view(case, done, NOON)
    assert after.seen == view.of
    assert all(s.state in ("seen", "implied") for d in after.devices for s in d.steps)


_ids = iter(range(10**6))


def confirmed(
    steps: object, device: str, picture: bool = False, at: datetime = NOON, right: bool = True
) -> AnyEntry:
    body = SetupSeen(device=device, steps=steps, picture=picture, right=right)  # type: ignore[arg-type]
    return SeenEntry(id=f"e{next(_ids)}", at=at, body=body)


def test_what_is_typed_is_read_back_by_other_libraries_as_it_was_meant() -> None:
    # URLs by urllib (RFC 3986), addresses, masks and gateways by ipaddress.
    urls, sockets = 0, 0
    for show in ("demo", *examples()):
        case = case_of(show)
        for step in setup_list(case):
            typed = {v.label: v.value for v in step.values if not v.prose}
            for text in (v.value for v in step.values if "://" in v.value and "‹" not in v.value):
                read = urlsplit(text)
                assert read.scheme in ("rtmp", "rtmps", "rtsp", "srt", "https", "http"), text
                assert read.port is None or 0 < read.port < 65536
                assert read.hostname or read.query == "mode=listener", text
                if step.kind == "profile" and "Stream key" in typed:
                    assert typed["Stream key"] not in text  # the key has a field of its own
                urls += 1
            if "Mask" in typed:
                network = ip_interface(f"{typed['Address']}/{typed['Mask'].split(' ')[0]}").network
                assert f"(/{network.prefixlen})" in typed["Mask"]
                assert "Gateway" not in typed or ip_address(typed["Gateway"]) in network
                sockets += 1
    assert urls > 25 and sockets > 8


# A world of its own: it walks the plan's links, and shares nothing with how paths are proven.


class World:
    """What is on the screens when one setting is wrong: mixers show what somebody picked, or their own picture; services on the internet a
    slate where nothing comes; every other device what comes in."""

    def __init__(self, case: Case, wrong: SetupStep | None, rng: random.Random) -> None:
        self.case, self.rng = case, rng
        self.spoilt = set(self.spoilt_by(wrong)) if wrong and wrong.shown_by == "picture" else set()

    def spoilt_by(self, wrong: SetupStep) -> Iterator[str]:
        """The links that show no right picture at their end, by what each setting does."""
        _, kind, *of = wrong.id.split(":")
        if kind in (
            "paired",
            "input-on",
            "input-type",
            "assigned",
            "carries",
            "output-mode",
            "output-format",
            "menus-off",
            "mirrored",
        ):
            port = f"{wrong.device}/{of[0]}"
            for link in self.case.links.values():
                if link.kind == "stream":
                    if (link.to_device, link.input) == (wrong.device, of[0]) or link.id == of[0]:
                        yield link.id
                elif port in (link.from_port, link.to_port):
                    yield link.id
        elif kind == "network":
            yield from (s.id for s in self.case.streams if wrong.device in (s.from_device, s.to_device))
        else:
            yield of[0]

    def arrives(self, link: str, walked: frozenset[str] = frozenset()) -> bool:
        """Whether a right picture comes out of a link."""
        if link in self.spoilt or link in walked:
            return False
        giver = self.case.devices[ends_of(self.case.links[link])[0]]
        into = [x.id for x in self.case.links.values() if ends_of(x)[1] == giver.id and self.is_picture(x.id)]
        if not into or giver.kind in ("switcher", "computer") or (giver.ingest and giver.place is None):
            return True  # its own picture, another input, or a slate
        good = [x for x in into if self.arrives(x, walked | {link})]
        return bool(good) if len(into) > 1 else good == into

    def is_picture(self, id: str) -> bool:
        link = self.case.links[id]
        return link.kind in ("stream", "radio") or link.cable not in ("ethernet", "audio")


def test_with_one_setting_wrong_nothing_is_ticked_or_implied_that_hides_it() -> None:
    looked = 0
    for seed in range(of_many(60, 200)):
        rng = random.Random(seed)
        show = sound(seed)
        case = show.case
        for wrong in rng.sample(setup_list(case), min(4, len(setup_list(case)))):
            world = World(case, wrong, rng)
            view = setup_view(case, [], NOON)
            log: list[AnyEntry] = []
            for device in view.devices:
                honest = [s for s in device.ask if s.step != wrong.id]
                if honest:
                    log.append(confirmed(honest, device.id))
            pictures = {p.id: p for p in seen_pictures(case)}
            for row in view.pictures:
                if world.arrives(pictures[row.id].hops[-1].link):
                    log.append(confirmed(row.proves, row.device, True))
                else:
                    looked += 1
            rng.shuffle(log)
            day = day_of(case, log, NOON)
            assert day.steps[wrong.id].state == "open", (seed, wrong.id)
            others = [s.id for s in setup_list(case) if s.id != wrong.id and s.shown_by != "picture"]
            assert all(day.steps[id].state != "open" for id in others)
    assert looked > 20  # the wrong setting was to be seen in many of them


def test_what_is_lost_changed_or_of_another_day_is_open_again_and_nothing_else_is() -> None:
    case = case_of("hardware-switcher")
    view = setup_view(case, [], NOON)
    done = [*(confirmed(d.ask, d.id) for d in view.devices if d.ask), *(confirmed(p.proves, p.device, True) for p in view.pictures)]  # fmt: skip

    def opened(
        *more: AnyEntry, at: datetime = NOON + timedelta(hours=2), edits: tuple[Edit, ...] = ()
    ) -> set[str]:
        day = day_of(case.after(edits) if edits else case, [*done, *more], at)
        return {id for id, s in (day.steps | day.pictures).items() if s.state == "open"}

    assert opened() == set()
    # Its power was off: the clock, and every picture that comes through it; what stays over that is as it was.
    off = LostEntry(id="off", at=NOON + timedelta(hours=1), body=SettingsLost(device="switcher"))
    assert opened(off) == {"switcher:clock", *(p.id for p in view.pictures)}
    why = day_of(case, [*done, off], NOON + timedelta(hours=2)).steps["switcher:clock"].why
    assert why == "its power was off, Sat 19 Sep 2026, 14:00"
    reset = LostEntry(
        id="reset", at=NOON + timedelta(hours=1), body=SettingsLost(device="camera-3", how="reset")
    )
    assert {id for id in opened(reset) if ":" in id and id.startswith("camera-3:")} == {f"camera-3:{k}" for k in ("muted", "menus-off:hdmi", "output-mode:hdmi")}  # fmt: skip
    # Told again, or withdrawn: as it was.
    back = WithdrawalEntry(id="back", at=NOON, body=Withdrawal(of="off"))
    assert opened(off, back) == set()
    clock = next(s for s in setup_list(case) if s.id == "switcher:clock")
    tick = confirmed([{"step": clock.id, "stamp": clock.stamp}], "switcher", at=NOON + timedelta(minutes=90))
    assert "switcher:clock" not in opened(off, tick) and "switcher:clock" in opened(tick, off_late(off))
    # An edit opens what it changes on that device: another key, the profile.
    key = opened(edits=(put("link", "switcher-to-alder", "key", "another-key-2026"),))
    assert key == {"switcher:profile:switcher-to-alder"}
    assert opened(edits=(put_port("switcher/in-4", "assigned", "sdi"),)) >= {"switcher:input-type:in-4"}
    # Another day, at five in the morning: charge, clock, card, login, and every picture.
    assert opened(at=NOON + timedelta(hours=15)) == set()  # three in the morning is of the same night
    new = opened(at=NOON + timedelta(hours=17))
    assert {"switcher:clock", "card-recorder:card", "alder:login", *(p.id for p in view.pictures)} <= new
    assert {"switcher:password", "switcher:system-format", "switcher:input-type:in-4"} & new == set()
    # A picture that is said to prove what no picture shows proves nothing of it.
    false = confirmed([{"step": clock.id, "stamp": clock.stamp}], "switcher", True)
    assert day_of(case, [false], NOON).steps["switcher:clock"].state == "open"


def test_a_picture_in_software_that_was_told_no_camera_may_be_its_own_and_proves_nothing() -> None:
    models = {"camera-compact": "second", "capture-hdmi": "grab", "computer-stream": "laptop"}
    gear = [added(from_library(model, id, "boathouse", id.capitalize())) for model, id in models.items()]
    wires = wire("second/hdmi", "grab/hdmi", "hdmi", 2), wire("grab/usb", "laptop/usb-1", "usb3", 1)
    case = Case(small_show(*gear, *wires), Survey(), NOON)
    view = setup_view(case, [], NOON)
    (row,) = [p for p in view.pictures if p.id.endswith("/usb-1")]
    picture = confirmed(row.proves, row.device, True)
    proven = {s.step for s in row.proves if not s.step.startswith("picture:")}
    told = next(s for s in setup_list(case) if s.kind == "capture-picked")
    assert proven and all(day_of(case, [picture], NOON).steps[id].state == "open" for id in proven)
    tick = confirmed([{"step": told.id, "stamp": told.stamp}], told.device)
    assert all(day_of(case, [picture, tick], NOON).steps[id].state == "implied" for id in proven)


def off_late(off: LostEntry) -> LostEntry:
    return off.model_copy(update={"at": NOON + timedelta(hours=3)})
