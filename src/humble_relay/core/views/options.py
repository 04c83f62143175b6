"""What a field may be set to, each value with its words and the edits that set it: the core says what is possible."""

from humble_relay.core.frozen import Frozen
from humble_relay.core.plan.edits import Edit


class Option(Frozen):
    """One value of a field, in words, with the edits that choose it."""

    key: str
    words: str
    edits: tuple[Edit, ...]


class Options(Frozen):
    """A field that is chosen: what it is called, what it is now (empty: nobody said), and what it may be."""

    what: str
    now: str
    choices: tuple[Option, ...]
