"""One box in two shows: what was set on it stays set, until something happens to it."""

from datetime import UTC, datetime, timedelta
from typing import Any

from fastapi.testclient import TestClient

from humble_relay.formats.plan_file import write_plan
from tests.build import STEADY, case_of, put, put_port, small_show

LAST_WEEK = datetime(2026, 9, 12, 18, tzinfo=UTC)
TODAY = datetime(2026, 9, 19, 12, tzinfo=UTC)
MENUS, CLOCK = "camera:menus-off:sdi", "camera:clock"


def two_shows(client: TestClient, label: str = "C2") -> list[str]:
    overlay = put_port("camera/sdi", "overlay", "off")
    model = put("device", "camera", "model", "Vane")
    plan = (
        case_of(small_show(), STEADY).after([overlay, model, put("device", "camera", "item", label)]).intended
    )
    answers = [client.post("/api/plans/import", content=write_plan(plan, STEADY, keys=True)) for _ in "ab"]
    return [f"/api/plans/{a.json()['id']}" for a in answers]


def test_what_lasts_is_carried_to_the_next_show_and_lapses(client: TestClient) -> None:
    last, today = two_shows(client)
    made = 0

    def entry(show: str, at: datetime, kind: str, **body: Any) -> str:
        nonlocal made
        made += 1
        said = {"id": f"e{made}", "kind": kind, "at": at.isoformat(), "role": "desk", "body": body}
        answer = client.post(f"{show}/entries", json={"entries": [said]})
        assert answer.status_code == 201 and all(a["sequence"] for a in answer.json()["entries"]), answer.text
        return f"e{made}"

    def steps(show: str = today, at: datetime = TODAY) -> dict[str, dict[str, Any]]:
        view = client.get(f"{show}/setup", params={"as_of": at.isoformat()}).json()
        return {s["id"]: s for d in view["devices"] for s in d["steps"]}

    def seen(show: str, at: datetime, right: bool = True, **other: str) -> str:
        stamps = {s: other.get(s, steps(show)[s]["stamp"]) for s in steps(show) if s.startswith("camera:")}
        of = [{"step": s, "stamp": stamp} for s, stamp in stamps.items()]
        return entry(show, at, "seen", device="camera", steps=of, right=right)

    lasting = [s for s, line in steps().items() if s.startswith("camera:") and s not in (CLOCK,)]
    assert lasting and steps()[lasting[0]]["state"] == "open"
    first = seen(last, LAST_WEEK)
    carried = steps()[lasting[0]]
    assert carried["state"] == "carried" and "12 Sep" in carried["note"] and "another show" in carried["note"]
    if CLOCK in steps():
        assert steps()[CLOCK]["state"] == "open"  # a new day

    # Withdrawn there, it counts here no more; counted again, it does.
    entry(last, LAST_WEEK, "withdrawal", of=first)
    assert steps()[lasting[0]]["state"] == "open"
    entry(last, LAST_WEEK, "withdrawal", of=first, withdrawn=False)
    assert steps()[lasting[0]]["state"] == "carried"

    # Set otherwise for a show in between: open, and it says so, though it was seen here before.
    seen(today, LAST_WEEK - timedelta(days=1))
    seen(last, LAST_WEEK + timedelta(hours=1), **{lasting[0]: "beef"})
    assert steps()[lasting[0]]["note"] == "last set otherwise, for another show"
    seen(last, LAST_WEEK + timedelta(hours=2))
    assert steps()[lasting[0]]["state"] == "carried"

    # Another firmware, there: whatever it loses is open here too.
    entry(last, LAST_WEEK + timedelta(days=1), "lost", device="camera", how="firmware")
    assert "other firmware" in steps()[lasting[0]]["note"]
    seen(last, LAST_WEEK + timedelta(days=1, hours=1))
    assert steps()[lasting[0]]["state"] == "carried"

    # Lent out and back: what was seen before counts no more.
    holding = {"id": "vane", "model": "Vane", "count": 2, "items": [{"label": "C2", "since": "2026-09-15"}]}
    assert client.put("/api/stock/vane", json=holding).status_code == 200
    assert "out of our hands" in steps()[lasting[0]]["note"]
    holding["items"] = [{"label": "C2", "since": "13 Sep 2026"}, {"label": "C3"}]
    assert client.put("/api/stock/vane", json=holding).status_code == 200
    assert steps()[lasting[0]]["state"] == "carried"
    no_day = client.put(
        "/api/stock/vane", json={**holding, "items": [{"label": "C2", "since": "31 Feb 2026"}]}
    )
    assert no_day.json()["detail"] == "items 1 since: there is no day 31 Feb 2026"
    for wrong in ([{"label": "C2"}] * 2, [{"label": str(n)} for n in range(3)]):
        assert client.put("/api/stock/vane", json={**holding, "items": wrong}).status_code == 422

    # The two shows are on one day, and want one box. Of another box nothing is carried.
    kept = client.get(today).json()
    assert "item-twice:camera" in {f["id"] for f in client.get(f"{today}/report").json()["findings"]}
    edit = {"edits": [put("device", "camera", "item", "C3").model_dump(mode="json")]}
    answer = client.post(f"{today}/edits", json=edit, headers={"If-Match": f'"{kept["version"]}"'})
    assert answer.status_code == 200, answer.text
    assert steps()[lasting[0]]["state"] == "open"
