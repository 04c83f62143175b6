"""What ships: the catalogue of figures, the glossary, the schema of the plan file."""

from typing import Any

from fastapi import APIRouter

from humble_relay.core.catalogue.glossary import Term, glossary
from humble_relay.core.plan.figures import Figure, catalogue
from humble_relay.formats.plan_file import schema
from humble_relay.web.off_loop import OffLoop

router = APIRouter(prefix="/api", tags=["catalogues"], route_class=OffLoop)


@router.get("/figures")
def figures() -> dict[str, Figure]:
    """Every figure a plan may set for itself, with where it comes from."""
    return catalogue()


@router.get("/glossary")
def terms() -> list[Term]:
    """The terms that the product uses, each in a sentence."""
    return list(glossary())


@router.get("/schema/plan")
def plan_schema() -> dict[str, Any]:
    """The JSON Schema of the plan file."""
    return schema()
