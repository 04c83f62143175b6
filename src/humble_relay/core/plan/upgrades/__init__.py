"""From the form of an older version's documents to today's, one step at a time.

`FORM` is the number of today's form. Everything kept or exported says which form it has: plans and their revisions,
entries of the log, gear, stock, plan files and gear files, and edits that
wait to be sent. Any change of a field adds a step, with a module
where older documents change, and a kept example of the form before it under `tests/kept`. A step only ever sees documents of the form before its own, as JSON.
"""

from collections.abc import Callable
from typing import Literal, NamedTuple

from humble_relay.core.plan.upgrades import form_2, form_3, form_4, form_5, form_10, form_12, form_13
from humble_relay.core.plan.upgrades.json_shape import Document

FORM = 15
What = Literal["plan", "measurement", "fact", "entry", "model", "holding", "edit"]


class NewerForm(ValueError):
    """A document of a form that this version does not know yet."""


def _same(document: Document) -> Document:
    """What the step does not change."""
    return document


class FormStep(NamedTuple):
    """How each kind of document gets from the form before to this one."""

    form: int
    plan: Callable[[Document], Document] = _same
    measurement: Callable[[Document], Document] = _same
    fact: Callable[[Document], Document] = _same
    entry: Callable[[Document], Document] = _same
    model: Callable[[Document], Document] = _same
    holding: Callable[[Document], Document] = _same
    edit: Callable[[Document], Document] = _same


STEPS = (
    FormStep(2, plan=form_2.plan, measurement=form_2.measurement, model=form_2.model, holding=form_2.holding),
    FormStep(3, plan=form_3.plan, model=form_3.model, edit=form_3.edit),
    FormStep(4, plan=form_4.plan, model=form_4.model, edit=form_4.edit),
    FormStep(5, plan=form_5.plan, model=form_5.model, edit=form_5.edit),
    FormStep(
        6
    ),  # a length may be left to be measured, and a model says where its data come from: older ones say all
    FormStep(7),  # what lines, networks and routers let through is new: older documents say nothing of it
    FormStep(8),  # schemes of addresses, zones, stream ids, groups, and what a line is made of: likewise
    FormStep(9),  # which line a router's rule sends a stream by: likewise
    FormStep(10, plan=form_10.plan, edit=form_10.edit),
    FormStep(11),  # static routes, default routes, inbound rules and a listener's own port: likewise
    FormStep(12, plan=form_12.plan, edit=form_12.edit),
    FormStep(13, plan=form_13.plan),
    FormStep(14),  # how a device's set-up differs, and what was seen of it: older documents say nothing of it
    FormStep(15),  # items, destinations, who hears whom, and faults: likewise
)


def upgraded(what: What, document: Document, form: int, to: int = FORM) -> Document:
    """The document in today's form, or in one between its own and that. Raises NewerForm.

    What is not shaped like a document of its form comes back as it is, for validation to say what is wrong with it.
    """
    if form > FORM:
        raise NewerForm(
            f"This was written by a newer version of Humble Relay (form {form}; this version reads up to {FORM}). Update Humble Relay and open it again; nothing was changed."
        )
    try:
        for step in STEPS:
            if form < step.form <= to:
                document = getattr(step, what)(document)
    except (KeyError, TypeError, AttributeError):
        pass
    return document
