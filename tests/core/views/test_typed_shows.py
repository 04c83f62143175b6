"""Shows planned from an empty plan by typed lines alone, each to its proof: what Enter does with each is done, and the strokes are
counted as docs/from-nothing.md counts them. Mistyped lines and detours are among them, and counted."""

from datetime import UTC, datetime

import pytest

from humble_relay.core.catalogue.stock import Stock
from humble_relay.core.judgement import findings, proven
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import Plan, Show
from humble_relay.core.plan.survey import Fact, Measurement, Survey, numbered
from humble_relay.core.show.next_show import for_next_show
from humble_relay.core.views.command_bar import read_command
from tests.build import edit_of
from tests.core.views.typed_shows import SHOWS, Typed

NOW = datetime(2026, 12, 11, 12, tzinfo=UTC)
UPS = (24, 25, 26, 25, 24, 26, 25, 25, 24, 26)
NOTES = {"stops": 0, "risks": 1, "note": 2}


class Typist:
    """Somebody at the command bar; `strokes` is what it took."""

    def __init__(self, name: str, zone: str = "UTC") -> None:
        self.case = Case(Plan(show=Show(name=name, zone=zone)), Survey(), NOW, Stock())
        self.strokes = 0

    def types(self, line: str) -> None:
        """One line: Enter takes the first meaning, or the arrow one that holds what stands after `=>`; what adds a finding, or has to
        be got, asks for Enter again. `measure LINE SHARE`: readings pasted and added. `know QUESTION: VALUE`: a fact, where it is asked.
        `? LINE`: a line that means nothing, and does nothing."""
        if line.startswith("measure "):
            self._measures(*line.removeprefix("measure ").rsplit(" ", 1))
        elif line.startswith("know "):
            self._knows(*line.removeprefix("know ").rsplit(": ", 1))
        else:
            self._says(line)

    def _says(self, line: str) -> None:
        said, _, wanted = line.removeprefix("? ").partition(" => ")
        found = read_command(self.case, said)
        self.strokes += 1
        if line.startswith("? "):
            assert found and not found[0].edits, (line, [a.title for a in found])
            return
        chosen = next((a for a in found if wanted in a.title), None)
        assert chosen and chosen.edits, (line, [a.title for a in found])
        after = self.case.after(chosen.edits)
        come = {f.id for f in findings(after) if f.severity != "note"} - {f.id for f in findings(self.case)}
        self.strokes += (chosen is not found[0]) + bool(come or chosen.to_get)
        self.case = after

    def _measures(self, name: str, share: str) -> None:
        line = next(u for u in self.case.plan.uplinks if u.name == name)
        day = datetime(2026, 12, 5, 19, tzinfo=UTC)
        taken = [
            Measurement(at=day.replace(hour=19 + n // 2, minute=n % 2 * 30), uplink=line.id, up_mbps=up * float(share), down_mbps=90, rtt_ms=18,
                        conditions="busy", connections=1, loss_pct=0, probes=1000)
            for n, up in enumerate(UPS[:3])
        ]  # fmt: skip
        kept = self.case.survey
        self._found(Survey(measurements=numbered((*kept.measurements, *taken)), facts=kept.facts))
        self.strokes += 2

    def _found(self, survey: Survey) -> None:
        self.case = Case(self.case.plan, survey, NOW, Stock())

    def _knows(self, question: str, value: str) -> None:
        wanted = proven(self.case).wanted
        want = next((w for w in wanted if question in w.question), None)
        assert want, (question, [w.question for w in wanted])
        self.strokes += 1
        if want.kept_in == "survey":
            thing = want.things[0]
            fact = Fact(
                id=f"f{len(self.case.survey.facts) + 1}",
                at=NOW,
                noun=thing.noun,
                thing=thing.id,
                quantity="works",
                value=True,
            )  # type: ignore[arg-type]
            kept = self.case.survey
            self._found(Survey(measurements=kept.measurements, facts=(*kept.facts, fact)))
            return
        typed: object = next((c.value for c in want.choices if c.words == value), value)
        typed = float(value) if want.typed == "number" else typed
        self.case = self.case.after(
            [
                edit_of(e.model_dump() | ({"value": typed} if getattr(e, "value", "") is None else {}))
                for e in want.edits
            ]
        )


def typed(show: Typed) -> Typist:
    """A show with all its lines typed, begun from the last one where it is."""
    typist = Typist(show.name)
    if show.after:
        before = typed(next(s for s in SHOWS if s.name == show.after)).case
        typist.case = Case(for_next_show(before.plan), before.survey, NOW, Stock())
    for line in show.lines:
        typist.types(line)
    return typist


@pytest.mark.parametrize("show", SHOWS, ids=lambda s: s.name)
def test_a_show_is_planned_by_typed_lines_to_its_proof(show: Typed) -> None:
    typist = typed(show)
    found = proven(typist.case)
    said = [f"{f.rule}: {f.wrong}" for f in findings(typist.case) if f.severity != "note"]
    assert ({p.state for p in found.proofs}, [w.question for w in found.wanted]) == ({show.state}, []), said
    assert typist.strokes <= show.most <= 90, typist.strokes
