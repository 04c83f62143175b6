"""Writes down every question that is asked, of what, from which source, and what is not asked yet: `docs/checks.md`."""

from collections import defaultdict
from collections.abc import Iterator
from pathlib import Path

from humble_relay.core.cures.trial import CURES
from humble_relay.core.judgement import CHECKS
from humble_relay.core.judging.questions import QUESTIONS
from humble_relay.core.judging.stages import STAGES

HEAD = """# What is asked

Every check with its question, asked of each thing of its kind, and where its figures or its rule come from. A doubt or an
unknown about one marked *tried* is settled by having seen it work. Each has twins in `tests/core/test_checks.py`. Made by
`make types`.
"""


def lines() -> Iterator[str]:
    """The page, line by line."""
    yield HEAD
    for stage in STAGES:
        here = [c for c in CHECKS if c.stage == stage]
        if not here:
            continue
        yield f"## {stage.capitalize()}\n"
        yield "| check | asked of | question | source | |\n| --- | --- | --- | --- | --- |"
        for c in here:
            marks = ", ".join(["tried"] * c.tried + ["cures"] * (c.name in CURES))
            yield f"| `{c.name}` | {c.asks_of.word} | {c.question} | {c.source} | {marks} |"
        yield ""
    yield "## Not asked yet\n"
    lacking: dict[tuple[str, str], list[str]] = defaultdict(list)
    for hop, row in QUESTIONS.items():
        for concern, cell in row.items():
            if cell.yet:
                lacking[concern, cell.yet].append(hop.kind)
    yield "| concern | what is not asked | of |\n| --- | --- | --- |"
    for (concern, what), kinds in lacking.items():
        yield f"| {concern} | {what} | {', '.join(dict.fromkeys(kinds))} |"


if __name__ == "__main__":
    Path("docs/checks.md").write_text("\n".join(lines()) + "\n", encoding="utf-8")
