"""What a page is told after a change: only what is different, and never anything else than the whole would say."""

from typing import Any

import pytest
from fastapi.testclient import TestClient

from humble_relay.demo import demo_plan
from humble_relay.formats.plan_file import write_plan
from tests.build import entry

STEPS: list[tuple[str, dict[str, Any] | None]] = [
    ("edits", {"edits": [{"kind": "set", "noun": "link", "id": "alder-feed", "field": "video_mbps", "value": 40}]}),
    ("edits", {"edits": [{"kind": "add-place", "item": {"id": "pier", "name": "Pier", "site": "saltmere"}}]}),
    ("undo", None),
    ("edits", {"edits": [{"kind": "remove", "noun": "device", "id": "weir-cam"}]}),
    ("undo", None),
    ("redo", None),
    ("restore/1", None),
    ("edits", {"edits": [{"kind": "set", "noun": "show", "id": None, "field": "name", "value": "Regatta, wet"}]}),
    ("edits", {"edits": [{"kind": "set-port", "port": "switcher/in-1", "field": "name", "value": "Bow"}]}),
    ("entries", {"entries": [entry({"at": "2026-09-13T20:00:00Z", "noun": "link", "thing": "alder-feed", "quantity": "works", "value": True}),
                             entry({"at": "2026-09-13T20:00:00Z", "uplink": "boathouse-fibre", "up_mbps": 1}), entry({"of": "m1"})]}),
]  # fmt: skip


@pytest.fixture
def demo(client: TestClient) -> str:
    """The path of the demo on the server."""
    show = demo_plan()
    return f"/api/plans/{client.post('/api/plans/import', content=write_plan(show.plan, show.survey)).json()['id']}"


def laid_over(document: dict[str, Any], told: dict[str, Any]) -> dict[str, Any]:
    """The document with its changes, as a page lays them over it."""
    lists = {}
    for name, rows in told["rows"].items():
        known = {x["id"]: x for x in (*document[name], *rows)}
        lists[name] = [known[id] for id in told["order"].get(name, [x["id"] for x in document[name]])]
    return document | told["fields"] | lists


def test_what_is_told_after_a_change_laid_over_what_was_told_before_is_the_whole(
    client: TestClient, demo: str
) -> None:
    known = client.get(demo).json()
    for way, body in STEPS:
        headers = {"If-Match": f'"{known["version"]}"', "Changes-Since": known["told"]}
        answer = client.post(f"{demo}/{way}", json=body, headers=headers)
        assert answer.is_success, answer.text
        if way == "entries":
            answer = client.get(demo, headers=headers)
        told = answer.json()
        assert told["since"] == known["told"]
        whole = client.get(demo).json()
        now = {part: laid_over(known[part], told[part]) for part in ("plan", "survey", "report")}
        now["report"]["as_of"] = whole["report"]["as_of"]
        assert now == {part: whole[part] for part in now}
        assert [told[x] for x in ("version", "undoes", "redoes")] == [whole[x] for x in ("version", "undoes", "redoes")]  # fmt: skip
        known = known | now | {x: told[x] for x in ("version", "told")}
    assert len(told["report"]["rows"].get("findings", ())) < len(known["report"]["findings"]) / 2


@pytest.mark.parametrize("told", ["nobody-knows", None])
def test_who_was_told_nothing_of_it_is_told_the_whole(
    client: TestClient, demo: str, told: str | None
) -> None:
    headers = {"If-Match": f'"{client.get(demo).json()["version"]}"'} | (
        {"Changes-Since": told} if told else {}
    )
    answer = client.post(f"{demo}/edits", json=STEPS[0][1], headers=headers).json()
    assert "since" not in answer and answer["plan"]["links"] and answer["report"]["findings"]
