"""How long a ninth user waits, at the longest, while eight others ask for what is heavy; and the memory of the server then."""

import json
import tempfile
from pathlib import Path

from humble_relay.core.plan.survey import Survey
from humble_relay.formats.plan_file import write_plan
from tests.crowd import DEMO, Ask, crowd, junk, largest, paste, post, sixty_by_twenty, wrong_edits
from tests.server import Server


def waits() -> None:
    """A line for each kind of heavy request; all eight are answered."""
    with tempfile.TemporaryDirectory() as folder:
        server = Server(Path(folder) / "data").start()
        try:
            _each(server)
        finally:
            server.kill()


def _each(server: Server) -> None:
    whole = write_plan(largest(), Survey()).encode()
    with server.client(60) as client:
        sixty, large = (
            f"/api/plans/{client.post('/api/plans/import', content=text).json()['id']}"
            for text in (write_plan(*sixty_by_twenty()), whole)
        )
    rename = {"kind": "set", "noun": "device", "field": "name", "value": "Gala"}
    kinds: dict[str, Ask] = {
        "200 000 errors in 2.2 MB of edits": post(f"{DEMO}/edits", wrong_edits(), 1),
        "49 MB of junk imported": post("/api/plans/import", junk(49_000_000)),
        "pastes of 160 kB": post("/api/measurements/read", json.dumps({"text": paste(160_000)}).encode()),
        "allocations of 60 pictures over 20 uplinks": post(f"{sixty}/asked/allocation", b"{}"),
        "3000 boxes, 27 000 ports: imported": post("/api/plans/import", whole),
        "opened": lambda client, _: client.get(large),
        "edits of it tried": lambda client, n: client.post(f"{large}/try", json={"edits": [rename | {"id": f"box-{n}"}]}),
        "drawn": lambda client, _: client.get(f"{large}/map"),
    }  # fmt: skip
    for name, ask in kinds.items():
        found = crowd(server, ask)
        how = ", ".join(f"{count} × {status}" for status, count in sorted(found.statuses.items()))
        print(f"{'eight at once: ' + name:<60} {found.longest_s * 1000:8.0f} ms longest wait of the ninth   (target 1000 ms; {found.most_mb:.0f} MB; {how})")  # fmt: skip
