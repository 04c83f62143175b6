"""Eight heavy askers of each kind at once: a ninth who edits and reads a plan of their own is served all the while.

The bound is wide, for machines that do other things besides: `make bench` prints the waits. Before heavy work had its turn,
each kind kept the ninth waiting for 4.5 to 23 s.
"""

import json
import time
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path
from typing import Any

import pytest

from humble_relay.core.plan.survey import Survey
from humble_relay.formats.plan_file import write_plan
from tests import soak
from tests.crowd import (
    DEMO,
    Ask,
    Crowd,
    children,
    crowd,
    junk,
    largest,
    paste,
    post,
    sixty_by_twenty,
    wrong_edits,
)
from tests.server import Server

pytestmark = [pytest.mark.xdist_group("crowd"), soak.further]  # one server, and never two crowds at once
LONGEST_S, MOST_MB, ANSWERED_S = 3.0, 2500, 5.0
"""How long the ninth may wait for one answer, what server and helpers may take together, and how long the eight are waited for."""


@pytest.fixture(scope="module")
def server(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    found = Server(tmp_path_factory.mktemp("crowd") / "data").start()
    yield found
    found.kill()


def eight(server: Server, ask: Ask) -> Crowd:
    found = crowd(server, ask, 2, ANSWERED_S)
    assert found.longest_s < LONGEST_S and found.most_mb < MOST_MB, found
    assert not found.statuses.keys() - {200, 201, 409, 422, 503}, found
    return found


def test_who_sends_two_hundred_thousand_errors_is_told_the_first(server: Server) -> None:
    eight(server, post(f"{DEMO}/edits", wrong_edits(), 1))
    box = {
        "kind": "add-device",
        "item": {"id": "x", "name": "x", "kind": "camera", "ports": [{"a": 1}] * 200},
    }
    with server.client(30) as client:
        some = client.post(f"{DEMO}/edits", json={"edits": [box] * 5}, headers={"If-Match": '"1"'})
    assert some.status_code == 422 and some.json()["detail"].startswith(
        "edits 1 add-device item ports 1 id: is missing"
    )


@soak.only
def test_who_sends_junk_or_pastes_without_end_holds_up_nobody(server: Server) -> None:
    eight(server, post("/api/plans/import", junk(30_000_000)))
    eight(server, post("/api/measurements/read", json.dumps({"text": paste(160_000)}).encode()))


@soak.only
def test_the_best_that_fits_is_found_for_sixty_pictures_over_twenty_uplinks(server: Server) -> None:
    with server.client(60) as client:
        path = f"/api/plans/{client.post('/api/plans/import', content=write_plan(*sixty_by_twenty())).json()['id']}"
        eight(server, post(f"{path}/asked/allocation", b"{}"))
        alone = client.post(f"{path}/asked/allocation")
    assert alone.status_code == 200 and alone.json()["best"], alone.text[:300]


@soak.only
def test_the_largest_plan_is_imported_opened_edited_and_drawn(server: Server) -> None:
    plan = largest()
    assert (len(plan.devices), sum(len(d.ports) for d in plan.devices)) == (3000, 27_000)
    text = write_plan(plan, Survey()).encode()
    rename = {"kind": "set", "noun": "device", "id": "box-7", "field": "name", "value": "Gala"}
    with server.client(60) as client:
        made: Any = client.post("/api/plans/import", content=text)
        assert made.status_code == 201, made.text[:300]
        path = f"/api/plans/{made.json()['id']}"
        for ask in (
            post("/api/plans/import", text),
            lambda asker, _: asker.get(path),
            lambda asker, n: asker.post(f"{path}/try", json={"edits": [rename | {"id": f"box-{n}"}]}),
            lambda asker, _: asker.get(f"{path}/map"),
        ):
            eight(server, ask)
        edited = client.post(f"{path}/edits", json={"edits": [rename]}, headers={"If-Match": '"1"'})
        assert edited.status_code == 200 and edited.json()["plan"]["devices"][7]["name"] == "Gala"


@pytest.mark.parametrize("ended", ["stopped", "killed"])
def test_no_helper_outlives_the_server(tmp_path: Path, ended: str) -> None:
    server = Server(tmp_path / "data").start()
    with server.client() as client, ThreadPoolExecutor() as asker:
        asking = asker.submit(lambda: client.post("/api/plans/import", content=junk(12_000_000)).status_code)
        for _ in range(200):
            if helpers := [*children(server.pid)]:
                break
            time.sleep(0.05)
        time.sleep(0.3)
        assert server.stop() < 3 if ended == "stopped" else server.kill() is None
        assert asking.exception() or asking.result() == 503
    for _ in range(600):
        left = [h for h in helpers if "anyio" in command_of(h)]
        if not left:
            return
        time.sleep(0.05)
    raise AssertionError(f"still there: {left}")


def command_of(process: int) -> str:
    """What a process was begun with; nothing where it has ended."""
    with suppress(OSError):
        return Path(f"/proc/{process}/cmdline").read_text()
    return ""


def test_a_helper_that_takes_too_much_is_ended_and_the_next_one_works(server: Server, tmp_path: Path) -> None:
    """The bounds on a helper, lowered: what does not fit is refused in words, and what fits is done after it."""
    from anyio import run

    from humble_relay.web import heavy, helper

    async def asked(size: int) -> object:
        return helper.given_back(
            await heavy.by_helper(helper.pickle.dumps((bytearray, (size,))), lambda: None)
        )

    async def both() -> None:
        with pytest.raises(helper.HTTPException, match="more memory or time"):
            await asked(helper.MEMORY_MB * 2_000_000)
        assert await asked(9) == bytearray(9)

    with ThreadPoolExecutor() as elsewhere:  # this thread may have a loop already
        elsewhere.submit(run, both).result()
