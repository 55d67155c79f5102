"""The shooting calendar: what productions bring a week, which are hot at once, and how the archive grows.

A production is shot evenly on the days from its start for so many weeks, is hot until it is archived, and
then leaves its previews behind: footage, proxies and delivered versions stay for ever.
"""

from __future__ import annotations

from collections.abc import Sequence
from copy import copy
from dataclasses import dataclass
from datetime import date, timedelta
from functools import cached_property
from typing import Self

import numpy as np
from numpy.typing import NDArray

from larder.base.units import DAYS_A_YEAR
from larder.plan.formats import Rates
from larder.plan.productions import Production

DAYS_A_WEEK = 7
MOST_AGAIN = 1_000
"""Productions that come again, at the most: fifteen years of a busy house."""
Bytes = NDArray[np.float64]


@dataclass(frozen=True)
class Holdings:
    """What lies there on each of some days, in bytes; the first four sum to all that productions keep.

    ``hot_bytes`` is, of these and of what was shot before, what belongs to productions not archived yet.
    """

    footage_bytes: Bytes
    proxy_bytes: Bytes
    preview_bytes: Bytes
    delivery_bytes: Bytes
    hot_bytes: Bytes
    hot_count: NDArray[np.int64]

    @cached_property
    def total_bytes(self) -> Bytes:
        """All that productions keep."""
        return self.footage_bytes + self.proxy_bytes + self.preview_bytes + self.delivery_bytes


def footage_bytes_per_day(production: Production, rates: Rates) -> float:
    """Footage kept on an average day of shooting weeks, at the format's mean rate."""
    mean = rates[production.format_id][0]
    seconds = production.hours_per_day * 3600 * production.days_per_week / DAYS_A_WEEK
    return seconds * production.cameras * mean * production.kept_ratio


class Calendar:
    """The productions as arrays: a long calendar is looked at on thousands of days."""

    def __init__(self, productions: Sequence[Production], rates: Rates) -> None:
        self.per_day = np.array([footage_bytes_per_day(p, rates) for p in productions], dtype=np.float64)
        self.versions = np.array([p.versions * p.version_bytes for p in productions], dtype=np.float64)
        self.starts, self.wraps, self.delivers, self.archives = (
            np.array([getattr(p, name).toordinal() for p in productions], dtype=np.int64)
            for name in ("starts_on", "wrapped_on", "delivers_on", "archived_on")
        )

    def going_on(self, horizon: date, ends: date) -> Self:
        """With the same productions again, moved on by whole years: those that begin after the horizon.

        By as many years as the calendar's starts span, so that a yearly rhythm stays one.
        """
        if not len(self.starts):
            return self
        years = int((self.starts.max() - self.starts.min()) / DAYS_A_YEAR) + 1
        last = int((ends.toordinal() - int(self.starts.min())) / (years * DAYS_A_YEAR)) + 1
        shifts = np.round(np.arange(1, max(last, 0) + 1) * years * DAYS_A_YEAR).astype(np.int64)
        again = self.starts[None, :] + shifts[:, None]
        at = np.nonzero((again > horizon.toordinal()) & (again <= ends.toordinal()))
        at = (at[0][:MOST_AGAIN], at[1][:MOST_AGAIN])
        longer = copy(self)
        for name in ("starts", "wraps", "delivers", "archives"):
            own = getattr(self, name)
            setattr(longer, name, np.concatenate((own, own[at[1]] + shifts[at[0]])))
        for name in ("per_day", "versions"):
            own = getattr(self, name)
            setattr(longer, name, np.concatenate((own, own[at[1]])))
        return longer

    def footage_between(self, since: date, days: Sequence[date]) -> Bytes:
        """Footage kept of what is shot in [since, day), for each day and production."""
        until = _ordinals(days)[:, None]
        shot = np.minimum(self.wraps, until) - np.maximum(self.starts, since.toordinal())
        footage: Bytes = np.clip(shot, 0, None) * self.per_day
        return footage

    def footage_until(self, days: Sequence[date]) -> Bytes:
        """Footage kept of all that is shot before each day."""
        footage: Bytes = self.footage_between(date.min, days).sum(axis=1)
        return footage

    def holdings(
        self, days: Sequence[date], since: date, proxy_ratio: float, preview_ratio: float
    ) -> Holdings:
        """What the productions have brought from ``since`` until each of ``days``.

        What was shot before ``since`` counts as kept already, but a hot production's set holds it too.
        """
        on = _ordinals(days)[:, None]
        shot, ever = self.footage_between(since, days), self.footage_between(date.min, days)
        is_archived = on >= self.archives
        delivered = ((self.delivers >= since.toordinal()) & (self.delivers <= on)) * self.versions
        is_hot = (self.starts <= on) & ~is_archived
        everything = ever * (1 + proxy_ratio + preview_ratio) + delivered
        footage = shot.sum(axis=1)
        return Holdings(
            footage_bytes=footage,
            proxy_bytes=footage * proxy_ratio,
            preview_bytes=(shot * ~is_archived).sum(axis=1) * preview_ratio,
            delivery_bytes=delivered.sum(axis=1),
            hot_bytes=(everything * is_hot).sum(axis=1),
            hot_count=is_hot.sum(axis=1),
        )


def _ordinals(days: Sequence[date]) -> NDArray[np.int64]:
    return np.array([day.toordinal() for day in days], dtype=np.int64)


def telling_days(productions: Sequence[Production], since: date, horizon: date) -> list[date]:
    """Days between which everything grows evenly: bounds, starts, ends, deliveries, archivings.

    What is kept can only be fullest on one of them or the day before.
    """
    days = {since, horizon}
    for p in productions:
        for day in (p.starts_on, p.wrapped_on, p.delivers_on, p.archived_on):
            days.update(d for d in (day, day - timedelta(days=1)) if since <= d <= horizon)
    return sorted(days)
