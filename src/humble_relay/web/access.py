"""Who may ask what: engineers everything, the crew what it needs of its own plan, all others nothing but to enter."""

import re
from http.cookies import CookieError, SimpleCookie
from typing import Literal

from humble_relay.core.frozen import Frozen
from humble_relay.store.crew import Crew, CrewPhone
from humble_relay.store.trouble import StoreTrouble
from humble_relay.web.code import Code

CREW_COOKIE = "humble-relay-crew"
TO_ENTER = (("POST", "/api/enter"), ("POST", "/api/join"))
"""What is answered to everybody: entering by a code."""
OF_THE_CREW = tuple(
    (method, re.compile(rf"/api/plans/(?P<plan>[^/]+)/{what}"))
    for method, what in (
        ("GET", "walk"),
        ("GET", "walk/papers"),
        ("GET", "setup"),
        ("GET", "run-sheet"),
        ("GET", "faults"),
        ("GET", "events"),
        ("GET", "entries"),
        ("POST", "entries"),
        ("POST", "photographs"),
        ("GET", "photographs/[^/]+"),
    )
)
"""What the crew may ask, of the plan whose crew it is. All else is denied."""
_DAYS = 60


class Access(Frozen):
    """Who asks: an engineer, or a phone of the crew of a plan, by the name that was typed on the phone."""

    kind: Literal["engineer", "crew"]
    plan: str = ""
    name: str = ""


def access_of(cookies: str, code: Code | None, crew: Crew) -> Access | None:
    """Who a request is from; None of nobody who has entered. Where only this machine can ask, it is an engineer."""
    if code is None or code.is_in(cookies):
        return Access(kind="engineer")
    found = crew_of(cookies, crew)
    return Access(kind="crew", plan=found.plan, name=found.name) if found else None


def crew_of(cookies: str, crew: Crew) -> CrewPhone | None:
    """The phone of a crew that a request is from; None where it is from none."""
    try:
        carried = SimpleCookie(cookies).get(CREW_COOKIE)
        return crew.joined(carried.value) if carried else None
    except (CookieError, StoreTrouble):
        return None


def may(access: Access | None, method: str, path: str) -> bool:
    """Whether who asks may ask this: denied unless it is said here."""
    if (method, path) in TO_ENTER or not path.startswith("/api/"):
        return True
    if access is None or access.kind == "engineer":
        return access is not None
    if (method, path) == ("GET", "/api/me"):
        return True
    return any(
        method == allowed and (found := pattern.fullmatch(path)) and found["plan"] == access.plan
        for allowed, pattern in OF_THE_CREW
    )


def crew_cookie(token: str, encrypted: bool) -> str:
    """What joining gives; where what is sent is encrypted, it is never sent in clear."""
    secure = "; Secure" if encrypted else ""
    return f"{CREW_COOKIE}={token}; HttpOnly; SameSite=Strict; Path=/; Max-Age={_DAYS * 86_400}{secure}"
