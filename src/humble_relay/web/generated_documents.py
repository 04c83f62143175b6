"""Writes the OpenAPI document and the plan file's JSON Schema: `python -m humble_relay.web.generated_documents API SCHEMA FORM WORDS`."""

import json
import sys
import tempfile
from pathlib import Path

from humble_relay.core.catalogue.words import VOCABULARY
from humble_relay.core.plan.edits.amounts import AMOUNTS
from humble_relay.core.plan.networks import HIGHEST_PORT
from humble_relay.core.plan.secrets import fields_of_secrets
from humble_relay.core.plan.upgrades import FORM
from humble_relay.formats.plan_file import schema
from humble_relay.web.app import make_app


def main(api: Path, plan_schema: Path, form: Path, words: Path) -> None:
    """Writes both documents, sorted so that a change shows as a change, and the form of edits and the words for the pages."""
    with tempfile.TemporaryDirectory() as folder:
        api.write_text(json.dumps(make_app(Path(folder)).openapi(), indent=1, sort_keys=True))
    plan_schema.write_text(json.dumps(schema(), indent=1, sort_keys=True) + "\n")
    form.write_text(
        f"/** The form in which this page writes edits. Generated. */\nexport const FORM = {FORM};\n"
        "/** Fields that may hold a key or a password. Generated. */\n"
        f"export const SECRET_FIELDS = {json.dumps(fields_of_secrets())} as const;\n"
        "/** Fields whose whole text is one. Generated. */\n"
        f"export const SECRETS = {json.dumps(fields_of_secrets(whole=True))} as const;\n"
        f"/** The highest port of TCP and UDP. Generated. */\nexport const HIGHEST_PORT = {HIGHEST_PORT};\n"
    )
    lists = (
        f"export const {name} = {json.dumps(list(said.items()), ensure_ascii=False)} as const;\n"
        for name, (_, said) in VOCABULARY.items()
    )
    amounts = f"export const AMOUNTS: Record<string, Record<string, number>> = {json.dumps(AMOUNTS)};\n"
    words.write_text(
        "/** What the values of the plan's fields are called. Generated from the core. */\n"
        + "".join(lists)
        + "/** What units that are typed are worth in a field's own. */\n"
        + amounts
    )


if __name__ == "__main__":
    main(Path(sys.argv[1]), Path(sys.argv[2]), Path(sys.argv[3]), Path(sys.argv[4]))
