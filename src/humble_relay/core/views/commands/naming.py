"""Things of a plan by what is typed of their names: the beginnings of their words, also where they are misspelt."""

import re
from collections.abc import Iterator, Sequence
from difflib import get_close_matches
from typing import NamedTuple

from humble_relay.core.addressing.hosts import address_in
from humble_relay.core.judging.case import Case
from humble_relay.core.plan import NOUNS, Device, Noun
from humble_relay.core.views.thing_fields import things_of
from humble_relay.core.views.thing_pane import name_of

_MOST = 4


class Named(NamedTuple):
    """A thing that a line names."""

    noun: Noun
    id: str
    name: str


def fits(words: str, name: str) -> bool:
    """Whether each word begins one of the name's."""
    parts = re.split(r"[\s,-]+", name.lower())
    return all(any(part.startswith(word) for part in parts) for word in words.split())


def named(
    case: Case,
    words: str,
    nouns: Sequence[Noun] = ("device", "link", "uplink", "network", "place", "site", "router"),
) -> list[Named]:
    """What the words name, whose whole name they are first; of each noun at most a few."""
    words = words.strip().removeprefix("the ")
    found = [
        Named(noun, x.id, name)
        for noun in nouns
        for x in things_of(case, noun)
        if words and fits(words, name := name_of(case, noun, x))
    ]
    whole = [x for x in found if x.name.lower() == words]
    if words.replace(" ", "").isdigit():  # a number alone is no name, though one of a name's words
        return whole
    return sorted(whole or found, key=lambda x: len(x.name))[: _MOST * 2]


def heads(case: Case, text: str, nouns: Sequence[Noun]) -> Iterator[tuple[list[Named], str]]:
    """Each way to read the line as a name and what is said of it, the longest name first."""
    words = text.split()
    for n in range(len(words) - 1, 0, -1):
        if found := named(case, " ".join(words[:n]), nouns):
            yield found, " ".join(words[n:])


def is_address(text: str) -> bool:
    """Whether it is an IP address as it is usually typed: no short form, which a plain number is too."""
    return (text.count(".") == 3 or ":" in text) and address_in(text) is not None


def respelt(case: Case, text: str, known: Sequence[str]) -> str | None:
    """The line with each word that means nothing here turned into the nearest that does; None where none is near."""
    names = (name_of(case, noun, x) for noun in NOUNS for x in things_of(case, noun))
    vocabulary = {w for name in names for w in re.split(r"[\s,-]+", name.lower()) if len(w) > 2} | set(known)
    begun = tuple(vocabulary)
    out, changed = [], False
    for word in text.split():
        if len(word) < 4 or not word.isalpha() or any(v.startswith(word) for v in begun):
            out.append(word)
            continue
        near = get_close_matches(word, begun, 1, 0.74)
        out.append(near[0] if near else word)
        changed |= bool(near)
    return " ".join(out) if changed else None


def devices_called(case: Case, words: str) -> list[Device]:
    """Devices whose name has all the words, each as the beginning of one of its own; the one that is called just so alone."""
    found = [d for d in case.devices.values() if fits(words, d.name)]
    return [d for d in found if d.name.lower() == words] or found[:4]
