"""What is judged by of a log: all measurements, facts and trials that stand, and the tasks that are done. Lines and photographs never are."""

from collections.abc import Callable, Iterable, Sequence
from itertools import count

from humble_relay.core.log.entries import (
    AnyEntry,
    FactEntry,
    LineEntry,
    LogLine,
    MeasurementEntry,
    TaskEntry,
    TaskMark,
    Withdrawal,
    WithdrawalEntry,
)
from humble_relay.core.plan.survey import Fact, Found, Survey, numbered


def folded(log: Iterable[AnyEntry]) -> Survey:
    """The survey that a log comes to, in the order of its entries. Of corrections of one entry, and of its withdrawals, the last
    counts; what a correction says stands under the id of what it corrects.

    >>> from humble_relay.core.plan.survey import Fact
    >>> length = lambda m, **more: Fact(at="2026-09-12T10:00Z", noun="link", thing="run", quantity="length_m", value=m, **more)
    >>> log = [FactEntry(id="a", body=length(40)), FactEntry(id="b", corrects="a", body=length(42))]
    >>> [(f.id, f.value) for f in folded(log).facts]
    [('a', 42.0)]
    >>> folded([*log, WithdrawalEntry(id="c", body=Withdrawal(of="b"))]).withdrawn
    ('a',)
    """
    log = list(log)
    root = roots(log)
    measurements, facts = dict[str, MeasurementEntry](), dict[str, FactEntry]()
    withdrawn, done = dict[str, None](), dict[str, None]()
    for entry in log:
        match entry:
            case MeasurementEntry() | FactEntry():
                kept: dict = measurements if isinstance(entry, MeasurementEntry) else facts  # type: ignore[type-arg]
                kept[root[entry.id]] = entry
            case WithdrawalEntry():
                _mark(withdrawn, root.get(entry.body.of, entry.body.of), entry.body.withdrawn)
            case TaskEntry():
                _mark(done, entry.body.task, entry.body.done)
    return Survey.model_construct(
        measurements=tuple(_named(e.body, id) for id, e in measurements.items()),
        facts=tuple(_named(e.body, id) for id, e in facts.items()),
        withdrawn=tuple(id for id in withdrawn if id in measurements or id in facts),
        done=tuple(done),
    )


def roots(log: Iterable[AnyEntry]) -> dict[str, str]:
    """For each entry the one that it is a correction of in the end: itself where it corrects nothing of its kind."""
    found, kinds = dict[str, str](), dict[str, str]()
    for entry in log:
        first = found.get(entry.corrects or "", "")
        found[entry.id] = first if kinds.get(first) == entry.kind else entry.id
        kinds[entry.id] = entry.kind
    return found


def log_of(survey: Survey) -> tuple[AnyEntry, ...]:
    """A log that comes to the survey; measurements and facts without an id are named `m1` and `f1` and so on.

    >>> from humble_relay.core.plan.survey import Measurement
    >>> one = Measurement(id="m1", at="2026-09-12T10:00Z", uplink="fibre", up_mbps=20)
    >>> survey = Survey(measurements=(one,), withdrawn=("m1",), done=("rehearse",))
    >>> folded(log_of(survey)) == survey
    True
    """
    measurements, facts = numbered(survey.measurements), numbered(survey.facts, letter="f")
    taken = {m.id for m in measurements} | {f.id for f in facts}
    free = (f"e{n}" for n in count(1) if f"e{n}" not in taken)
    return (
        *(MeasurementEntry(id=m.id or "", at=m.at, body=_bare(m)) for m in measurements),
        *(FactEntry(id=f.id or "", at=f.at, body=_bare(f)) for f in facts),
        *(WithdrawalEntry(id=next(free), body=Withdrawal(of=id)) for id in survey.withdrawn),
        *(TaskEntry(id=next(free), body=TaskMark(task=task)) for task in survey.done),
    )


def carried_log(log: Sequence[AnyEntry], in_words: Callable[[Fact], str]) -> tuple[AnyEntry, ...]:
    """What the log of the next show begins with: the measurements and facts that stand, as they are dated. A trial comes along as a
    line, which settles nothing there; tasks, lines and photographs were of this show."""
    survey = folded(log).standing()
    trials = [f for f in survey.facts if f.quantity == "works"]
    facts = tuple(f for f in survey.facts if f.quantity != "works")
    lines = (
        LineEntry(
            id=f.id or "",
            at=f.at,
            role=f.by[:80],
            body=LogLine(text=in_words(f)[:500], noun=f.noun, thing=f.thing),
        )
        for f in trials
    )
    return (*log_of(survey.model_copy(update={"facts": facts, "done": ()})), *lines)


def _mark(marks: dict[str, None], name: str, on: bool) -> None:
    if on:
        marks[name] = None
    else:
        marks.pop(name, None)


def _bare(body: Found) -> Found:
    return body.model_copy(update={"id": None})


def _named(body: Found, id: str) -> Found:
    return body if body.id == id else body.model_copy(update={"id": id})
