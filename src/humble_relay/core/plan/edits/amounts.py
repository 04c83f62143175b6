"""Amounts as they are typed, in another unit than the field's: what each typed unit is worth in the field's own."""

import re
from math import isfinite

_BITS = {f"{prefix}{word}": worth for prefix, worth in (("k", 0.001), ("m", 1.0), ("g", 1000.0)) for word in ("", "b", "bit", "bits", "bps", "b/s", "bit/s")}  # fmt: skip
_BYTES = {"kB/s": 0.008, "MB/s": 8.0, "GB/s": 8000.0}
"""In Mb/s; a large B is a byte of eight bits."""
_MBPS = _BITS | _BYTES
AMOUNTS: dict[str, dict[str, float]] = {
    "m": {"m": 1, "cm": 0.01, "mm": 0.001, "km": 1000, "ft": 0.3048, "metres": 1},
    "ms": {"ms": 1, "s": 1000, "sec": 1000},
    "s": {"s": 1, "sec": 1, "ms": 0.001, "min": 60},
    "h": {"h": 1, "hours": 1, "min": 1 / 60},
    "Mb/s": _MBPS,
    "kb/s": {unit: worth * 1000 for unit, worth in _MBPS.items()},
    "Gb/s": {unit: worth / 1000 for unit, worth in _MBPS.items()},
    "GB": {"gb": 1, "mb": 0.001, "tb": 1000},
    "W": {"w": 1, "kw": 1000},
    "Wh": {"wh": 1, "kwh": 1000},
}
"""By the unit of a field: each unit that may be typed there, and what one of it is in the field's. A foot is 0.3048 m (international
yard and pound agreement, 1959)."""


def amount_in(text: str, unit: str) -> float | None:
    """An amount in the unit of a field; a plain number is in it already. None where it is no amount of such a unit.

    >>> amount_in("25 cm", "m"), amount_in("2s", "ms"), amount_in("160k", "kb/s"), amount_in("3,5", "h"), amount_in("3 kg", "m")
    (0.25, 2000.0, 160.0, 3.5, None)
    >>> amount_in("20mbit", "Mb/s"), amount_in("0.02 Gb/s", "Mb/s"), amount_in("5 MB/s", "Mb/s"), amount_in("5500k", "Mb/s")
    (20.0, 20.0, 40.0, 5.5)
    """
    found = re.fullmatch(r"(-?\d+(?:[.,]\d+)?) ?(\D*)", text.strip())
    if not found:
        return None
    value, typed = float(found.group(1).replace(",", ".")), found.group(2).strip()
    known = AMOUNTS.get(unit, {unit.lower(): 1.0})
    worth = 1.0 if not typed else known.get(typed, known.get(typed.lower()))
    return round(value * worth, 6) if worth is not None and isfinite(value) else None
