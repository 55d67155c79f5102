"""The kinds of field a plan file has: each validates, bounds and parses what people type.

A size may be given in bytes or as text with its unit ("18TB"); so may a rate. Texts hold no control
characters, so that every name can be stored, printed and put in a file.
"""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Any

from pydantic import AfterValidator, BaseModel, BeforeValidator, ConfigDict, Field, StringConstraints

from .errors import Refused
from .layout import parse_layout
from .units import LARGEST_BYTES, LARGEST_BYTES_PER_S, parse_drives, parse_rate, parse_size


def _size_from_text(value: Any) -> Any:
    return parse_size(value) if isinstance(value, str) else value


def _rate_from_text(value: Any) -> Any:
    return parse_rate(value) if isinstance(value, str) else value


def _layout_name(value: str) -> str:
    return parse_layout(value).name


def _cents(value: Decimal) -> Decimal:
    return value.quantize(Decimal("0.01"))


SizeBytes = Annotated[int, BeforeValidator(_size_from_text), Field(ge=0, le=LARGEST_BYTES)]
DriveBytes = Annotated[int, BeforeValidator(_size_from_text), Field(ge=10**9, le=10**15)]
BytesPerS = Annotated[
    float, BeforeValidator(_rate_from_text), Field(ge=0, le=LARGEST_BYTES_PER_S, allow_inf_nan=False)
]
DriveBytesPerS = Annotated[
    float, BeforeValidator(_rate_from_text), Field(ge=10**6, le=10**11, allow_inf_nan=False)
]
Number = Annotated[float, Field(allow_inf_nan=False)]
Amount = Annotated[
    Decimal,
    Field(ge=0, le=10**9, decimal_places=2, allow_inf_nan=False),
    AfterValidator(_cents),
]


def _drive_set(value: str) -> str:
    if value:
        parse_drives(value)
    return value


LayoutName = Annotated[str, StringConstraints(max_length=20), AfterValidator(_layout_name)]
DriveSet = Annotated[
    str, StringConstraints(max_length=400, strip_whitespace=True), AfterValidator(_drive_set)
]
_PLAIN = r"^[^\x00-\x1f\x7f]*$"
Name = Annotated[str, StringConstraints(min_length=1, max_length=80, pattern=_PLAIN)]
Note = Annotated[str, StringConstraints(max_length=400, pattern=_PLAIN)]
ItemId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
Currency = Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")]


class Value(BaseModel):
    """Base of everything in a plan file: immutable, and a field it does not know is refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)


class Item(Value):
    """A thing in a list, found again by its ``id`` when two people change the same plan."""

    id: ItemId


def _distinct(items: tuple[Item, ...]) -> tuple[Item, ...]:
    ids = [item.id for item in items]
    if len(set(ids)) < len(ids):
        twice = next(item_id for item_id in ids if ids.count(item_id) > 1)
        raise Refused("id", twice, "an id that no other item of the list has")
    return items


DistinctIds = AfterValidator(_distinct)


def labelled(title: str, unit: str = "", step: float = 1) -> Any:
    """A field's label, the unit it is shown in and the step of a nudge, kept with its type.

    The frontend's labels are generated from these; see :mod:`larder.glossary`.
    """
    extra: dict[str, Any] = {"unit": unit, "step": step}
    return Field(title=title, json_schema_extra=extra)
