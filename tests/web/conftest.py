"""An application over a folder of its own, and a client for it."""

from collections.abc import Iterator
from pathlib import Path

import pytest
from fastapi.testclient import TestClient

from humble_relay.formats.plan_file import write_plan
from humble_relay.web.app import make_app
from tests.build import STEADY, small_show


@pytest.fixture
def client(tmp_path: Path) -> Iterator[TestClient]:
    headers = {"content-type": "application/json"}
    with TestClient(make_app(tmp_path), base_url="http://127.0.0.1", headers=headers) as found:
        yield found


@pytest.fixture
def plan(client: TestClient) -> str:
    """The path of a small show on the server."""
    answer = client.post("/api/plans/import", content=write_plan(small_show(), STEADY, keys=True))
    assert answer.status_code == 201, answer.text
    return f"/api/plans/{answer.json()['id']}"
