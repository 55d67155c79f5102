"""What the storage hangs on: battery supplies, and whether disks may stand still between uses."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from larder.base.fields import Amount, DistinctIds, Item, Name, Number, Value, labelled


class Battery(Item):
    """A battery supply; ``watts_max`` is what it carries, ``energy_wh`` what it holds."""

    name: Annotated[Name, labelled("Battery supply")]
    watts_max: Annotated[Number, Field(ge=50, le=100_000), labelled("Carries", "W", 100)] = 900.0
    energy_wh: Annotated[Number, Field(ge=10, le=1_000_000), labelled("Holds", "Wh", 10)] = 200.0
    is_reused: Annotated[bool, labelled("From stock, costs nothing")] = False
    unit_price: Annotated[Amount | None, labelled("Price", "money", 10)] = None


class Mains(Value):
    """Battery supplies, and after how long disks of the archive spin down; 0 for never."""

    batteries: Annotated[tuple[Battery, ...], DistinctIds, Field(max_length=20)] = ()
    spin_down_minutes: Annotated[
        Number, Field(ge=0, le=1440), labelled("Disks of the archive spin down after", "min", 10)
    ] = 0.0
    archive_uses_per_day: Annotated[
        Number, Field(ge=0, le=1000), labelled("Times a day the archive is gone to", "", 1)
    ] = 6.0
