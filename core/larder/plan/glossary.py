"""One glossary of fields: label, unit, bounds and choices, read off the plan file's own types.

API, screens and revision notes take their words from here, so a field is named once.
"""

from __future__ import annotations

from functools import cache
from typing import Any

from pydantic import BaseModel

from .bundle import Bundle

JsonSchema = dict[str, Any]


@cache
def bundle_schema() -> JsonSchema:
    """The JSON Schema of a plan file."""
    return schema_of(Bundle)


def schema_of(model: type[BaseModel]) -> JsonSchema:
    """A model's JSON Schema, as its documents are written."""
    schema: JsonSchema = _in_standard_words(model.model_json_schema(by_alias=True))
    return schema


_STANDARD_WORDS = {"ge": "minimum", "gt": "exclusiveMinimum", "le": "maximum", "lt": "exclusiveMaximum"}


def _in_standard_words(node: Any) -> Any:
    """Bounds of fields that also parse text come under Python's names; readers of a schema know others."""
    if isinstance(node, dict):
        is_properties = isinstance(node.get("properties"), dict) or "type" not in node
        return {
            key if is_properties else _STANDARD_WORDS.get(key, key): _in_standard_words(value)
            for key, value in node.items()
        }
    if isinstance(node, list):
        return [_in_standard_words(each) for each in node]
    return node


def fields(*others: type[BaseModel]) -> dict[str, JsonSchema]:
    """Every labelled field of a plan file and of ``others``, as ``Model.field``.

    With label, type, unit, step, bounds, choices and default.
    """
    table: dict[str, JsonSchema] = {}
    models = dict(bundle_schema()["$defs"])
    for other in others:
        schema = other.model_json_schema(by_alias=True)
        models |= {other.__name__: schema, **schema.get("$defs", {})}
    for model, schema in models.items():
        for name, field in schema.get("properties", {}).items():
            if "unit" in field or "step" in field:
                table[f"{model}.{name}"] = _entry(field)
    return table


def _entry(field: JsonSchema) -> JsonSchema:
    number = _number_part(field)
    entry = {
        "label": field["title"],
        "type": _type(field, number),
        "unit": field.get("unit", ""),
        "step": field.get("step", 1),
        "whole": number.get("type") == "integer",
        "optional": any(option.get("type") == "null" for option in field.get("anyOf", ())),
        "min": number.get("minimum"),
        "max": number.get("maximum"),
        "above": number.get("exclusiveMinimum"),
        "below": number.get("exclusiveMaximum"),
        "choices": field.get("enum"),
        "default": field.get("default"),
    }
    return {key: value for key, value in entry.items() if value is not None and value is not False}


def _type(field: JsonSchema, number: JsonSchema) -> str | None:
    """``yesno``, ``date`` or ``text``; a number is the usual case and goes without saying."""
    if field.get("type") == "boolean":
        return "yesno"
    options = [field, *field.get("anyOf", ())]
    if any(option.get("format") == "date" for option in options):
        return "date"
    is_number = number.get("type") in ("integer", "number")
    return "text" if not is_number and "enum" not in field else None


def _number_part(field: JsonSchema) -> JsonSchema:
    options = [field, *field.get("anyOf", ())]
    return next((o for o in options if o.get("type") in ("integer", "number")), field)


def label_at(path: str, document: Any) -> str:
    """The label of the field at ``path``, with the name of the item it belongs to ("Edit: Streams")."""
    return words_at(path, document)[0]


def words_at(path: str, document: Any) -> tuple[str, str]:
    """(label, unit) of the field at ``path``; see :func:`label_at`."""
    schema: JsonSchema = bundle_schema()
    here, item_name, label = document, "", path
    for part in path.split("/"):
        here = _step(here, part)
        schema = _subschema(schema, part, here)
        if isinstance(here, dict) and "name" in here and "id" in here:
            item_name = str(here["name"])
        elif isinstance(here, dict) and "near" in here and "id" in here:
            item_name = f"Link {here['id']}"
        label = str(schema.get("title", label if schema else part))
    is_field = "unit" in schema
    unit = str(schema.get("unit", ""))
    if item_name and is_field:
        return _on_one_line(f"{item_name}: {label}"), unit
    return _on_one_line(item_name or label), unit


def _on_one_line(words: str) -> str:
    """A name that a file made up may hold anything; in a sentence it stays on its line."""
    return "".join(sign if sign.isprintable() else " " for sign in words)


def _step(here: Any, part: str) -> Any:
    if isinstance(here, list):
        return next((i for i in here if isinstance(i, dict) and i.get("id") == part), None)
    return here.get(part) if isinstance(here, dict) else None


def _subschema(schema: JsonSchema, part: str, value: Any) -> JsonSchema:
    """The schema of ``part`` within ``schema``; unions are told apart by the item's kind."""
    if schema.get("type") == "array":
        inner = schema.get("items", {})
    else:
        inner = schema.get("properties", {}).get(part, {})
    if "oneOf" in inner:
        mapping = inner["discriminator"]["mapping"]
        kind = value.get("kind") if isinstance(value, dict) else None
        inner = {"$ref": mapping.get(str(kind), next(iter(mapping.values())))}
    if "$ref" in inner:
        return dict(bundle_schema()["$defs"][inner["$ref"].rsplit("/", 1)[-1]])
    return dict(inner)
