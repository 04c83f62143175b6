"""What binds a choice, and what each constraint costs: what a little more, or one thing otherwise, would bring."""

import math
from collections.abc import Iterator

from humble_relay.core.allocation.allocation_problem import Outgoing, Solution, ToAllocate
from humble_relay.core.allocation.of_plan import WhatIf, format_quality, problem_of
from humble_relay.core.allocation.solve import effort, solve
from humble_relay.core.judging.case import Case
from humble_relay.core.judging.working import number
from humble_relay.core.upload.headroom import SCHOOL_NAMES

MORE_MBPS = (1, 2, 4, 8, 16, 32)
"""So much more of a line is tried, until a picture gets better."""


class Priced:
    """A choice of a plan, and what other problems would bring that differ from its own in one thing.

    `left` is how much work may still be spent on that.
    """

    def __init__(self, case: Case, but: WhatIf, best: Solution, work: float) -> None:
        self.case, self.but, self.best, self.left = case, but, best, work
        self.problem = problem_of(case, but)

    def prices(self) -> Iterator[str]:
        """A sentence for each constraint that binds; an empty one for each that was tried and does not."""
        if not all(self._best_already(o) for o in self.problem.outgoing):  # else nothing could be larger
            yield from self._lines()
            yield from self._senders()
            yield from self._rules()
            yield from self._otherwise()
        yield from self._relays()

    def _brings(self, then: ToAllocate) -> str:
        found = self._solved(then)
        return _better(then, self.best, found) if found else ""

    def _solved(self, problem: ToAllocate) -> Solution | None:
        self.left -= max(effort(problem), 0.01)
        return solve(problem)

    def _best_already(self, out: Outgoing) -> bool:
        sent = self.best.sent[out.id]
        most = max((format_quality(c.format) for c in out.choices), default=-math.inf)
        return sent is not None and format_quality(sent.choice.format) >= most

    def _lines(self) -> Iterator[str]:
        """The least more of a line that makes a picture larger: where the most of it does, by halves."""
        for line in (
            dict.fromkeys(sent.line for sent in self.best.sent.values() if sent) or self.problem.lines
        ):
            low, high, words = -1, len(MORE_MBPS) - 1, self._wider(line, MORE_MBPS[-1])
            while words and high - low > 1:
                middle = (low + high) // 2
                if found := self._wider(line, MORE_MBPS[middle]):
                    high, words = middle, found
                else:
                    low = middle
            name = self.case.uplinks[line].name
            yield f"With {number(MORE_MBPS[high])} Mb/s more on {name}, {words}." if words else ""

    def _wider(self, line: str, more: float) -> str:
        return self._brings(
            self.problem._replace(lines={**self.problem.lines, line: self.problem.lines[line] + more})
        )

    def _senders(self) -> Iterator[str]:
        senders = self.problem.senders
        for n, sender in enumerate(senders):
            name = self.case.devices[sender.id].name
            for field, what in (("destinations", "destination"), ("channels", "picture")):
                raised = sender._replace(**{field: getattr(sender, field) + 1})
                words = self._brings(self.problem._replace(senders=(*senders[:n], raised, *senders[n + 1 :])))
                yield f"With one {what} more of {name} at once, {words}." if words else ""

    def _rules(self) -> Iterator[str]:
        """What a router would bring that sends single streams by lines of their own."""
        for group, lines in self.problem.groups.items():
            if group not in self.problem.steers and len(lines) > 1:
                words = self._brings(self.problem._replace(steers=self.problem.steers | {group}))
                router = next(r.name for r in self.case.plan.routers if r.id == group)
                yield (
                    f"Were {router} told to send single streams by a line of their own, {words}."
                    if words
                    else ""
                )

    def _otherwise(self) -> Iterator[str]:
        """The lowest picture that will do, the most that a service takes, and the school, each for itself."""
        case = self.case
        for out in self.problem.outgoing:
            aim = next((a for a in case.plan.aims if a.end == out.end), None)
            if aim and aim.lowest:
                words = self._brings(problem_of(case, self.but._replace(any_picture_of=out.end)))
                yield f"If less than {aim.lowest.label} did for {out.name}, {words}." if words else ""
            takes = case.devices[out.end].ingest
            if takes and takes.max_mbps is not None:
                words = self._brings(problem_of(case, self.but._replace(any_bitrate_of=out.end)))
                yield f"If {out.name} took more than {number(takes.max_mbps)} Mb/s, {words}." if words else ""
        chosen = case.plan.settings.headroom
        for school, name in SCHOOL_NAMES.items():
            if school != chosen:
                words = self._brings(problem_of(case, self.but._replace(school=school)))
                yield f"By the school “{name.lower()}”, {words}." if words else ""

    def _relays(self) -> Iterator[str]:
        for relay in self.problem.relays:
            if not any(s and s.relay == relay.id for s in self.best.sent.values()):
                continue
            without = self.problem._replace(
                relays=tuple(r for r in self.problem.relays if r.id != relay.id),
                outgoing=tuple(
                    o._replace(relays=tuple(r for r in o.relays if r != relay.id))
                    for o in self.problem.outgoing
                ),
            )
            then = self._solved(without)
            worse = _better(self.problem, then, self.best).replace("could be", "is") if then else ""
            name = self.case.devices[relay.id].name
            yield f"Because of {name}, {worse}: straight it would be less." if worse else ""


def _better(problem: ToAllocate, before: Solution, after: Solution) -> str:
    """Which pictures are larger, faster, or sent at all, in words, and which are less for it; empty where none is better, or more
    that must arrive is left out."""
    found, less = [], []
    for out in problem.outgoing:
        old, new = before.sent.get(out.id), after.sent.get(out.id)
        if old is None and new is not None:
            found.append(f"{out.name} could be sent, {new.choice.words}")
        elif old is not None and new is None:
            less.append(f"{out.name} left out")
        elif old is not None and new is not None:
            gain = format_quality(new.choice.format) - format_quality(old.choice.format)
            if gain > 1e-9:
                found.append(f"{out.name} could be {new.choice.format.label}")
            elif gain < -1e-9:
                less.append(f"{out.name} {new.choice.format.label}")
    if not found or after.left_out > before.left_out:
        return ""
    return " and ".join(found) + (f" (and {' and '.join(less)})" if less else "")
