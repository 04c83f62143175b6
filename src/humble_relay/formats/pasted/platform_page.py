"""The page of a platform, copied whole: the server's address and the stream key, taken apart."""

import re
from urllib.parse import urlsplit

from humble_relay.core.hidden_text import left_out
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Stream
from humble_relay.core.plan.edits import Edit, SetField
from humble_relay.core.views.commands.line_meaning import Alternative

_URL = re.compile(r"\b(?:rtmps?|srt)://\S+", re.IGNORECASE)
_KEY = re.compile(
    r"(?:stream[ -]?key|stream name|passphrase|key)\b[ \t]*[:=]?[ \t]*(?:\r?\n[ \t]*)?(\S{4,})", re.IGNORECASE
)
_LABEL = re.compile(
    r"(?:(?:primary|backup) )?(?:server|ingest|rtmps?|srt|stream)? ?(?:url|server|address|key|name)\W*",
    re.IGNORECASE,
)
"""A line that only says what the next one is."""
PageRead = tuple[list[Alternative], list[str]]


def page_in(case: Case, text: str) -> PageRead:
    """For each stream to a platform, those first that go to the host that is named: the platform's host and application, the stream's
    key. Nothing where the text has no address of a server."""
    url, key = _URL.search(text), _KEY.search(_URL.sub(" ", text))
    if not url:
        return [], []
    try:
        parts = urlsplit(url.group().rstrip(".,;"))
        host, port = parts.hostname or "", parts.port
    except ValueError:
        return [], []
    streams = [
        s
        for s in case.streams
        if case.devices[s.to_device].ingest and case.devices[s.to_device].kind == "platform"
    ]
    here = [s for s in streams if _host(case, s) == host]
    typed = key.group(1) if key else None
    found = [
        Alternative(
            title=f"{s.name}: {left_out(parts.scheme)}://{host}{f':{port}' if port else ''}{f', application {app}' if (app := parts.path.strip('/')) else ''}{', key ••••••••' if typed else ', no key'}",
            edits=tuple(_edits(case, s, host, port, parts.path.strip("/"), typed)),
            pick=f"link:{s.id}",
        )
        for s in here or streams
    ]
    if not streams:
        found = [
            Alternative(
                title=f"{host} takes streams, and no stream of this plan goes to a platform yet: lead one there in Signal",
                go="signal",
                page="finder",
            )
        ]
    known = {url.group(), *(key.groups() if key else ())}
    left = [
        line.strip()
        for line in text.splitlines()
        if line.strip()
        and not _LABEL.fullmatch(line.strip())
        and not _KEY.search(line)
        and not any(k in line for k in known)
    ]
    return [a for a in found if a.edits or a.go], left


def _host(case: Case, stream: Stream) -> str:
    ingest = case.devices[stream.to_device].ingest
    return ingest.host if ingest else ""


def _edits(case: Case, stream: Stream, host: str, port: int | None, app: str, key: str | None) -> list[Edit]:
    ingest = case.devices[stream.to_device].ingest
    edits: list[Edit] = []
    for field, value in (("host", host), ("port", port), ("app", app)):
        if value and getattr(ingest, field) != value:
            edits.append(SetField(noun="device", id=stream.to_device, field=f"ingest.{field}", value=value))
    if key:
        edits.append(SetField(noun="link", id=stream.id, field="key", value=key))
    return edits
