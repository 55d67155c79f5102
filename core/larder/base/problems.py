"""Turn what the validator found into sentences that name the field, its value and what is accepted.

Paths run through lists by item id ("plan/brief/seats/edit/streams"), as patches do.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from typing import Any, TypeGuard

from pydantic import ValidationError

from .errors import Refused, shown
from .measures import said

Words = Callable[[str], tuple[str, str]]
"""(label, unit) of the field at a path."""
_PHRASES = {
    "greater_than_equal": "a number of {ge} or more",
    "greater_than": "a number above {gt}",
    "less_than_equal": "a number up to {le}",
    "less_than": "a number below {lt}",
    "literal_error": "{expected}",
    "int_parsing": "a whole number",
    "int_type": "a whole number",
    "int_from_float": "a whole number",
    "int_parsing_size": "a whole number of ordinary size",
    "float_parsing": "a number",
    "float_type": "a number",
    "finite_number": "a finite number",
    "decimal_parsing": "an amount such as 1250.00",
    "decimal_type": "an amount such as 1250.00",
    "decimal_max_places": "an amount with at most {decimal_places} decimals",
    "string_type": "a text",
    "string_too_short": "a text of {min_length} or more characters",
    "string_too_long": "a text of at most {max_length} characters",
    "string_pattern_mismatch": "a text without control characters (an id: small letters, digits, hyphens)",
    "missing": "a value, which is missing",
    "extra_forbidden": "nothing: this version has no such field",
    "too_short": "{min_length} or more items",
    "too_long": "at most {max_length} items",
    "date_from_datetime_parsing": "a date such as 2027-03-31",
    "date_parsing": "a date such as 2027-03-31",
    "date_type": "a date such as 2027-03-31",
    "union_tag_invalid": "an item whose kind is one of {expected_tags}",
    "union_tag_not_found": "an item with its kind",
    "tuple_type": "a list",
    "model_type": "an object",
    "dict_type": "an object",
}


def refusals(
    error: ValidationError, document: Any, prefix: str = "", words: Words | None = None
) -> list[Refused]:
    """Every fault in ``document`` as a :class:`Refused` whose field is its path.

    With ``words`` it is called by its label, and numbers are said in its unit.
    """
    return [_refusal(fault, document, prefix, words) for fault in error.errors(include_url=False)[:50]]


def _refusal(fault: Any, document: Any, prefix: str, words: Words | None) -> Refused:
    path = _path(fault["loc"], document)
    cause = fault.get("ctx", {}).get("error")
    if isinstance(cause, Refused):
        # A field's own parser names no path; a rule across fields names the field it is about.
        whole = "/" in cause.field
        across = isinstance(fault["input"], dict)
        field = "/".join([*path, cause.field]) if across else cause.field if whole else "/".join(path)
        label = words(prefix + field)[0] if words else ""
        return Refused(prefix + field, cause.value, cause.accepted, label)
    field = prefix + "/".join(path)
    label, unit = words(field) if words else ("", "")
    context = {
        key: said(value, unit, field) if words and is_number(value) else value
        for key, value in fault.get("ctx", {}).items()
    }
    accepted = _PHRASES.get(fault["type"], fault["msg"]).format(**context)
    if fault["type"] in _BOUNDS and _DAY.search(accepted):
        accepted = accepted.replace("a number", "a date")
    value = None if fault["type"] == "missing" else _brief(fault["input"])
    if words and unit and is_number(value) and fault["type"] in _BOUNDS:
        value = said(value, unit, field)
    return Refused(field, value, accepted, label)


_DAY = re.compile(r"\d{4}-\d\d-\d\d")
_BOUNDS = ("greater_than_equal", "greater_than", "less_than_equal", "less_than")


def is_number(value: object) -> TypeGuard[float]:
    """Whether this is a finite number; yes and no are none."""
    return isinstance(value, int | float) and not isinstance(value, bool) and math.isfinite(value)


def _brief(value: Any) -> Any:
    if isinstance(value, dict | list):
        return f"{'an object' if isinstance(value, dict) else 'a list'} of {len(value)}"
    return value if isinstance(value, int | float | str) or value is None else shown(value)


def _path(loc: tuple[int | str, ...], document: Any) -> list[str]:
    """Where a fault lies: list positions become item ids, tags of unions drop out."""
    path: list[str] = []
    here = document
    for part in loc:
        if isinstance(part, int) and isinstance(here, list | tuple) and part < len(here):
            here = here[part]
            path.append(str(here["id"]) if isinstance(here, dict) and "id" in here else str(part))
        elif isinstance(here, dict) and part not in here and here.get("kind") == part:
            continue
        else:
            here = here.get(part) if isinstance(here, dict) else None
            path.append(str(part))
    return path
