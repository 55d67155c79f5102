"""Figures for people at a terminal: the key, the value, and the unit that the key's name ends in."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from larder.base.measures import SIGNS, unit_of_name
from larder.base.units import TB, TIB

LONGEST_LIST = 12


def in_words(result: dict[str, Any], indent: str = "") -> Iterator[str]:
    """One line a key; lists of objects become indented lines."""
    width = max((len(key) for key in result), default=0)
    for key, value in result.items():
        if isinstance(value, dict):
            yield f"{indent}{key}"
            yield from in_words(value, indent + "  ")
        elif isinstance(value, list | tuple):
            yield f"{indent}{key}"
            yield from _items(value, indent + "  ")
        else:
            yield f"{indent}{key:<{width}}  {_value(key, value)}"


def _items(values: list[Any] | tuple[Any, ...], indent: str) -> Iterator[str]:
    for value in values[:LONGEST_LIST]:
        if isinstance(value, dict):
            parts = (
                f"{k} {_value(k, v)}" for k, v in value.items() if not isinstance(v, dict | list | tuple)
            )
            yield indent + "  ".join(parts)
        else:
            yield f"{indent}{value}"
    if len(values) > LONGEST_LIST:
        yield f"{indent}… {len(values) - LONGEST_LIST} more; --json gives all"


def _value(key: str, value: Any) -> str:
    if value is None:
        return "none"
    if not isinstance(value, int | float) or isinstance(value, bool):
        return str(value)
    if key.endswith("probability"):
        return f"{value:.3g}"
    unit = unit_of_name(key)
    if unit == "bytes_per_s":
        return f"{value / SIGNS[unit].factor:.1f} {SIGNS[unit].after}"
    if unit == "bytes" and abs(value) >= TB:
        return f"{value / TB:.3f} {SIGNS[unit].after} = {value / TIB:.3f} {SIGNS['tib'].after}"
    return f"{value:,}" if isinstance(value, int) else f"{value:,.3f}"
