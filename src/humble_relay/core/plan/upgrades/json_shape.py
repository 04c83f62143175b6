"""The shape of what is upgraded: a document as JSON, not yet anything of this version's."""

from typing import Any

Document = dict[str, Any]
