"""The code that lets people in where the application listens beyond this machine: tried, counted by who tries, and remembered."""

import ipaddress
import secrets
import time
from collections.abc import Callable
from http.cookies import CookieError, SimpleCookie
from typing import NamedTuple

from cachetools import TTLCache

_COOKIE = "humble-relay"
WRONG_BY_ONE, WRONG_BY_ALL = 10, 100
"""Wrong codes within a minute: of one caller, who is then asked to wait; of all together, where each who is not in is answered
late from then on."""
LATE_S = 2.0
_MINUTE_S = 60.0
_CALLERS = 10_000


class EnteredCode(NamedTuple):
    """What came of a code: whether it fits (None: this caller was wrong too often), and after how many s to say so."""

    fits: bool | None
    after_s: float


class Tries:
    """Codes that were entered, counted by who entered them: guessing is slow, and the wrong ones of others lock nobody out."""

    def __init__(self) -> None:
        self._wrong: TTLCache[str, int] = TTLCache(_CALLERS, _MINUTE_S)
        self._wrong_by_all: list[float] = []

    def tried(self, caller: str, fits: Callable[[], bool]) -> EnteredCode:
        """What comes of a code that a caller enters, by its address; whether it fits is looked at only if the caller may try."""
        who, now = _caller(caller), time.monotonic()
        self._wrong_by_all = [at for at in self._wrong_by_all if now - at < _MINUTE_S]
        late = LATE_S if len(self._wrong_by_all) >= WRONG_BY_ALL else 0.0
        if self._wrong.get(who, 0) >= WRONG_BY_ONE:
            return EnteredCode(None, late)
        if fits():
            return EnteredCode(True, late)
        self._wrong[who] = self._wrong.get(who, 0) + 1
        self._wrong_by_all.append(now)
        return EnteredCode(False, max(late, 0.2))


class Code:
    """The code, and the token that entering it gives."""

    def __init__(self, code: str) -> None:
        self._code, self.token = code, secrets.token_urlsafe(24)
        self._tries = Tries()

    def tried(self, code: str, caller: str) -> EnteredCode:
        """What comes of a code that a caller enters, by its address."""
        plain = code.strip().lower().replace("-", "").replace(" ", "")
        known = self._code.replace("-", "").encode()
        return self._tries.tried(caller, lambda: secrets.compare_digest(plain.encode(), known))

    def is_in(self, cookies: str) -> bool:
        """Whether the request carries what entering gave."""
        try:
            carried = SimpleCookie(cookies).get(_COOKIE)
        except CookieError:
            return False
        return carried is not None and secrets.compare_digest(carried.value.encode(), self.token.encode())

    def cookie(self, encrypted: bool) -> str:
        """What entering gives; where what is sent is encrypted, it is never sent in clear."""
        secure = "; Secure" if encrypted else ""
        return f"{_COOKIE}={self.token}; HttpOnly; SameSite=Strict; Path=/{secure}"


def _caller(address: str) -> str:
    """Who an address is: of IPv6 the whole network of /64 that one caller has to choose from."""
    try:
        found = ipaddress.ip_address(address.split("%")[0])
    except ValueError:
        return address
    return str(ipaddress.ip_network((found, 64), strict=False)) if found.version == 6 else str(found)
