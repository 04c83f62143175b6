"""The real application in headless Chromium: a server of its own, and a page on it."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Page, expect, sync_playwright

from tests.server import Server

FLAGS = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
expect.set_options(timeout=10_000)


@pytest.fixture
def server(tmp_path: Path) -> Iterator[Server]:
    found = Server(tmp_path / "data")
    found.start()
    yield found
    found.kill()


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        found = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=FLAGS)
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
