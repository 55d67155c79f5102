"""A production: what is shot from when to when, how much of it is kept, delivered and archived."""

from __future__ import annotations

from datetime import date, timedelta
from typing import Annotated

from pydantic import Field

from larder.base.errors import Refused
from larder.base.fields import Day, Item, Name, Number, RefId, Share, SizeBytes, labelled


class Production(Item):
    """Something that is shot, cut, delivered and archived."""

    name: Annotated[Name, labelled("Production")]
    starts_on: Annotated[Day, labelled("Shooting from")]
    shooting_weeks: Annotated[int, Field(ge=1, le=520), labelled("Weeks of shooting", "weeks")]
    days_per_week: Annotated[Number, Field(gt=0, le=7), labelled("Days a week", "days", 1)] = 5.0
    hours_per_day: Annotated[Number, Field(gt=0, le=24), labelled("Hours a day and camera", "h", 0.5)]
    cameras: Annotated[int, Field(ge=1, le=500), labelled("Cameras")] = 1
    format_id: Annotated[RefId, labelled("Format")]
    kept_ratio: Annotated[Share, labelled("Kept", "share", 5)] = 1.0
    versions: Annotated[int, Field(ge=0, le=200), labelled("Delivered versions")] = 1
    version_bytes: Annotated[SizeBytes, labelled("A version", "GB", 10)] = 0
    delivers_on: Annotated[Day, labelled("Delivery")]
    archived_on: Annotated[Day, labelled("Archived")]

    @property
    def wrapped_on(self) -> date:
        """The day after the last one of shooting."""
        return self.starts_on + timedelta(weeks=self.shooting_weeks)

    def check(self) -> None:
        if self.delivers_on < self.wrapped_on:
            raise Refused(
                "delivers_on",
                self.delivers_on.isoformat(),
                f"{self.wrapped_on} or later, when shooting is over",
            )
        if self.archived_on < self.delivers_on:
            raise Refused(
                "archived_on",
                self.archived_on.isoformat(),
                f"{self.delivers_on} or later, when it is delivered",
            )
