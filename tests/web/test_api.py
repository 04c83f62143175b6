"""The API: versions, undo, secrets, bad input."""

import json
from datetime import UTC, datetime

import pytest
from fastapi.testclient import TestClient

from humble_relay.formats.plan_file import write_plan
from tests.build import STEADY, entered, entry, small_show

BITRATE = {"kind": "set", "noun": "link", "id": "feed", "field": "video_mbps", "value": 5.5}


def send(client: TestClient, path: str, version: int, *edits: dict[str, object], why: str = ""):  # type: ignore[no-untyped-def]
    body = {"edits": list(edits), "why": why}
    return client.post(f"{path}/edits", json=body, headers={"If-Match": f'"{version}"'})


def bitrate(answer) -> float:  # type: ignore[no-untyped-def]
    return next(x["video_mbps"] for x in answer.json()["plan"]["links"] if x["id"] == "feed")


def test_an_edit_moves_the_version_and_returns_the_new_report(client: TestClient, plan: str) -> None:
    before = client.get(plan)
    assert before.headers["etag"] == '"1"' and before.json()["report"]["findings"] == []
    after = send(client, plan, 1, BITRATE | {"value": 30})
    assert after.status_code == 200 and after.headers["etag"] == '"2"'
    assert {f["rule"] for f in after.json()["report"]["findings"]} >= {"upload-too-small", "platform-bitrate"}


def test_two_writers_one_gets_409_sees_what_changed_and_can_go_on(client: TestClient, plan: str) -> None:
    assert send(client, plan, 1, BITRATE).status_code == 200
    late = send(
        client, plan, 1, {"kind": "set", "noun": "link", "id": "run", "field": "length_m", "value": 50}
    )
    assert late.status_code == 409 and late.headers["content-type"] == "application/problem+json"
    problem = late.json()
    assert problem["version"] == 2 and problem["changed"][0]["what"] == ["video bitrate of Feed 8 → 5.5 Mb/s"]
    again = send(
        client,
        plan,
        problem["version"],
        {"kind": "set", "noun": "link", "id": "run", "field": "length_m", "value": 50},
    )
    assert again.status_code == 200 and bitrate(again) == 5.5


def test_a_refused_edit_changes_nothing(client: TestClient, plan: str) -> None:
    answer = send(client, plan, 1, BITRATE, {"kind": "remove", "noun": "site", "id": "creek"})
    assert answer.status_code == 422 and "points at site creek" in answer.json()["detail"]
    assert client.get(plan).json()["version"] == 1 and bitrate(client.get(plan)) == 8


def test_undo_redo_and_restore_walk_the_history(client: TestClient, plan: str) -> None:
    for version, value in enumerate([7, 6, 5], start=1):
        send(client, plan, version, BITRATE | {"value": value})
    step = lambda verb, version: client.post(f"{plan}/{verb}", headers={"If-Match": f'"{version}"'})  # noqa: E731
    assert bitrate(step("undo", 4)) == 6
    assert bitrate(step("undo", 5)) == 7
    assert bitrate(step("redo", 6)) == 6
    assert bitrate(step("redo", 7)) == 5
    nothing = step("redo", 8)
    assert nothing.status_code == 422 and "nothing to redo" in nothing.json()["detail"]
    back = step("restore/2", 8)
    assert bitrate(back) == 7 and back.json()["redoes"] == ["video bitrate of Feed 7 → 6 Mb/s"]
    assert back.json()["undoes"] == ["video bitrate of Feed 8 → 7 Mb/s"]
    assert bitrate(send(client, plan, 9, BITRATE | {"value": 4})) == 4
    assert client.get(plan).json()["redoes"] is None
    assert bitrate(step("restore/4", 10)) == 5
    history = client.get(f"{plan}/history").json()
    assert len(history) == 11 and history[-1]["what"] == ["imported Regatta"]
    assert "undid: video bitrate of Feed 6 → 5 Mb/s" in [line for e in history for line in e["what"]]
    while (undone := step("undo", client.get(plan).json()["version"])).status_code == 200:
        last = undone
    assert bitrate(last) == 8 and last.json()["undoes"] is None


def test_try_says_what_would_change_and_keeps_nothing(client: TestClient, plan: str) -> None:
    trial = client.post(f"{plan}/try", json={"edits": [BITRATE | {"value": 30}]}).json()
    assert "upload-too-small" in {f["rule"] for f in trial["come"]} and trial["gone"] == []
    assert client.get(plan).json()["version"] == 1


def test_export_and_import_give_an_equal_report(client: TestClient, plan: str) -> None:
    text = client.get(f"{plan}/export?keys=true").text
    copy = client.post("/api/plans/import", content=text).json()
    assert copy["id"] == "regatta-2"
    at = "?as_of=2026-09-14T10:00:00Z"
    assert client.get(f"/api/plans/{copy['id']}/report{at}").json() == client.get(f"{plan}/report{at}").json()


def test_measurements_are_added_and_change_the_report(client: TestClient, plan: str) -> None:
    row = {"at": "2026-09-13T20:00:00Z", "uplink": "fibre", "up_mbps": 3}
    answer = entered(client, plan, row)
    assert len(answer["survey"]["measurements"]) == 8
    assert "upload-bad-hour" in {f["rule"] for f in answer["report"]["findings"]}
    stray = client.post(f"{plan}/entries", json={"entries": [entry(row | {"uplink": "ghost"}), entry(row, "other")]}).json()["entries"]  # fmt: skip
    assert "no uplink called ghost" in stray[0]["why"] and stray[0]["sequence"] is None
    assert stray[1]["sequence"] and not stray[1]["why"]  # the others are kept
    read = client.post("/api/measurements/read", json={"text": "18 up 90 down"}).json()
    assert read["drafts"][0]["up_mbps"] == 18


def test_catalogues_say_where_figures_come_from(client: TestClient) -> None:
    assert all(f["source"] for f in client.get("/api/figures").json().values())
    assert len(client.get("/api/gear").json()) > 20
    assert client.get("/api/schema/plan").json()["$schema"].endswith("2020-12/schema")


@pytest.mark.parametrize(
    ("method", "path", "body", "headers", "status"),
    [
        ("POST", "/edits", b"{not json", {}, 400),
        ("POST", "/edits", b'{"edits": []}', {}, 422),
        ("POST", "/edits", b'{"edits": [{"kind": "explode"}]}', {}, 422),
        ("POST", "/edits", json.dumps({"edits": [BITRATE]}).encode(), {}, 428),
        ("POST", "/edits", json.dumps({"edits": [BITRATE]}).encode(), {"If-Match": "latest"}, 400),
        ("POST", "/undo", b"", {"If-Match": '"1"'}, 422),
        ("POST", "/restore/77", b"", {"If-Match": '"1"'}, 422),
        ("GET", "/papers/ghost.csv", b"", {}, 404),
        ("PUT", "", b"", {}, 405),
        ("DELETE", "", b"", {"If-Match": '"9"'}, 409),
    ],
)
def test_malformed_requests_get_a_problem_in_words(
    client: TestClient, plan: str, method: str, path: str, body: bytes, headers: dict[str, str], status: int
) -> None:
    headers = {"Content-Type": "application/json"} | headers
    answer = client.request(method, plan + path, content=body, headers=headers)
    assert answer.status_code == status
    assert answer.json()["detail"] and answer.headers["content-type"] == "application/problem+json"
    assert client.get(plan).json()["version"] == 1


def test_a_file_of_seventy_megabytes_is_refused_without_being_taken_in(client: TestClient) -> None:
    def pour():  # type: ignore[no-untyped-def]
        for _ in range(70):
            yield b"x" * 1_000_000

    answer = client.post("/api/plans/import", content=pour())
    assert answer.status_code == 413 and "MB" in answer.json()["detail"]
    assert client.get("/api/plans").json() == []


def test_a_plan_can_be_deleted_by_who_saw_its_last_version(client: TestClient, plan: str) -> None:
    send(client, plan, 1, BITRATE)
    assert client.delete(plan, headers={"If-Match": '"1"'}).status_code == 409
    assert client.delete(plan, headers={"If-Match": '"2"'}).status_code == 204
    assert client.get(plan).status_code == 404
    client.post("/api/plans/import", content=write_plan(small_show(), STEADY))
    assert len(client.get(f"{plan}/history").json()) == 1


def test_what_a_line_means_and_how_two_devices_join(client: TestClient, plan: str) -> None:
    found = client.post(f"{plan}/command", json={"line": "feed 5.5 mb"}).json()
    assert found[0]["edits"][0]["value"] == 5.5
    client.put("/api/stock/x", json={"id": "x", "model": "Teasel Field camera", "count": 1})
    answer, *_ = client.post(f"{plan}/command", json={"line": "camera to encoder"}).json()
    assert not answer["edits"] and "in use" in answer["title"]  # the encoder's one input is taken
    pasted = client.post(f"{plan}/asked/pasted", json={"text": "see you at four"}).json()
    assert pasted == {"alternatives": [], "not_understood": ["see you at four"]}
    found = client.get(f"{plan}/routes", params={"source": "camera", "end": "encoder"}).json()
    assert found["routes"] == [] and "in use" in found["why_not"]


def test_a_fact_is_kept_stands_over_the_plan_and_goes_with_its_copy(client: TestClient, plan: str) -> None:
    fact = {"at": "2026-09-13T12:00:00+01:00", "noun": "link", "thing": "run", "quantity": "length_m", "value": 140,
            "unit": "m", "by": "camera operator", "method": "paced"}  # fmt: skip
    before = client.get(plan).json()
    answer = entered(client, plan, fact)
    assert answer["version"] == before["version"]
    assert "cable-too-long:run" in {f["id"] for f in answer["report"]["findings"]}
    (id,) = [f["id"] for f in answer["survey"]["facts"]]
    assert next(x for x in answer["plan"]["links"] if x["id"] == "run")["length_m"] == 40  # as it was planned
    copy = client.post("/api/plans/import", content=client.get(f"{plan}/export").text).json()
    assert copy["survey"]["facts"] == answer["survey"]["facts"]
    # Typed over at the desk, it is corrected: the plan and its history stay as they are, and undo finds nothing of it.
    edit = {"kind": "set", "noun": "link", "id": "run", "field": "length_m", "value": 30}
    tried = client.post(f"{plan}/try", json={"edits": [edit]}).json()
    assert "cable-too-long:run" in {f["id"] for f in tried["gone"]}
    typed = send(client, plan, 1, edit).json()
    assert typed["version"] == 1 and [f["value"] for f in typed["survey"]["facts"]] == [30]
    assert (
        "cable-too-long:run" not in {f["id"] for f in typed["report"]["findings"]} and typed["undoes"] is None
    )
    assert len(client.get(f"{plan}/history").json()) == 1
    pane = client.get(f"{plan}/things/link/run/fields").json()
    (field,) = (f for f in pane if f["path"] == "length_m")
    assert field["value"] == "30" and field["found"].endswith("planned: 40 m")
    struck = entered(client, plan, {"of": id})
    assert "cable-too-long:run" not in {f["id"] for f in struck["report"]["findings"]}
    stray = client.post(f"{plan}/entries", json={"entries": [entry(fact | {"thing": "ghost"})]}).json()
    assert "no link called ghost" in stray["entries"][0]["why"]


def test_cures_and_views_are_asked_for_one_by_one(client: TestClient, plan: str) -> None:
    send(client, plan, 1, {"kind": "set", "noun": "link", "id": "run", "field": "length_m", "value": 140})
    (first, *_) = client.get(f"{plan}/cures/cable-too-long:run").json()["cures"]
    assert (
        first["cure"]["title"].startswith("Run it another way")
        and first["gone"][0]["id"] == "cable-too-long:run"
    )
    assert client.get(f"{plan}/cures/cable-too-long:ghost").status_code == 404
    tried = client.post(f"{plan}/views/signal_links", json={"edits": first["cure"]["edits"]}).json()[
        "signal_links"
    ]
    assert "run" not in {x["link"] for x in tried["links"]}
    assert "run" in {
        x["link"] for x in client.get(f"{plan}/views/signal_links").json()["signal_links"]["links"]
    }


def test_measurements_without_an_offset_are_of_the_shows_zone(client: TestClient, plan: str) -> None:
    row = {"at": "2026-09-13T20:30", "uplink": "fibre", "up_mbps": 22}
    rows = (row, row | {"at": "2026-09-13T20:30Z"})
    kept = entered(client, plan, *rows, zone="Europe/London")["survey"]["measurements"]
    assert [datetime.fromisoformat(m["at"]).astimezone(UTC).hour for m in kept[-2:]] == [19, 20]
    nowhere = client.post(f"{plan}/entries", json={"entries": [entry(row)], "zone": "Mars/Olympus"})
    assert nowhere.status_code == 422 and "no time zone called Mars/Olympus" in nowhere.text
    assert client.post("/api/measurements/read", json={"text": "6 up", "zone": "x"}).status_code == 422
    impossible = client.post(f"{plan}/entries", json={"entries": [entry(row | {"at": "2026-02-31T20:30"})]})
    assert impossible.status_code == 422


def test_half_a_character_and_a_day_beyond_all_days_are_refused_in_words(
    client: TestClient, plan: str
) -> None:
    half, run = '"\\ud800"', '{"start": {"timestamp": {"timesecs": %s}, "test_start": {"protocol": "TCP"}}, "end": {"sum_received": {"bits_per_second": %s}}}'  # fmt: skip
    edit = f'{{"edits": [{{"kind": "set", "noun": "show", "field": "name", "value": {half}}}]}}'
    model = f'{{"id": "own", "about": {half}, "device": {{"id": "own", "name": "Own", "kind": "camera"}}}}'
    answers = [
        client.post(f"{plan}/edits", content=edit, headers={"If-Match": '"1"'}), client.post(f"{plan}/command", content=f'{{"line": {half}}}'),
        client.post("/api/plans", content=f'{{"show": {{"name": {half}}}}}'), client.put("/api/gear/own", content=model),
        client.post(f"{plan}/edits", content='{"edits": [{"kind": "set-figure", "figure": "x", "value": NaN}]}', headers={"If-Match": '"1"'}),
        client.post("/api/plans/import", content=f'{{"format": "humble-relay-plan", "plan": {half}}}'),
        client.post("/api/gear/import", json={"text": f'{{"format": "humble-relay-gear", "models": [{half}]}}'}),
        *(client.post("/api/measurements/read", json={"text": run % (at, rate), "zone": "Pacific/Kiritimati"})
          for at, rate in (("1e17", 1e6), ("253402300799", 1e6), ("-1e15", 1e6), ("1e9", "1e400"), ("1e9", half), (half, 1))),
        client.post("/api/measurements/read", json={"text": "9999-12-31T23:59:59-12:00 5 up"}),
    ]  # fmt: skip
    assert [a.status_code for a in answers] == [400] * 5 + [422] * 9, [a.text for a in answers]
    assert all(len(a.json()["detail"]) > 20 for a in answers)
    for path in ("/api/plans/%ED%A0%80", f"{plan}/copy?name=%ED%A0%80", f"{plan}/trace/%ED%A0%80"):
        assert client.request("POST" if "copy" in path else "GET", path).status_code in (201, 404, 422)
    assert client.get(plan).json()["version"] == 1


def test_a_plan_that_comes_in_under_a_name_that_is_there_is_offered_another(
    client: TestClient, plan: str
) -> None:
    text = client.get(f"{plan}/export").text
    assert [client.post("/api/plans/import", content=text).json()["free_name"] for _ in range(2)] == ["Regatta 2", "Regatta 2"]  # fmt: skip
    assert client.post("/api/plans", json={"show": {"name": "Gala"}}).json()["free_name"] is None
    once = {"Idempotency-Key": "the-same-one"}
    made = [client.post("/api/plans", json={"show": {"name": "Fair"}}, headers=once).json() for _ in range(2)]
    assert made[0]["id"] == made[1]["id"] and made[1]["free_name"] is None


def test_the_next_show_begins_with_what_is_to_be_checked_again(client: TestClient, plan: str) -> None:
    told = client.get(f"{plan}/next-show").json()
    assert "7 measurements" in told["again"][0] and any("1 stream key" in line for line in told["again"])
    assert told["left"][0] == "the date and the rehearsals"
    again = client.post(f"{plan}/copy?name=Next&next_show=true").json()
    assert (again["plan"]["show"]["starts_at"], again["survey"]["done"]) == (None, [])
    keyed = [s for s in again["plan"]["links"] if s.get("key")]
    assert keyed and all(s["key_carried"] for s in keyed)
    assert {f["rule"] for f in again["report"]["findings"]} >= {"key-missing"}
    like = client.post(f"{plan}/copy?name=Like").json()  # a copy to try something with stays as it was
    assert like["plan"]["show"]["starts_at"] and "key-missing" not in {
        f["rule"] for f in like["report"]["findings"]
    }


def test_what_is_asked_for_later_is_what_it_would_have_been_at_once(client: TestClient, plan: str) -> None:
    """The calls of a stream, and the papers in three parts."""
    calls = client.get(f"{plan}/views/addresses_calls").json()["addresses_calls"]["reach"]
    assert [client.get(f"{plan}/streams/{s['stream']}/reach").json() for s in calls] == calls
    assert client.get(f"{plan}/streams/ghost/reach").status_code == 404
    parts = [client.get(f"{plan}/papers?judged={judged}").json() for judged in ("false", "true")]
    assert [t["id"] for t in parts[1]] == ["proofs", "facts"]
    parts.append(client.get(f"{plan}/papers?cards=true").json())
    assert [t["id"] for t in parts[2]] == ["faults"]
    assert parts[0] + parts[1] + parts[2] == client.get(f"{plan}/papers").json()
