"""From a yes to a drive in use, and by which day one has to say it."""

from __future__ import annotations

import math
from datetime import date, timedelta


def lead_days(order_days: int, delivery_days: int | None, usual_delivery_days: int) -> int:
    """Days to decide, order and build in, and to deliver: its own where that is known, else the usual."""
    return order_days + (usual_delivery_days if delivery_days is None else delivery_days)


def order_by(as_of: date, full_in_days: float, lead: int) -> date | None:
    """The last day to order what has to be in use when storage is full; None where it never is.

    A day in the past says that it is too late.
    """
    return None if math.isinf(full_in_days) else as_of + timedelta(days=math.floor(full_in_days - lead))
