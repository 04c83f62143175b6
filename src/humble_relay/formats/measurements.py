"""Measurements read from what people paste: loose lines, ping's text, CSV, the JSON of iperf3 and mtr."""

import csv
import io
import re
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import Any, Literal

from humble_relay.core.frozen import EARLIEST, LATEST, Frozen
from humble_relay.core.plan.moments import typed_moment
from humble_relay.formats.json_text import read_json

LARGEST_CHARACTERS = 1_000_000
LONGEST_LINE = 500
"""A longer line is no measurement, and searching it for one costs its length squared."""
MOST_DRAFTS = 5000
_MOST_SKIPPED = 50


class ReadRow(Frozen):
    """A measurement as far as the text gives it; what is missing is for the technician to add."""

    at: datetime | None = None
    wall: str = ""
    """The same moment on the show's clock, as a date-time field has it; now, where the text says none."""
    line: str = ""
    """The text it was read from."""
    up_mbps: float | None = None
    down_mbps: float | None = None
    rtt_ms: float | None = None
    jitter_ms: float | None = None
    loss_pct: float | None = None
    probes: int | None = None
    """Over how many packets the loss was counted."""
    connections: int | None = None
    """How many TCP connections measured the upload at once."""
    conditions: Literal["empty", "busy", "unknown"] = "unknown"
    method: str = ""


class Reading(Frozen):
    """The drafts found in a text, and the lines nothing was made of."""

    kind: Literal["lines", "ping", "csv", "iperf3", "mtr"]
    drafts: tuple[ReadRow, ...]
    skipped: tuple[str, ...] = ()


class UnreadableMeasurement(ValueError):
    """Nothing could be read; the message says what would be."""


def read_measurements(text: str, now: datetime | None = None) -> Reading:
    """The measurements in a pasted text. Raises UnreadableMeasurement when there are none.

    Times without a zone are of the zone of `now`, times without a date are of its day; without it they stay as read.
    """
    if len(text) > LARGEST_CHARACTERS:
        raise UnreadableMeasurement("That is more than a million characters: paste only the measurements.")
    kinds: list[tuple[bool, Callable[[str], Reading]]] = [
        (bool(re.match(r'\s*\{\s*"report"', text)), read_mtr),
        (text.lstrip().startswith("{"), read_iperf3),
        (bool(re.match(r"(at|time|date|when|up)\w*\s*[,;]", text.lstrip()[:LONGEST_LINE], re.I)), read_csv),
        (True, lambda loose: read_lines(loose, now)),
    ]
    reading = next(read for suits, read in kinds if suits)(text)
    _not_too_many(len(reading.drafts))
    drafts = tuple(_on_clock(d, now) for d in reading.drafts if _in_our_time(d))
    late = [
        f"{d.line or d.method} (its day is not between 2000 and 2099)"
        for d in reading.drafts
        if not _in_our_time(d)
    ]
    reading = reading.model_copy(update={"drafts": drafts, "skipped": (*reading.skipped, *_few(late))})
    if not reading.drafts:
        raise UnreadableMeasurement(
            " · ".join(reading.skipped[:3])
            + (". " if reading.skipped else "")
            + "No measurement found. Write one a line, such as: 18.2 up 94 down 23 ms. Ping's own text, CSV with a heading, and the JSON of iperf3 and mtr are read too."
        )
    return reading


_NUMBER = r"((?<![\d.,])\d{1,9}(?:[.,]\d{1,9})?(?!\d))"
_RATE_UNIT = r"\s*(k|m|g)?(bit/s|bits/s|bytes?/s|bps|b/s|bit)?\s*"
_LABEL_FIRST = rf"WORD[\s:=]*{_NUMBER}{_RATE_UNIT}(?!\w)"
_NUMBER_FIRST = rf"{_NUMBER}{_RATE_UNIT}WORD\b"
_UP, _DOWN = "up(?:load)?", "down(?:load)?"
_EARLIEST = datetime(1970, 1, 1, tzinfo=UTC)
"""What iperf3 counts its seconds from (POSIX)."""
_SOME_DAY = datetime.min
"""The day of a time that was read without one."""
_CLOCK = r"(?<![\d:.,])([0-2]?\d:\d\d)(?![\d:])"
_BELOW_ZERO = r"(?<![\w.,])[-−]\d"
_DAY_FIRST = r"(\d{1,2}\s+[A-Za-z]{3,9}\.?\s+\d{4},?\s+\d{1,2}:\d\d)"
_ONE_CONNECTION = r"\b(?:single|one|1)[\s-]+(?:connection|stream)\b"
_AT = r"(\d{4}-\d\d-\d\d[T ]\d\d:\d\d(?::\d\d)?(?:Z|[+-]\d\d:?\d\d)?)"


def read_lines(text: str, now: datetime | None = None) -> Reading:
    """Loose lines such as `18.2 up 94 down 23 ms`; ping's text among them joins the nearest line. Days are read as of `now`."""
    lines = [line for line in text.splitlines() if line.strip()]
    skipped = [f"{line.strip()[:60]}… ({len(line)} characters)" for line in lines if len(line) > LONGEST_LINE]
    ping, rest = _take_ping([line for line in lines if len(line) <= LONGEST_LINE])
    drafts = []
    for line in rest:
        label = re.search(rf"\b(?:{_UP}|{_DOWN})\b", line, re.I)
        numbered = label and re.search(rf"{_NUMBER}{_RATE_UNIT}$", line[: label.start()], re.I)
        shape = _NUMBER_FIRST if numbered else _LABEL_FIRST
        up_pattern, down_pattern = shape.replace("WORD", _UP), shape.replace("WORD", _DOWN)
        up = _rate(up_pattern, line)
        at, wrong = _moment(line, now)
        if re.search(_BELOW_ZERO, line):
            wrong = "a rate or a time is never below zero"
        if up is None or wrong:
            skipped.append(f"{line.strip()[:120]}{f' ({wrong})' if wrong else ''}")
            continue
        plain = re.sub(up_pattern, " ", re.sub(down_pattern, " ", line, flags=re.I), flags=re.I)
        loss = re.search(rf"{_NUMBER}\s*%", plain)
        counted = re.search(r"(?<![\d.,])([1-9]\d{0,8})\s*(?:packets|probes)\b", plain, re.I)
        jitter = re.search(rf"jitter[\s:=]*{_NUMBER}|{_NUMBER}\s*ms\s*jitter", plain, re.I)
        without_jitter = plain.replace(jitter.group(0), " ") if jitter else plain
        rtt = re.search(rf"{_NUMBER}\s*ms|(?:rtt|ping)[\s:=]*{_NUMBER}", without_jitter, re.I)
        busy = re.search(r"\b(busy|full|empty)\b", line, re.I)
        drafts.append(
            ReadRow(
                at=at,
                line=line.strip()[:200],
                up_mbps=up,
                down_mbps=_rate(down_pattern, line),
                rtt_ms=_first(rtt),
                jitter_ms=_first(jitter),
                loss_pct=_first(loss),
                probes=int(counted.group(1)) if counted and loss else None,
                connections=1 if re.search(_ONE_CONNECTION, line, re.I) else None,
                conditions="unknown" if not busy else "empty" if busy.group(1).lower() == "empty" else "busy",
                method="typed",
            )
        )
    if ping is None:
        return Reading(kind="lines", drafts=tuple(drafts), skipped=_few(skipped))
    line_before = drafts[-1] if drafts else ReadRow(method="ping")
    found = {k: v for k, v in ping.items() if v is not None}
    joined = line_before.model_copy(update=found | {"method": "ping" if not drafts else "typed, with ping"})
    return Reading(kind="ping", drafts=(*drafts[:-1], joined), skipped=_few(skipped))


_PING_LINE = re.compile(r"icmp_seq|bytes of data|ping statistics|packets transmitted|min/avg/max|time[=<]")


def _take_ping(lines: list[str]) -> tuple[dict[str, float | None] | None, list[str]]:
    """Round trip, jitter and loss from ping's lines, and the lines that are not ping's."""
    times, summary, loss, sent = list[float](), None, None, None
    for line in lines:
        times += [float(t) for t in re.findall(r"time[=<](\d{1,9}(?:\.\d{1,9})?)\s*ms", line)]
        loss = loss or re.search(r"(?<![\d.])(\d{1,3}(?:\.\d{1,9})?)%\s*(?:packet )?loss", line)
        sent = sent or re.search(r"(?<!\d)(\d{1,9}) packets transmitted", line)
        summary = summary or re.search(
            r"min/avg/max(?:/\w{1,9})?\s*=\s*[\d.]{1,20}/(\d{1,9}(?:\.\d{1,9})?)/", line
        )
    if not times and not summary:
        return None, lines
    rest = [line for line in lines if not _PING_LINE.search(line)]
    rtt = float(summary.group(1)) if summary else sum(times) / len(times)
    return {
        "rtt_ms": rtt,
        "jitter_ms": jitter_ms(times),
        "loss_pct": float(loss.group(1)) if loss else None,
        "probes": int(sent.group(1)) or None if sent else None,
    }, rest


def jitter_ms(times: list[float]) -> float | None:
    """Interarrival jitter in ms: J += (|D| − J) / 16 (RFC 3550 §6.4.1), over round trips, which stand
    in for the one-way transit times ping cannot see. None for fewer than two."""
    if len(times) < 2:
        return None
    jitter = 0.0
    for before, now in zip(times, times[1:], strict=False):  # noqa: RUF007
        jitter += (abs(now - before) - jitter) / 16
    return round(jitter, 3)


_COLUMNS = {
    "at": ("at", "time", "date", "when"),
    "up_mbps": ("up", "up_mbps", "upload"),
    "down_mbps": ("down", "down_mbps", "download"),
    "rtt_ms": ("rtt", "rtt_ms", "ping", "latency"),
    "jitter_ms": ("jitter", "jitter_ms"),
    "loss_pct": ("loss", "loss_pct"),
    "probes": ("probes", "packets"),
    "connections": ("connections",),
    "conditions": ("conditions",),
    "method": ("method",),
}


def read_csv(text: str) -> Reading:
    """CSV with a heading naming at least `up`, in Mb/s; comma or semicolon, decimal point or comma."""
    head = text.lstrip().splitlines()[0]
    plain = "\n".join(text.strip().splitlines())
    try:
        rows = iter(list(csv.reader(io.StringIO(plain), delimiter=";" if ";" in head else ",")))
    except csv.Error as error:
        raise UnreadableMeasurement(f"The CSV cannot be read: {error}.") from None
    _not_too_many(plain.count("\n"))
    names = [re.sub(r"[^a-z_]", "", cell.lower().split("(")[0].strip()) for cell in next(rows)]
    columns = {f: next((names.index(n) for n in known if n in names), None) for f, known in _COLUMNS.items()}
    if columns["up_mbps"] is None:
        raise UnreadableMeasurement(
            "The CSV has no column called up (upload in Mb/s). Name it in the first line."
        )
    drafts, skipped = [], []
    for row in rows:
        cells = {
            f: row[i].strip() for f, i in columns.items() if i is not None and i < len(row) and row[i].strip()
        }
        try:
            values: dict[str, Any] = {
                f: float(v.replace(",", "."))
                for f, v in cells.items()
                if f not in ("at", "conditions", "method")
            }
            values |= {k: cells[k] for k in ("conditions", "method", "at") if k in cells}
            if any(isinstance(v, float) and v < 0 for v in values.values()):
                raise ValueError("a rate or a time is never below zero")
            said = {"method": "from CSV", "line": ",".join(row)[:200]}
            drafts.append(ReadRow.model_validate(said | values))
        except ValueError as error:
            why = str(error) if "below zero" in str(error) else "a number or a date in it cannot be read"
            skipped.append(f"{','.join(row)[:120]} ({why})")
    return Reading(kind="csv", drafts=tuple(drafts), skipped=_few(skipped))


def read_iperf3(text: str) -> Reading:
    """One run of `iperf3 -J`: what arrived at the far end, its round trip, jitter and loss."""
    try:
        doc = read_json(text)
        if doc.get("error"):
            raise UnreadableMeasurement(f"iperf3 itself failed: {doc['error']}")
        start, end = doc["start"], doc["end"]
        test = start["test_start"]
        udp = test["protocol"].upper() == "UDP"
        whole = end.get("sum_received") or end["sum"]
        mbps = round(whole["bits_per_second"] / 1e6, 3)
        sender = (end.get("streams") or [{}])[0].get("sender", {})
        rtt = sender.get("mean_rtt")
        back = end.get("sum_received_bidir_reverse")
        reverse = bool(test.get("reverse"))
        draft = ReadRow(
            at=_EARLIEST + timedelta(seconds=start["timestamp"]["timesecs"]),
            up_mbps=None if reverse else mbps,
            down_mbps=mbps if reverse else round(back["bits_per_second"] / 1e6, 3) if back else None,
            rtt_ms=round(rtt / 1000, 3) if rtt else None,
            jitter_ms=end["sum"].get("jitter_ms") if udp else None,
            loss_pct=end["sum"].get("lost_percent") if udp else None,
            probes=end["sum"].get("packets") or None if udp else None,
            connections=None if udp else test.get("num_streams") or None,
            method=f"iperf3 {'UDP' if udp else 'TCP'}",
        )
    except (
        ValueError,
        KeyError,
        TypeError,
        AttributeError,
        IndexError,
        OverflowError,
        RecursionError,
    ) as error:
        if isinstance(error, UnreadableMeasurement):
            raise
        raise UnreadableMeasurement(
            "This is not the JSON that iperf3 -J prints: run it with -J and paste the whole output."
        ) from None
    return Reading(kind="iperf3", drafts=(draft,))


def read_mtr(text: str) -> Reading:
    """One report of `mtr --json`: loss and round trip to its last hop, and over how many probes; the upload is still to be
    typed. A hop in between that answers seldom loses nothing of what passes it."""
    try:
        report = read_json(text)["report"]
        last = report["hubs"][-1]
        sent = int(last.get("Snt") or report["mtr"]["tests"])
        draft = ReadRow(
            rtt_ms=round(float(last["Avg"]), 3),
            loss_pct=round(float(last["Loss%"]), 3),
            probes=sent or None,
            line=f"mtr to {last['host']}"[:200],
            method="mtr",
        )
    except (ValueError, KeyError, TypeError, IndexError, AttributeError, OverflowError, RecursionError):
        raise UnreadableMeasurement(
            "This is not the report that mtr --json prints: run it with --json and paste the whole output."
        ) from None
    return Reading(kind="mtr", drafts=(draft,))


def _not_too_many(count: int) -> None:
    if count > MOST_DRAFTS:
        raise UnreadableMeasurement(
            f"That is {count} measurements; at most {MOST_DRAFTS} are taken in at a time. Paste them in parts."
        )


def _moment(line: str, now: datetime | None = None) -> tuple[datetime | None, str]:
    """The moment a line names (a time alone has the first day there is), and what is wrong with it, in words. A day that may be another
    one is refused, and never guessed."""
    whole, clock = re.search(_AT, line), re.search(_CLOCK, line)
    try:
        if in_words := re.search(_DAY_FIRST, line):
            return typed_moment(in_words.group(1), UTC).replace(tzinfo=None), ""
    except ValueError as error:
        return None, str(error)
    try:
        if whole:
            return datetime.fromisoformat(whole.group(1)), ""
        day, wrong = _day(line, now)
        if wrong:
            return None, wrong
        if day and not clock:
            return None, "it has a day and no time: write both, such as 2026-09-11 20:30"
        if clock:
            hour, minute = (int(part) for part in clock.group(1).split(":"))
            if day or now is None:
                return (day or _SOME_DAY).replace(hour=hour, minute=minute), ""
            if (hour, minute) > (now.hour, now.minute):
                return (
                    None,
                    f"{clock.group(1)} is still to come today: write its day too, such as 2026-09-11 20:30",
                )
            return _SOME_DAY.replace(hour=hour, minute=minute), ""
    except ValueError:
        return None, f"there is no {f'day {whole.group(1)}' if whole else f'time {clock and clock.group(1)}'}"
    return None, ""


_SLASHED = (
    r"(?<![\w/])(\d{1,4})/(\d{1,2})(?:/(\d{2,4}))?(?![\w/])|(?<![\w-])(\d{1,2})-(\d{1,2})-(\d{4})(?![\w-])"
)
_DOTTED = r"(?<![\w.])(\d{1,2})\.(\d{1,2})\.(\d{4}|\d{2})?(?![\d.])"
_NAMED = r"\b(\d{1,2})(?:st|nd|rd|th|\.)?\s+(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\b|\b(jan|feb|mar|apr|may|jun|jul|aug|sep|oct|nov|dec)[a-z]*\.?\s+(\d{1,2})\b"
_WEEKDAY = r"\b(mon|tues?|wed(?:nes)?|thu(?:rs)?|fri|sat(?:ur)?|sun)(?:day)?\b|\blast (?:night|week)\b"
_MONTHS = ("jan", "feb", "mar", "apr", "may", "jun", "jul", "aug", "sep", "oct", "nov", "dec")


def _day(line: str, now: datetime | None) -> tuple[datetime | None, str]:
    """The day that a line names otherwise than by an ISO date, at midnight, and what is wrong with it, in words; None where it names none."""
    if back := re.search(r"\b(yesterday|today)\b", line, re.I):
        if now is None:
            return None, f"which day is {back.group(1)}? Write it, such as 2026-09-11 20:30"
        return _midnight(now - timedelta(days=back.group(1).lower() == "yesterday")), ""
    if named := re.search(_NAMED, line, re.I):
        day, month = named.group(1) or named.group(4), (named.group(2) or named.group(3)).lower()
        return _of_the_past(int(day), _MONTHS.index(month) + 1, None, now, named.group())
    if dotted := re.search(_DOTTED, line):
        return _of_the_past(int(dotted.group(1)), int(dotted.group(2)), dotted.group(3), now, dotted.group())
    if slashed := re.search(_SLASHED, line):
        first, second, year = slashed.groups()[:3] if slashed.group(1) else slashed.groups()[3:]
        a, b = int(first), int(second)
        if a > 31 or (a <= 12 and b <= 12 and a != b):
            return None, f"{slashed.group()} may be two days: write it as 2026-09-11"
        return _of_the_past(*((b, a) if b > 12 else (a, b)), year, now, slashed.group())
    if week := re.search(_WEEKDAY, line, re.I):
        return None, f"which day is {week.group()}? Write it, such as 2026-09-11 20:30"
    return None, ""


def _midnight(at: datetime) -> datetime:
    return at.replace(hour=0, minute=0, second=0, microsecond=0, tzinfo=None)


def _of_the_past(
    day: int, month: int, year: str | None, now: datetime | None, said: str
) -> tuple[datetime | None, str]:
    """A day of a month; without its year the last one that there was."""
    if year is None and now is None:
        return None, f"{said.strip()} has no year: write it as 2026-09-11"
    try:
        if year is not None:
            return datetime(int(year) + (2000 if len(year) == 2 else 0), month, day), ""
        assert now
        found = datetime(now.year, month, day)
        return (found if found <= now.replace(tzinfo=None) else found.replace(year=now.year - 1)), ""
    except ValueError:
        return None, f"there is no day {said.strip()}"


def _in_our_time(draft: ReadRow) -> bool:
    """Whether the draft has no day of its own, or one that a measurement may have."""
    day = draft.at and draft.at.date()
    return day is None or day == _SOME_DAY.date() or EARLIEST.date() < day < LATEST.date()


def _on_clock(draft: ReadRow, now: datetime | None) -> ReadRow:
    """The draft with its moment on the clock of `now`."""
    at = draft.at
    if at and at.date() == _SOME_DAY.date():
        at = at.replace(year=now.year, month=now.month, day=now.day) if now else None
    if at and now:
        at = at.replace(tzinfo=now.tzinfo) if at.tzinfo is None else at.astimezone(now.tzinfo)
    wall = at or now
    return draft.model_copy(update={"at": at, "wall": f"{wall.day} {wall:%b %Y, %H:%M}" if wall else ""})


def _few(skipped: list[str]) -> tuple[str, ...]:
    more = len(skipped) - _MOST_SKIPPED
    return (*skipped[:_MOST_SKIPPED], *([f"and {more} lines more"] if more > 0 else []))


def _rate(pattern: str, line: str) -> float | None:
    found = re.search(pattern, line, re.I)
    if not found:
        return None
    unit, of = (found.group(2) or "m").lower(), found.group(3) or ""
    bits = 8 if of in ("B/s", "Bps") or "byte" in of.lower() else 1  # a capital B is a byte
    return float(found.group(1).replace(",", ".")) * {"k": 0.001, "m": 1, "g": 1000}[unit] * bits


def _first(found: "re.Match[str] | None") -> float | None:
    value = next((g for g in found.groups() if g), None) if found else None
    return float(value.replace(",", ".")) if value else None
