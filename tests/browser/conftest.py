"""The real application in headless Chromium: a server of its own, and a page on it."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from humble_relay.demo import DEMO_ID, demo_plan, demo_stock
from humble_relay.formats.plan_file import write_plan
from tests.server import Server

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--host-resolver-rules=MAP relay.example 127.0.0.1",
]
expect.set_options(timeout=30_000)  # a busy machine is slow, not wrong


@pytest.fixture(scope="session")
def shared(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Server]:
    """One server for all tests of a worker that neither kill it nor look at its files."""
    found = Server(tmp_path_factory.mktemp("shared") / "data").start()
    yield found
    found.kill()


@pytest.fixture
def server(shared: Server) -> Server:
    """The shared server as it was when it began: the demo and its stock, and nothing else."""
    demo = demo_plan()
    with shared.client() as client:
        for plan in client.get("/api/plans").json():
            client.delete(f"/api/plans/{plan['id']}", headers={"If-Match": f'"{plan["version"]}"'})
        stock = {h.id: h.model_dump(mode="json") for h in demo_stock()}
        found = {h["id"]: h for h in client.get("/api/stock").json()}
        for id in found.keys() - stock.keys():
            client.delete(f"/api/stock/{id}")
        for entry in client.get("/api/gear").json():
            if entry["own"]:
                client.delete(f"/api/gear/{entry['model']['id']}")
        for id, holding in stock.items():
            if found.get(id) != holding:
                client.put(f"/api/stock/{id}", json=holding).raise_for_status()
        made = client.post("/api/plans/import", content=write_plan(demo.plan, demo.survey, keys=True))
        assert made.json()["id"] == DEMO_ID, made.text
    return shared


@pytest.fixture
def own_server(tmp_path: Path) -> Iterator[Server]:
    """A server of one's own, to be killed."""
    found = Server(tmp_path / "data").start()
    yield found
    found.kill()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(executable_path="/usr/bin/chromium-headless-shell", args=FLAGS)
        yield found
        found.close()


@pytest.fixture
def page(browser: Browser, server: Server) -> Iterator[Page]:
    with opened(browser, server) as found:
        yield found


@contextmanager
def opened(browser: Browser, server: Server) -> Iterator[Page]:
    """A page of its own, which must not err nor ask anything of anybody but the server."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800},
        locale="en-GB",
        timezone_id="Europe/London",
        accept_downloads=True,
    )
    errors: list[str] = []
    outside: list[str] = []

    def watch(found: Page) -> None:
        found.on("pageerror", lambda error: errors.append(str(error)))
        found.on(
            "request",
            lambda r: None if r.url.startswith((server.url, "data:", "blob:")) else outside.append(r.url),
        )

    context.on("page", watch)
    yield context.new_page()
    context.close()
    assert not errors and not outside
