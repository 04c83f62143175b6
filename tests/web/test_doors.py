"""Who may ask: hosts, origins, JSON, the code beyond loopback, and the headers that every answer carries."""

import csv
import io
import ssl
import subprocess
import xml.etree.ElementTree as ElementTree
from pathlib import Path

import httpx
import pytest
from fastapi import FastAPI
from fastapi.testclient import TestClient

from humble_relay.cli import main
from humble_relay.core.papers.paper_tables import Table
from humble_relay.formats.csv_table import guarded, unguarded, write_csv
from humble_relay.web.app import make_app
from humble_relay.web.code import LATE_S, WRONG_BY_ALL, Code
from humble_relay.web.serving import is_here, names_for, new_code
from tests.build import put
from tests.server import JSON, Server
from tests.web.test_api import send

HERE = "http://127.0.0.1"
EDIT = {"kind": "set", "noun": "show", "field": "name", "value": "Gala"}


@pytest.mark.parametrize(
    ("headers", "status"),
    [
        ({"Origin": "http://evil.example"}, 403), ({"Origin": "null"}, 403), ({"Origin": "http://127.0.0.1:9999"}, 403),
        ({"Sec-Fetch-Site": "cross-site"}, 403), ({"Sec-Fetch-Site": "same-site"}, 403),
        ({"Content-Type": "text/plain"}, 415), ({"Content-Type": "application/x-www-form-urlencoded"}, 415),
        ({"Content-Type": ""}, 415), ({"Host": "evil.example"}, 400), ({"Host": "127.0.0.1.evil.example"}, 400),
        ({"Host": "[::2]:80"}, 400), ({"Host": ""}, 400),
        ({"Origin": HERE}, 200), ({"Origin": HERE, "Sec-Fetch-Site": "same-origin"}, 200), ({"Host": "[::1]:8117"}, 200),
        ({"Host": "LOCALHOST:8117"}, 200), ({"Content-Type": "application/json; charset=utf-8"}, 200),
    ],
    ids=str,
)  # fmt: skip
def test_changes_are_taken_from_our_own_pages_as_json_under_our_own_name(
    client: TestClient, plan: str, headers: dict[str, str], status: int
) -> None:
    for path, body in (
        (f"{plan}/edits", {"edits": [EDIT]}),
        (f"{plan}/undo", None),
        ("/api/plans/import", {}),
    ):
        version = client.get(plan).json()["version"]
        answer = client.post(path, json=body, headers={"If-Match": f'"{version}"', **headers})
        assert answer.status_code in ((status,) if status != 200 else (200, 422)), (path, answer.text)
    assert (
        client.delete(plan, headers={"If-Match": '"9"', "Origin": "http://evil.example"}).status_code == 403
    )
    if status >= 400:
        assert client.get(plan).json()["version"] == 1
    if "Sec-Fetch-Site" in headers and status == 403:  # nor is anything read by another page's script
        assert client.get(plan, headers=headers).status_code == 403


def test_every_answer_carries_the_same_headers(client: TestClient, plan: str) -> None:
    answers = [
        client.get("/"), client.get(plan), client.get("/api/nowhere"), client.get("/api/plans/ghost"), client.put("/api/plans"),
        client.get("/%00/..%2f..%2fetc/passwd"), client.get("/api/plans", headers={"Host": "evil.example"}),
        client.post(f"{plan}/edits", content=b"{"), client.post(f"{plan}/edits", content=b"x" * 5_100_000),
        client.post(f"{plan}/undo", headers={"If-Match": '"7"'}), client.post("/api/plans", headers={"Content-Type": "a/b"}),
    ]  # fmt: skip
    for answer in answers:
        policy = answer.headers["content-security-policy"]
        assert "default-src 'none'" in policy and "frame-ancestors 'none'" in policy, answer.status_code
        assert (
            answer.headers["x-content-type-options"] == "nosniff"
            and answer.headers["referrer-policy"] == "no-referrer"
        )
        assert answer.headers["cross-origin-resource-policy"] == "same-origin"
    assert not [a for a in answers if "root:" in a.text or "make_app" in a.text]
    assert {a.status_code for a in answers} >= {200, 400, 404, 405, 409, 413, 415}


def test_beyond_loopback_nobody_reads_or_writes_without_the_code(tmp_path: Path) -> None:
    code = new_code()
    app = make_app(tmp_path, hosts=["192.168.20.5", "relay.local"], code=Code(code))
    with TestClient(app, base_url="http://192.168.20.5:8117", headers=JSON) as client:
        assert client.get("/").status_code in (200, 404)  # the page alone, if it is built
        for answer in (client.get("/api/plans"), client.post("/api/plans", json={"show": {"name": "Gala"}}), client.get("/api/openapi.json")):  # fmt: skip
            assert answer.status_code == 401 and "code" in answer.json()["detail"]
        assert client.get("/api/plans", headers={"Host": "evil.example"}).status_code == 400
        assert client.post("/api/enter", json={"code": "nearly"}).status_code == 401
        assert client.get("/api/plans", headers={"Cookie": "humble-relay=guess"}).status_code == 401
        entered = client.post("/api/enter", json={"code": f" {code.upper()} "})
        assert entered.status_code == 204
        assert (
            "HttpOnly" in entered.headers["set-cookie"] and "SameSite=Strict" in entered.headers["set-cookie"]
        )
        assert code not in entered.headers["set-cookie"]
        assert client.post("/api/plans", json={"show": {"name": "Gala"}}).status_code == 201


def entering(app: FastAPI, caller: str, code: str) -> int:
    """What a caller at an address is answered who enters a code."""
    with TestClient(app, base_url="http://127.0.0.1", headers=JSON, client=(caller, 5000)) as client:
        return client.post("/api/enter", json={"code": code}).status_code


def test_wrong_codes_lock_out_who_enters_them_and_nobody_else(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    late: list[float] = []

    async def slept(seconds: float) -> None:
        late.append(seconds)

    monkeypatch.setattr("humble_relay.web.entering.asyncio.sleep", slept)
    code = new_code()
    app = make_app(tmp_path, code=Code(code))
    assert [entering(app, "203.0.113.66", f"no-{n}") for n in range(11)] == [401] * 10 + [429]
    assert entering(app, "203.0.113.66", code) == 429  # even with the right one, for a minute
    assert entering(app, "203.0.113.67", code) == 204 and late[-1] == 0
    assert [entering(app, f"2001:db8:5::{n:x}", "no") for n in range(11)][-1] == 429  # one /64, one caller
    assert entering(app, "2001:db8:6::1", code) == 204
    # From very many addresses: who is not in yet is answered late, and let in all the same; who is in is not asked.
    for n in range(WRONG_BY_ALL):
        entering(app, f"198.51.100.{n}", "no")
    assert entering(app, "203.0.113.68", code) == 204 and late[-1] == LATE_S
    with TestClient(app, base_url="http://127.0.0.1", headers=JSON | {"Cookie": f"humble-relay={app.state.code.token}"}) as who_is_in:  # fmt: skip
        assert who_is_in.get("/api/plans").status_code == 200


def test_what_is_sent_is_encrypted_with_a_certificate_and_the_cookie_stays_so(tmp_path: Path) -> None:
    cert, key = tmp_path / "cert.pem", tmp_path / "key.pem"
    make = ["openssl", "req", "-x509", "-newkey", "ec", "-pkeyopt", "ec_paramgen_curve:prime256v1", "-nodes", "-days", "2", "-subj", "/CN=relay.example", "-addext", "subjectAltName=IP:127.0.0.1"]  # fmt: skip
    subprocess.run([*make, "-keyout", key, "-out", cert], check=True, capture_output=True)
    served = Server(tmp_path / "data", "serve", "--host", "0.0.0.0", "--name", "127.0.0.1", "--cert", str(cert), "--key", str(key))  # fmt: skip
    trusted = ssl.create_default_context(cafile=str(cert))
    server = served.start(trusted)
    try:
        code = server.code()
        with httpx.Client(base_url=server.url, headers=JSON, verify=trusted) as client:
            assert client.get("/api/plans").status_code == 401
            entered = client.post("/api/enter", json={"code": code})
            assert entered.status_code == 204 and "Secure" in entered.headers["set-cookie"]
            assert client.get("/api/plans").status_code == 200
        with pytest.raises(httpx.TransportError):
            httpx.get(server.url.replace("https", "http"))
    finally:
        server.kill()
    for wrong in (["--cert", str(cert)], ["--cert", str(cert), "--key", str(cert)], ["--cert", str(tmp_path / "none"), "--key", str(key)]):  # fmt: skip
        assert main(["serve", "--data", str(tmp_path / "d"), *wrong]) == 2


@pytest.mark.parametrize(("proxy", "believed"), [("127.0.0.1", True), ("192.0.2.1", False)])
def test_a_forwarded_address_is_believed_from_the_declared_proxy_alone(
    tmp_path: Path, proxy: str, believed: bool
) -> None:
    """Behind one, nobody counts as this machine: a code is shown, and entered wrongly by one caller it still lets in others."""
    server = Server(tmp_path / "data", "serve", "--proxy", proxy).start()
    try:
        code = server.code()
        with server.client() as client:
            assert client.get("/api/plans").status_code == 401
            wrong = {"X-Forwarded-For": "203.0.113.66"}
            answers = [client.post("/api/enter", json={"code": "no"}, headers=wrong).status_code for _ in range(11)]  # fmt: skip
            assert answers[-1] == 429
            other = {"X-Forwarded-For": "203.0.113.67", "X-Forwarded-Proto": "https"}
            entered = client.post("/api/enter", json={"code": code}, headers=other)
            assert entered.status_code == (204 if believed else 429)
            assert ("Secure" in entered.headers.get("set-cookie", "")) == believed
    finally:
        server.kill()


def test_what_is_this_machine_and_by_which_names_it_is_called() -> None:
    assert all(map(is_here, ("127.0.0.1", "localhost", "::1", "[::1]", "127.1.2.3")))
    assert not any(map(is_here, ("0.0.0.0", "::", "192.168.20.5", "relay.local")))
    assert names_for("192.168.20.5", []) == ["192.168.20.5"] and names_for("0.0.0.0", ["relay.local"]) == [
        "relay.local"
    ]
    for everywhere in ("0.0.0.0", "::", "[::]"):
        with pytest.raises(ValueError, match="--name"):
            names_for(everywhere, [])


NAMES = [
    '<a href="x">&amp;',
    "]]>",
    "=1+1",
    "ナ 🎥 \u202e",
    "'; DROP TABLE plans; --",
    "\u00a0=cmd",
    "a" * 80,
    "é\u0301",
    "&#0;",
]


def test_xml_and_svg_are_well_formed_for_any_name(client: TestClient, plan: str) -> None:
    for n, name in enumerate(NAMES):
        edits = [
            put("device", "camera", "name", name),
            put("place", "slipway", "name", name),
            put("show", None, "name", name),
        ]
        answer = send(client, plan, n + 1, *(e.model_dump(mode="json") for e in edits))
        assert answer.status_code == 200, answer.text
        for path in ("signal.graphml", "map.svg"):
            text = client.get(f"{plan}/{path}").content
            root = ElementTree.fromstring(text)
            words = "".join(root.itertext())
            assert name.strip()[:12] in words or path == "map.svg"


@pytest.mark.parametrize(
    "cell", ["=1+1", "+1", "-1", "@x", " =1", "\t=1", "\u00a0=1", "\u3000@x", "\ufeff=1", "＝1+1", "＋1", "－1", "＠x", " ＝1", "'=1", '"=1', "\u200b=1", "﹦1"],
)  # fmt: skip
def test_no_cell_is_run_by_a_spreadsheet_and_each_is_read_back(cell: str) -> None:
    assert guarded(cell).startswith("'") and unguarded(guarded(cell)) == cell
    table = Table(id="x", title="X", columns=("A",), rows=((cell,),), empty="")
    assert next(csv.reader(io.StringIO(write_csv(table).split("\r\n", 1)[1], newline="")))[0] == f"'{cell}"
    for harmless in ("192.168.20.30", "Slipway − weir", "a=b", ""):
        assert guarded(harmless) == harmless
