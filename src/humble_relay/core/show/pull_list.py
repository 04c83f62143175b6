"""What to bring: gear against stock, cables by stock length, couplers and repeaters."""

from collections import Counter
from typing import NamedTuple

from humble_relay.core.catalogue.cables import CABLE_WORDS, Lay, stock_lay
from humble_relay.core.catalogue.stock import is_stocked
from humble_relay.core.frozen import Frozen
from humble_relay.core.judging.answer import HOLDS, Numbers, Thing, Verdict, Words, doubtful, holds
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.check import SubjectKind, check
from humble_relay.core.judging.phrases import said_day
from humble_relay.core.places.distances import length_of
from humble_relay.core.plan import Cable, Device
from humble_relay.core.signal.finder.routing_problem import in_stock


class StockLine(Frozen):
    """One model: how many the plan uses, what there is, who lends or takes it, and how many are missing."""

    model: str
    used: int
    owned: int
    borrowed: int
    missing: int
    notes: tuple[str, ...]


class Piece(NamedTuple):
    """Something to bring that is no device: cables of one length, couplers, repeaters."""

    what: str
    number: int


def stock_lines(case: Case) -> tuple[StockLine, ...]:
    """Every model used or held, those missing first."""
    found = []
    for model, s in in_stock(case).items():
        held = [h for h in case.stock.holdings if h.model == model]
        notes = [
            f"{h.count} from {h.lender}{f' until {said_day(h.until)}' if h.until else ''}"
            for h in held
            if h.lender
        ]
        notes += [f"{t.count} taken by {t.plan} the same day" for t in s.taken]
        notes += [f"{h.count} go back before the show" for h in s.gone_back]
        found.append(
            StockLine(
                model=model,
                used=s.used,
                owned=s.owned,
                borrowed=s.borrowed,
                missing=s.missing if case.stock.holdings else 0,
                notes=tuple(notes),
            )
        )
    return tuple(sorted(found, key=lambda x: (-x.missing, x.used == 0, x.model)))


def lay_of(cable: Cable, length_m: float) -> Lay:
    """The stock cables that make a run: cut at its repeaters, and in as many pieces as it has couplers, or needs.

    >>> run = Cable(id="run", from_port="a/out", to_port="b/in", cable="coax", joints=1)
    >>> lay_of(run, 60).lengths
    (30, 30)
    """
    stretches = cable.repeaters + 1
    metres = length_m / stretches
    base = stock_lay(cable.cable, metres).lengths
    more = max(0, cable.joints - (len(base) - 1) * stretches)
    found: list[float] = []
    for n in range(stretches):
        cut = len(base) + more // stretches + (n < more % stretches)
        found += base if cut == len(base) else stock_lay(cable.cable, metres / cut).lengths * cut
    return Lay(tuple(sorted(found, reverse=True)))


def pieces(case: Case) -> list[Piece]:
    """Cables by kind and stock length, couplers and repeaters, each with how many."""
    count: Counter[str] = Counter()
    for cable in case.cables:
        length, words = length_of(case, cable), CABLE_WORDS[cable.cable]
        if length is None:
            count[f"{words} cable, length to be measured"] += 1
            continue
        lay = lay_of(cable, length)
        count.update(f"{words} cable, {length:g} m" for length in lay.lengths)
        joints = lay.joints - cable.repeaters
        if joints:
            count[f"{words} coupler"] += joints
        if cable.repeaters:
            count[f"{words} repeater, and power for it"] += cable.repeaters
    count.update(f"Phone or modem with data for {line}, and its USB lead" for line in _bare_tethers(case))
    return [Piece(what, n) for what, n in sorted(count.items())]


def _bare_tethers(case: Case) -> list[str]:
    """The mobile lines by name for which no device of their site is the modem, and no phone that does nothing else."""
    spare = [d for d in case.devices.values() if d.kind != "phone" or not case.streams_from.get(d.id)]
    modems = {site.id for d in spare if _has_modem(d) and (site := case.site_of(d))}
    return [
        line.name
        for router in case.plan.routers
        for line in (case.uplinks[up] for up in router.uplinks)
        if line.kind == "mobile" and not line.parts and line.site not in modems
    ]


def _has_modem(device: Device) -> bool:
    return any("mobile" in p.types for p in device.ports)


MODELS_USED: SubjectKind[StockLine] = SubjectKind(
    "model in use that stock is kept of",
    lambda case: (
        (Thing("device", next(d.id for d in reversed(case.plan.devices) if d.model == line.model)), line)
        for line in stock_lines(case)
        if line.used and case.stock.holdings
    ),
)


@check("gear-missing", MODELS_USED, "gear", "Are so many of this model there on the day?", "the stock list")
def gear_missing(_: Case, line: StockLine) -> Verdict:
    """Whether no more of a model are used than are owned, borrowed and free on the day."""
    there = line.used - line.missing
    numbers = Numbers(
        line.used, there if line.missing else line.used, there if line.missing else line.used, "boxes"
    )
    if not line.missing:
        return holds(numbers)

    def say() -> Words:
        why = f" ({'; '.join(line.notes)})" if line.notes else ""
        return Words(
            f"{line.model}: the plan uses {line.used}, and {there} are there on the day{why}.",
            "It is looked for in every case, and then a shop is looked for that is open.",
            "Borrow or hire it now, or plan without it. If the stock list is wrong, correct it.",
        )

    return doubtful(say, numbers)


ITEMS: SubjectKind[Device] = SubjectKind(
    "box with a label",
    lambda case: ((Thing("device", d.id), d) for d in case.devices.values() if d.item and is_stocked(d)),
)


@check("item-twice", ITEMS, "gear", "Is this very box free on the day?", "the stock list", "practice")
def item_twice(case: Case, device: Device) -> Verdict:
    """Whether the box with that label is no other device of the plan, and in no other plan of the same day."""
    others = [d.name for d in case.devices.values() if d.id != device.id and (d.model, d.item) == (device.model, device.item)]  # fmt: skip
    others += [t.plan for t in case.stock.taken if t.model == device.model and device.item in t.items]
    if not others:
        return HOLDS
    return doubtful(
        lambda: Words(
            f"{device.name} is to be {device.model} {device.item}, and so is {others[0]}.",
            "One box is in one place; and what was seen of it, of which of the two was it seen?",
            "Take another box for one of them, or leave the label open.",
        ),
        compared=(device.item, *others),
    )


CHECKS = (gear_missing, item_twice)
