"""Values at the edges of what a JSON Schema lets through, and beyond them."""

from collections.abc import Iterator
from typing import Any

NAMES_OF_OTHERS = (
    "id", "kind", "from_port", "to_port", "from_device", "to_device", "input", "place", "site", "network", "uplink",
    "loop_of", "interface", "a", "b", "of", "end", "radio", "group", "ports", "groups", "needs", "software", "pairing", "power", "microphone",
)  # fmt: skip
"""Fields that point at something, or make a thing what it is."""


def edges(schema: dict[str, Any], whole: dict[str, Any]) -> Iterator[Any]:
    """Values at the edges of what a schema allows; text beyond what can be printed, times beyond what is planned in."""
    if "$ref" in schema:
        schema = whole["$defs"][schema["$ref"].split("/")[-1]]
    for option in (*schema.get("anyOf", ()), *schema.get("oneOf", ())):
        yield from edges(option, whole)
    match schema.get("type"):
        case "number" | "integer":
            least = schema.get("minimum", schema.get("exclusiveMinimum", -1e308))
            most = schema.get("maximum", schema.get("exclusiveMaximum", 1e308))
            least += 1e-300 if "exclusiveMinimum" in schema and least == 0 else 0
            numbers = (least, most, 0.5 * most)
            yield from (
                numbers if schema["type"] == "number" else (int(min(max(n, -1e15), 1e15)) for n in numbers)
            )
        case "string" if "enum" in schema or "const" in schema:
            yield from schema.get("enum", [schema.get("const")])
        case "string" if schema.get("format") == "date-time":
            yield from ("0001-01-01T00:00:00+14:00", "9999-12-31T23:59:59-12:00", "1969-12-31T23:59:59Z")
        case "string" if "pattern" not in schema:
            most = schema.get("maxLength", 5000)
            yield from (
                "x" * most,
                "\x00" * min(most, 9),
                "a\tb\nc\u2028\ufffe",
                "=1+1",
                "rtsp://a:b@c/d?e=f#g"[:most],
            )
            yield from () if schema.get("minLength") else ("",)
        case "array":
            yield from () if schema.get("minItems") else ([],)
            items = [x for x in edges(schema.get("items", {}), whole) if not isinstance(x, dict | list)]
            yield items[:40]
        case "boolean":
            yield from (True, False)
        case "null":
            yield None


def beyond(schema: dict[str, Any], whole: dict[str, Any]) -> Iterator[Any]:
    """Values just outside, far outside, and of another type altogether."""
    if "$ref" in schema:
        schema = whole["$defs"][schema["$ref"].split("/")[-1]]
    for option in schema.get("anyOf", ()):
        yield from beyond(option, whole)
    match schema.get("type"):
        case "number" | "integer":
            step = 1 if schema["type"] == "integer" else 1e-6
            yield from (
                schema.get("minimum", schema.get("exclusiveMinimum", 0)) - step,
                -1e308,
                10**400,
                "1",
                True,
            )
            yield from (schema["maximum"] + step, 1e308, 2**63) if "maximum" in schema else ()
        case "string":
            yield from ("y" * (schema.get("maxLength", 5000) + 1), 5, ["x"], "\x1b[0m")
        case "array":
            yield from (["x"] * 60_000, {}, "x", [None])
    yield from ({"a": {"b": 1}}, [[[[]]]])
