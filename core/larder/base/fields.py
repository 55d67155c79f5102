"""The kinds of field a plan file has: each validates, bounds and parses what people type.

A size may be given in bytes or as text with its unit ("18TB"); so may a rate. Texts hold no control
characters, so that every name can be stored, printed and put in a file.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import date
from decimal import Decimal
from functools import cache
from operator import itemgetter
from typing import Annotated, Any, Self

from pydantic import (
    AfterValidator,
    BaseModel,
    BeforeValidator,
    ConfigDict,
    Field,
    StringConstraints,
    model_validator,
)

from .errors import Refused
from .measures import Unit
from .units import GB, LARGEST_BYTES, LARGEST_BYTES_PER_S, parse_drives, parse_rate, parse_size

SMALLEST_NUMBER, SMALLEST_RATE, SMALLEST_PER_BIT = 1e-12, 1.0, 1e-30
"""Nearer to nothing than this is a slip of the hand, and quotients of such numbers would be no figures."""
LARGEST_PICTURE_BYTES = 100 * GB
"""A stitched panorama or a scan of a large plate; a camera's raw file is a thousandth of it."""
LARGEST_FORMAT_BYTES_PER_S = 100 * GB
"""More than 16K at 120 frames a second, 16 bits of RGB and no compression."""
EARLIEST, LATEST = date(1970, 1, 1), date(2199, 12, 31)
"""Days a plan may speak of: so that no sum of weeks leaves the calendar."""


def _size_from_text(value: Any) -> Any:
    return parse_size(value) if isinstance(value, str) else value


def _rate_from_text(value: Any) -> Any:
    return parse_rate(value) if isinstance(value, str) else value


def _part_from_text(value: Any) -> Any:
    """``65 %`` is 0.65; other texts stay what they are."""
    if isinstance(value, str) and value.rstrip().endswith("%"):
        try:
            return float(value.rstrip()[:-1]) / 100
        except ValueError:
            return value
    return value


def _cents(value: Decimal) -> Decimal:
    return value.quantize(Decimal("0.01"))


SizeBytes = Annotated[int, BeforeValidator(_size_from_text), Field(ge=0, le=LARGEST_BYTES)]
PictureBytes = Annotated[int, BeforeValidator(_size_from_text), Field(ge=0, le=LARGEST_PICTURE_BYTES)]
DriveBytes = Annotated[int, BeforeValidator(_size_from_text), Field(ge=10**9, le=10**15)]
BytesPerS = Annotated[
    float,
    BeforeValidator(_rate_from_text),
    Field(ge=0, le=LARGEST_BYTES_PER_S, allow_inf_nan=False),
]
FormatBytesPerS = Annotated[
    float,
    BeforeValidator(_rate_from_text),
    Field(ge=1, le=LARGEST_FORMAT_BYTES_PER_S, allow_inf_nan=False),
]
DriveBytesPerS = Annotated[
    float, BeforeValidator(_rate_from_text), Field(ge=10**6, le=10**11, allow_inf_nan=False)
]
Number = Annotated[float, Field(allow_inf_nan=False)]
Part = Annotated[float, BeforeValidator(_part_from_text), Field(allow_inf_nan=False)]
"""A part of something, 1 for all of it; text may say it in per cent."""
Share = Annotated[Part, Field(ge=0, le=1)]
Day = Annotated[date, Field(ge=EARLIEST, le=LATEST)]
Amount = Annotated[
    Decimal,
    Field(ge=0, le=10**9, decimal_places=2, allow_inf_nan=False),
    AfterValidator(_cents),
]


def _drive_set(value: str) -> str:
    if value:
        parse_drives(value)
    return value


DriveSet = Annotated[
    str, StringConstraints(max_length=400, strip_whitespace=True), AfterValidator(_drive_set)
]
_PLAIN = r"^[^\x00-\x1f\x7f]*$"
RefId = Annotated[str, StringConstraints(max_length=40, pattern=_PLAIN)]
"""The id of something else in the plan; whether there is such a thing is checked where both are known."""
Name = Annotated[str, StringConstraints(min_length=1, max_length=80, pattern=_PLAIN)]
Note = Annotated[str, StringConstraints(max_length=400, pattern=_PLAIN)]
ItemId = Annotated[str, StringConstraints(pattern=r"^[a-z0-9][a-z0-9-]{0,39}$")]
Currency = Annotated[str, StringConstraints(pattern=r"^[A-Z]{3}$")]


def smallest_of(field: str) -> float:
    """The smallest magnitude besides 0 that a number of this name may have."""
    if field.endswith("bytes_per_s"):
        return SMALLEST_RATE
    return SMALLEST_PER_BIT if field.endswith("per_bit") else SMALLEST_NUMBER


@cache
def _values_of(model: type[BaseModel]) -> Callable[[dict[str, Any]], Any]:
    """Reads all fields of a model at once."""
    names = tuple(model.__pydantic_fields__)
    return itemgetter(*names) if names else lambda _: ()


class Value(BaseModel):
    """Base of everything in a plan file: immutable, and a field it does not know is refused."""

    model_config = ConfigDict(frozen=True, extra="forbid", populate_by_name=True)

    @model_validator(mode="after")
    def _stands(self) -> Self:
        self._check_numbers()
        self.check()
        return self

    def __hash__(self) -> int:
        """Kept once it is known: memos ask for it again and again, down to every field."""
        kept = self.__dict__
        found: int | None = kept.get("_hash")
        if found is None:
            found = kept["_hash"] = hash(_values_of(type(self))(kept))
        return found

    def model_copy(self, *, update: Mapping[str, Any] | None = None, deep: bool = False) -> Self:
        """As pydantic's; the copy knows its own hash."""
        copy = super().model_copy(update=update, deep=deep)
        copy.__dict__.pop("_hash", None)
        return copy

    def check(self) -> None:
        """Raise :class:`Refused` where fields that are right by themselves do not go together."""

    def _check_numbers(self) -> None:
        """Every number is 0 or large enough to be divided by."""
        for name, value in self.__dict__.items():
            if type(value) is float and value and abs(value) < SMALLEST_RATE:
                smallest = smallest_of(name)
                if abs(value) < smallest:
                    raise Refused(name, value, f"0 or a number of {smallest:g} or more")


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


def labelled(title: str, unit: Unit = "", step: float = 1) -> Any:
    """A field's label, the unit of :mod:`larder.base.measures` it is shown in and the step of a nudge.

    Kept with its type; the frontend's labels are generated from these, see :mod:`larder.plan.glossary`.
    """
    extra: dict[str, Any] = {"unit": unit, "step": step}
    return Field(title=title, json_schema_extra=extra)
