"""Who may ask what: every route is walked by an engineer, by a phone of the crew, by one of another plan's crew, and by nobody."""

import base64
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

import pytest
from fastapi.testclient import TestClient

from humble_relay.formats.plan_file import write_plan
from humble_relay.store.backup import back_up
from humble_relay.web.app import make_app
from humble_relay.web.code import WRONG_BY_ONE, Code
from tests.build import NOW, STEADY, entered, entry, small_show
from tests.formats.test_photograph import taken
from tests.server import JSON

CODE = "abcd-efgh-jkmn"
ALLOWED = {("GET", "/api/me"), *((m, f"/api/plans/{{id}}/{w}") for m, w in (("GET", "walk"), ("GET", "walk/papers"), ("GET", "setup"), ("GET", "run-sheet"), ("GET", "faults"), ("GET", "entries"), ("POST", "entries"), ("POST", "photographs"), ("GET", "photographs/{photo}")))}  # fmt: skip
TO_ALL = {("POST", "/api/enter"), ("POST", "/api/join")}


def served(folder: Path) -> TestClient:
    return TestClient(make_app(folder, code=Code(CODE)), base_url="http://127.0.0.1", headers=JSON)


def routes(client: TestClient) -> list[tuple[str, str]]:
    paths: dict[str, Any] = client.app.openapi()["paths"]  # type: ignore[attr-defined]
    return [(method.upper(), path) for path, methods in paths.items() for method in methods]


def asked(client: TestClient, method: str, path: str, cookie: dict[str, str]) -> int:
    return client.request(method, at(path), headers={"Cookie": "x=1", **cookie}).status_code


def at(path: str) -> str:
    """The path with the plan's id in it, and anything in place of the rest."""
    return path.replace("{id}", "regatta").replace("{", "").replace("}", "").replace(":path", "")


def joined(engineer: TestClient, plan: str, role: str) -> dict[str, str]:
    """The cookie of a phone that joins the crew of a plan."""
    code = engineer.get(f"/api/plans/{plan}/crew").json()["code"]
    answer = engineer.post("/api/join", json={"code": code.upper().replace("-", " "), "name": role})
    assert answer.status_code == 200 and answer.json() == {"kind": "crew", "plan": plan, "name": role}
    return {"Cookie": answer.headers["set-cookie"].split(";")[0]}


@pytest.fixture
def engineer(tmp_path: Path) -> TestClient:
    found = served(tmp_path)
    found.headers["Cookie"] = (
        found.post("/api/enter", json={"code": CODE}).headers["set-cookie"].split(";")[0]
    )
    for _ in range(2):  # regatta, and regatta-2
        found.post("/api/plans/import", content=write_plan(small_show(), STEADY)).raise_for_status()
    return found


def test_every_route_is_denied_but_to_whom_it_is_for(engineer: TestClient) -> None:
    mine, others = joined(engineer, "regatta", "camera"), joined(engineer, "regatta-2", "sound")
    every = routes(engineer)
    assert len(every) > 60 and {*ALLOWED, *TO_ALL} <= {*every}
    for method, path in every:
        if (method, path) in TO_ALL:
            continue
        said = [asked(engineer, method, path, cookie) for cookie in ({}, mine, others)]
        assert said[0] == 401, (method, path)
        assert (said[1] != 403) == ((method, path) in ALLOWED), (method, path)
        assert ("/api/plans/" in path) <= (said[2] == 403), (method, path)
    with engineer.stream("GET", "/api/plans/regatta/events", headers={"Cookie": "x=1"} | others) as answer:
        assert answer.status_code == 403


def test_a_phone_stays_in_over_a_restart_until_it_is_sent_away_and_is_exported_nowhere(
    engineer: TestClient, tmp_path: Path
) -> None:
    mine = joined(engineer, "regatta", "camera, Slipway")
    line = {"entries": [entry({"text": "at my place"}, "one")]}
    assert engineer.post("/api/plans/regatta/entries", json=line, headers=mine).status_code == 201
    again = served(tmp_path)
    assert again.get("/api/plans/regatta/walk", headers=mine).status_code == 200
    token = mine["Cookie"].split("=", 1)[1]
    assert token.encode() not in b"".join(f.read_bytes() for f in tmp_path.iterdir() if f.is_file())
    export = engineer.get("/api/plans/regatta/export?keys=true").text
    code = engineer.get("/api/plans/regatta/crew").json()["code"]
    assert "at my place" in export and token not in export and code not in export
    (member,) = engineer.get("/api/plans/regatta/crew").json()["members"]
    assert member["name"] == "camera, Slipway"
    engineer.delete(f"/api/plans/regatta/crew/{member['id']}").raise_for_status()
    assert again.get("/api/plans/regatta/walk", headers=mine).status_code == 401
    renewed = engineer.post("/api/plans/regatta/crew/code").json()["code"]
    assert (
        renewed != code and engineer.post("/api/join", json={"code": code, "name": "late"}).status_code == 401
    )


def test_guessing_the_crews_code_is_slow_for_who_guesses_and_for_nobody_else(engineer: TestClient) -> None:
    engineer.get("/api/plans/regatta/crew").raise_for_status()
    tries = engineer.app.state.crew_tries  # type: ignore[attr-defined]
    for _ in range(WRONG_BY_ONE):
        assert tries.tried("192.0.2.9", lambda: False).fits is False
    assert tries.tried("192.0.2.9", lambda: True).fits is None
    assert tries.tried("192.0.2.10", lambda: True).fits is True


def test_the_crew_reads_no_key_and_no_address_with_one(engineer: TestClient) -> None:
    mine = joined(engineer, "regatta", "camera")
    edit = {
        "edits": [{"kind": "set", "noun": "link", "id": "feed", "field": "key", "value": "tide-table-key"}]
    }
    engineer.post("/api/plans/regatta/edits", json=edit, headers={"If-Match": '"1"'}).raise_for_status()
    # Also where it was written into a text, as it is written all the same.
    fact = {"at": NOW.isoformat(), "noun": "link", "thing": "run", "quantity": "works", "value": True, "note": "key is tide-table-key"}  # fmt: skip
    entered(engineer, "/api/plans/regatta", {"text": "they use tide-table-key now"}, fact)
    for path in ("walk", "setup", "run-sheet", "walk/papers", "walk/papers?keys=true", "entries"):
        assert "tide-table" not in engineer.get(f"/api/plans/regatta/{path}", headers=mine).text
    for path in ("", "/log", "/log.csv", "/entries", "/views/survey"):
        told = engineer.get(f"/api/plans/regatta{path}").text
        assert "tide-table" not in told and (path == "/views/survey" or "•" in told)


def test_a_photograph_is_there_once_seen_by_the_crew_and_in_no_export(
    engineer: TestClient, tmp_path: Path
) -> None:
    mine = joined(engineer, "regatta", "camera")
    path = "/api/plans/regatta/photographs"
    sent = {"id": "slipway-1", "data": base64.b64encode(taken(640, 480)).decode()}
    assert [engineer.post(path, json=sent, headers=mine).status_code for _ in range(2)] == [204, 204]
    body = {"photo": "slipway-1", "text": "the plug at the bollard"}
    said = {"id": "e1", "kind": "photograph", "at": NOW.isoformat(), "body": body}
    engineer.post("/api/plans/regatta/entries", json={"entries": [said]}, headers=mine).raise_for_status()
    seen = engineer.get(f"{path}/slipway-1", headers=mine)
    assert seen.headers["content-type"] == "image/jpeg" and seen.content[:2] == b"\xff\xd8"
    assert engineer.get("/api/plans/regatta/log").json()[0]["photo"] == "slipway-1"
    copy = engineer.post("/api/plans/import", content=engineer.get("/api/plans/regatta/export").text).json()[
        "id"
    ]
    assert engineer.get(f"/api/plans/{copy}/log").json()[0]["says"] == "the plug at the bollard"
    missing = engineer.get(f"/api/plans/{copy}/photographs/slipway-1")
    assert missing.status_code == 404 and "in backups" in missing.json()["detail"]
    bad = engineer.post(path, json={"id": "two", "data": base64.b64encode(b"GIF89a").decode()}, headers=mine)
    assert bad.status_code == 422 and "JPEG, PNG or WebP" in bad.json()["detail"]
    back_up(tmp_path, tmp_path / "kept.sqlite")
    with closing(sqlite3.connect(tmp_path / "kept.sqlite")) as kept:
        assert kept.execute("SELECT count(*) FROM photographs").fetchone() == (1,)
