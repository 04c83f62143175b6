"""Pushed to each, or once to a relay, or some of each: what the same pictures cost in upload, and what breaks with the relay."""

from humble_relay.core.allocation.of_plan import Delivery, besides_mbps, deliveries, repeats
from humble_relay.core.egress.outbound import in_the_cloud
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.phrases import listed
from humble_relay.core.load.stream_load import load
from humble_relay.core.plan import HeadroomRule
from humble_relay.core.reach.stream_uplinks import uplink_crossed
from humble_relay.core.upload.headroom import Upload, uploads


class Fits(Frozen):
    """Whether what is asked fits one school's allowance, and from which measured upload (Mb/s) on it would."""

    school: HeadroomRule
    name: str
    allowed_mbps: float
    fits: bool
    fits_from_mbps: float | None


class Manner(Frozen):
    """One manner of sending the same pictures by one line."""

    name: str
    now: bool
    """Whether the plan does it so."""
    pushes: int
    asked_mbps: float
    """All that would be asked of the line, other streams included."""
    fits: tuple[Fits, ...]
    breaks: str
    """What is lost when the relay fails."""
    relayed: bool
    later_ms: float | None
    """How much later the picture is by the relay's own delay; None where nobody measured or promised that."""


class Comparison(Frozen):
    """The manners side by side, of what leaves by one line."""

    uplink: str
    name: str
    manners: tuple[Manner, ...]


def comparisons(case: Case) -> tuple[Comparison, ...]:
    """For each line by which pictures go to two services or more, and a relay that could repeat them."""
    found = []
    for line in case.uplinks:
        going = [g for g in deliveries(case) if uplink_crossed(case, g.from_us) == line]
        relays = [d for d in case.devices.values() if in_the_cloud(d) and d.encoding and d.ingest]
        if len(going) < 2 or not relays:
            continue
        upload, manners = uploads(case)[line], []
        other = besides_mbps(case, line)
        each = sum(_weight(case, g) for g in going)
        ends = [case.devices[g.last.to_device].name for g in going]
        straight = all(g.push is None for g in going)
        manners.append(_manner(upload, "Pushed to each", straight, len(going), each + other, "", 0.0, case))
        for relay in relays:
            shared = [g for g in going if repeats(case, g, relay)]
            if len(shared) < 2:
                continue
            largest: dict[tuple[str, int, int, str], float] = {}
            for g in shared:
                fmt = g.last.format
                key = (g.from_us.from_device, fmt.width, fmt.height, g.last.codec)
                largest[key] = max(largest.get(key, 0.0), _weight(case, g))
            rest = [g for g in going if g not in shared or sum(_alike(g, o) for o in shared) < 2]
            once = [g for g in shared if g not in rest]
            if not once:
                continue
            keys = {
                (g.from_us.from_device, g.last.format.width, g.last.format.height, g.last.codec) for g in once
            }
            asked = sum(largest[k] for k in keys) + sum(_weight(case, g) for g in rest) + other
            lost = [case.devices[g.last.to_device].name for g in once]
            kept = [e for e in ends if e not in lost]
            breaks = f"{listed(lost)} at once" + (
                f"; {listed(kept)} {'goes' if len(kept) == 1 else 'go'} on" if kept else ""
            )
            now = all(g.push is not None and g.push.to_device == relay.id for g in once)
            name = (
                f"Once to {relay.name}"
                if not rest
                else f"{listed(lost)} once by {relay.name}, {listed(kept)} straight"
            )
            manners.append(
                _manner(upload, name, now, len(keys) + len(rest), asked, breaks, relay.delay_ms, case)
            )
        if len(manners) > 1:
            found.append(Comparison(uplink=line, name=case.uplinks[line].name, manners=tuple(manners)))
    return tuple(found)


def fits_from_mbps(school: HeadroomRule, asked_mbps: float, others_mbps: float, case: Case) -> float | None:
    """From which measured upload on (Mb/s, the middle of it) a school lets so much be asked; None for the one that goes by the
    low end of the measurements.

    The trade's rule: two pushes of about 8.4 Mb/s want some 24 Mb/s by `third-free`, one push of them 12.
    """
    figures, whole = case.figures, asked_mbps + others_mbps
    if school == "half":
        return whole / figures["school-half"]
    if school == "third-free":
        return whole / figures["school-third-free"]
    return whole * figures["school-one-and-half"] if school == "one-and-half" else None


def _manner(
    upload: Upload,
    name: str,
    now: bool,
    pushes: int,
    asked: float,
    breaks: str,
    later_ms: float | None,
    case: Case,
) -> Manner:
    fits = tuple(
        Fits(
            school=a.school,
            name=a.name,
            allowed_mbps=a.mbps.value,
            fits=asked <= a.mbps.value,
            fits_from_mbps=None if (least := fits_from_mbps(a.school, asked, upload.others_mbps, case)) is None else round(least, 1),
        )
        for a in upload.allowances
    )  # fmt: skip
    return Manner(
        name=name,
        now=now,
        pushes=pushes,
        asked_mbps=round(asked, 2),
        fits=fits,
        breaks=breaks,
        relayed=bool(breaks),
        later_ms=later_ms,
    )


def _weight(case: Case, going: Delivery) -> float:
    """What one picture weighs on the line as it is sent now, were it pushed for itself, in Mb/s."""
    return load(
        going.last.model_copy(update={"from_device": going.from_us.from_device}), case.figures
    ).total.value


def _alike(a: Delivery, b: Delivery) -> bool:
    """Whether one push can serve both: of one sender, in one raster and codec; the larger bitrate serves the smaller."""
    one, other = a.last, b.last
    return (a.from_us.from_device, one.format.width, one.format.height, one.codec) == (
        b.from_us.from_device, other.format.width, other.format.height, other.codec,
    )  # fmt: skip
