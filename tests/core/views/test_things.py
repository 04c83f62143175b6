"""What is picked: every field of every noun is there to be typed, what is typed as it is shown changes nothing, and little stands open."""

from typing import Any, get_args

import pytest

from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import NOUNS, Plan, Show, Site, Uplink
from humble_relay.core.plan.edits import SetField, SetPort
from humble_relay.core.plan.edits.draft import apply
from humble_relay.core.plan.stages import Stage
from humble_relay.core.plan.survey import Survey
from humble_relay.core.plan.video import VideoFormat
from humble_relay.core.views.thing_fields import ThingField, fields_of
from humble_relay.core.views.thing_pane import MOST_FIELDS, pane_of, says_something
from humble_relay.core.views.thing_table import table_of
from humble_relay.demo import demo_plan
from tests.build import NOW, case_of, put, put_port, small_show

DEMO = demo_plan()
CASE = Case(DEMO.plan, DEMO.survey, NOW)
THINGS = [(noun, x.id) for noun, row in NOUNS.items() for x in getattr(DEMO.plan, row.collection)]
APART = {"id", "kind", "ports", "interface", "model", "from_port", "to_port"}
"""What a thing is, what has groups of its own, and where a cable is plugged in: no fields to type."""


def typed(field: ThingField) -> Any:
    """What the page sends for a field as it is shown."""
    choices = {c.key: c.value for c in field.choices}
    match field.kind:
        case "choice" | "yes or no":
            return choices[field.value] if field.value else None
        case "several":
            keys = [each.strip() for each in field.value.split(",") if each.strip()]
            return [choices.get(key, key) for key in keys] or (None if field.may_be_empty else [])
        case "number" | "whole":
            return float(field.value) if field.value else None
    return (
        field.value or None
        if field.kind == "text" and field.may_be_empty and not field.value
        else field.value
    )


@pytest.mark.parametrize(("noun", "id"), THINGS, ids=lambda x: str(x))
def test_what_is_typed_as_it_is_shown_changes_nothing(noun: Any, id: str) -> None:
    """Each field of each thing of the demo, sent as the page sends it: the plan stays as it is."""
    edits: list[Any] = []
    for field in fields_of(CASE, noun, id):
        value = field.items if field.kind == "list" else typed(field)
        if field.kind == "list" and field.items is not None:  # each item as its own fields are shown
            assert value == [{f.path: typed(f) for f in row} for row in field.rows]
        if field.kind == "format" or value is None:
            continue
        port = {"port": field.port, "field": field.path, "value": value}
        edits.append(
            SetPort(**port) if field.port else SetField(noun=noun, id=id, field=field.path, value=value)
        )
    assert edits and apply(DEMO.plan, edits) == DEMO.plan


def paths(part: Any, before: str = "") -> set[str]:
    """Every field of a noun that has a value or could have one, its parts that are there included."""
    found = set()
    for name in type(part).model_fields:
        value = getattr(part, name)
        if name in APART:
            continue
        if isinstance(value, Frozen) and not isinstance(value, VideoFormat):
            found |= paths(value, f"{before}{name}.")
        else:
            found.add(before + name)
    return found


def test_every_field_of_the_plan_is_on_a_sheet() -> None:
    """Those of the nouns are walked; of a part that is not there, its own fields."""
    for noun, id in THINGS:
        thing = next(x for x in getattr(DEMO.plan, NOUNS[noun].collection) if x.id == id)  # type: ignore[index]
        shown = {f.path for f in fields_of(CASE, noun, id) if not f.port}  # type: ignore[arg-type]
        missing = paths(thing) - shown
        absent = {path for path in missing if any(f.startswith(f"{path}.") for f in shown)}
        assert missing == absent, (noun, id, missing - absent)


def test_a_part_that_is_not_there_is_typed_by_its_fields() -> None:
    """Each field of each part that a device of the demo lacks: it can be set by itself, and the part is there."""
    for device in DEMO.plan.devices[:6]:
        for field in fields_of(CASE, "device", device.id):
            part = field.path.partition(".")[0]
            if "." not in field.path or field.port or getattr(device, part) is not None:
                continue
            value = {
                "number": 2.0,
                "whole": 2,
                "text": "1.2",
                "several": [c.value for c in field.choices[:1]] or ["1.2"],
            }.get(field.kind)
            value = field.choices[0].value if field.kind in ("choice", "yes or no") else value
            after = apply(DEMO.plan, [SetField(noun="device", id=device.id, field=field.path, value=value)])
            found = next(d for d in after.devices if d.id == device.id)
            assert getattr(found, part) is not None, field


def test_a_pane_says_the_state_in_a_sentence_asks_what_is_wanted_first_and_opens_seven_fields_at_most() -> (
    None
):
    for stage in get_args(Stage):
        for noun, id in THINGS:
            pane = pane_of(CASE, noun, id, stage)  # type: ignore[arg-type]
            assert len(pane.fields) <= MOST_FIELDS and pane.said.endswith((".", "?")) and pane.name
            assert (pane.finding is not None) == (pane.state in ("fails", "doubtful"))
            assert pane.holds <= pane.asked and len({(f.port, f.path) for f in pane.fields}) == len(
                pane.fields
            )
    # Bitrate and latency where bandwidth is worked on; the latency of SRT alone.
    assert pane_of(CASE, "link", "alder-feed", "bandwidth").fields[0].path == "video_mbps"
    by_srt = next(s.id for s in CASE.streams if s.protocol == "srt")
    for id, has in (("alder-feed", False), (by_srt, True)):
        assert ("latency_ms" in {f.path for f in pane_of(CASE, "link", id, "bandwidth").fields}) == has
    # A question that waits for a field stands before all others, at that field.
    asked = case_of(small_show(put("device", "camera", "produces", None)))
    first = pane_of(asked, "device", "camera", "papers").fields[0]
    assert first.path == "produces" and first.asked.endswith("?")
    long = pane_of(case_of(small_show(put("link", "run", "length_m", 400))), "link", "run", "signal")
    assert long.state == "fails" and "400 m" in long.said and long.finding == "cable-too-long:run"
    assert [s.name for s in (*long.before, *long.after)] == ["Camera", "Encoder"]
    with pytest.raises(KeyError):
        pane_of(asked, "device", "nobody", "signal")


def test_a_socket_is_set_where_addresses_are_worked_on() -> None:
    case = case_of(small_show(put_port("encoder/lan", "interface.address", "192.168.20.30")))
    fields = pane_of(case, "device", "encoder", "addresses").fields
    assert {f.value for f in fields if f.port == "encoder/lan" and f.path == "interface.address"} == {
        "192.168.20.30"
    }
    (aloud,) = pane_of(case, "device", "encoder", "addresses").addresses
    assert (aloud.address, aloud.mask, aloud.gateway) == (
        "192.168.20.30",
        "255.255.255.0 (/24)",
        "192.168.20.1",
    )
    assert not pane_of(case, "device", "encoder", "signal").addresses


def test_a_list_is_added_to_by_the_fields_of_another_item_and_addresses_that_stay_are_offered() -> None:
    """Forwards, rules and static routes of a router: what the new entry's fields say is what an edit takes."""
    router = DEMO.plan.routers[0]
    lists = {f.path: f for f in fields_of(CASE, "router", router.id) if f.another}
    asked = {
        "forwards": {"transport": "udp", "port": 9009, "to_address": "192.168.20.14"},
        "rules": {"lets": False, "from_network": router.networks[0]},
        "routes": {"to_range": "10.5.0.0/24", "via": "192.168.20.250"},
    }
    assert set(lists) == set(asked)
    for path, said in asked.items():
        another = lists[path].another
        assert {f.path for f in another if not f.may_be_empty} <= set(said) <= {f.path for f in another}
        items: Any = lists[path].items or []
        made = {f.path: said.get(f.path, typed(f)) for f in another}
        after = apply(DEMO.plan, [SetField(noun="router", id=router.id, field=path, value=[*items, made])])
        told = {f.path: f for f in fields_of(case_of(after), "router", router.id)}[path].rows[-1]
        assert {f.path: typed(f) for f in told if f.value} == {k: v for k, v in made.items() if v is not None}
    offered = {c.key for f in lists["forwards"].another for c in f.choices if f.path == "to_address"}
    stays = {
        p.address for d in DEMO.plan.devices for p in d.ports if p.address and p.addressing != "dhcp"
    }  # fmt: skip
    assert stays <= offered


def test_where_there_is_nothing_to_choose_from_it_is_said_what_comes_first() -> None:
    bare = case_of(
        small_show(
            put_port("encoder/lan", "interface.address", ""),
            put_port("encoder/lan", "interface.addressing", "dhcp"),
        )
    )
    (to,) = (
        f
        for x in fields_of(bare, "router", bare.plan.routers[0].id)
        if x.path == "forwards"
        for f in x.another
        if f.path == "to_address"
    )
    assert to.first == "No device has an address that stays yet: give it one in Addresses."
    nowhere = Case(
        Plan(
            show=Show(name="Bare"),
            uplinks=(Uplink(id="u", name="U", site="s"),),
            sites=(Site(id="s", name="S"),),
        ),
        Survey(),
        NOW,
    )
    assert not any(f.first for f in fields_of(nowhere, "uplink", "u") if f.path == "site")


def test_the_sockets_table_has_who_has_an_address_and_not_who_passes_packets_on() -> None:
    table = table_of(CASE, "device", "addresses", "socket")
    kinds = {
        row.id: next(d.kind for d in DEMO.plan.devices if row.id.startswith(f"{d.id}/")) for row in table.rows
    }
    assert {"camera", "computer", "switcher"} <= set(kinds.values())
    assert all(ref in CASE.join_at for ref, kind in kinds.items() if kind == "network-switch")
    assert not any(c.port or c.group for c in table.columns) and "interface.address" in table.chosen


def test_a_table_tells_what_the_sheets_tell_in_the_columns_that_are_chosen() -> None:
    """Of every noun: each cell is the field of that thing's sheet, and what a thing does not have is no cell."""
    for noun, row in NOUNS.items():
        for kind in ("cable", "radio", "stream") if noun == "link" else ("",):
            usual = table_of(CASE, noun, "addresses", kind)
            table = table_of(CASE, noun, "addresses", kind, tuple(c.path for c in usual.columns))
            things = [x for x in getattr(DEMO.plan, row.collection) if not kind or x.kind == kind]
            assert [r.id for r in table.rows] == [x.id for x in things] and set(usual.chosen) <= set(
                table.chosen
            )
            for told in table.rows:
                thing = next(x for x in things if x.id == told.id)
                fields = fields_of(CASE, noun, told.id)
                sheet = {f.path: f for f in fields if not f.port and says_something(thing, f.path)}
                assert {
                    path: cell.value
                    for path, cell in zip(table.chosen, told.cells, strict=True)
                    if cell is not None
                } == {path: field.value for path, field in sheet.items()}
