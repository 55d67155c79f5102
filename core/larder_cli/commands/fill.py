"""``larder fill``: when storage is full at a steady growth, and by when more is to be ordered."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace
from datetime import UTC, date, datetime, timedelta

from larder.base.errors import Refused
from larder.base.fields import EARLIEST, LATEST
from larder.base.units import parse_size, size_text
from larder.laws.fill import WEEKS_A_YEAR, years_to_fill
from larder_cli.arguments import Answer, JsonObject, percent_of, whole

LONGEST_LEAD_DAYS = 3650
MOST_GROWTH_PERCENT = 1000.0
DATE_ACCEPTED = f"a date such as 2026-11-26, from {EARLIEST} to {LATEST}"


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("--capacity", required=True, help="usable bytes, such as 112TB")
    sub.add_argument("--used", required=True, help="what lies there now")
    sub.add_argument("--per-week", required=True, help="what comes in a week now, such as 260GB")
    sub.add_argument("--growth", default="0", metavar="PCT_PER_YEAR", help="more every year by (default 0)")
    sub.add_argument("--limit", default="80", metavar="PCT", help="full at (default 80)")
    sub.add_argument("--lead-days", default="0", help="from order to use (default 0)")
    sub.add_argument("--from", dest="since", default="", metavar="DATE", help="counted from (default today)")


def run(options: Namespace) -> JsonObject:
    """The closed form of steady growth."""
    capacity, used = parse_size(options.capacity, "capacity"), parse_size(options.used, "used")
    if not capacity:
        raise Refused("capacity", options.capacity, "a size above 0")
    if used > capacity:
        raise Refused("used", options.used, f"at most the capacity, {size_text(capacity)}")
    per_week = parse_size(options.per_week, "per-week")
    growth = percent_of(options.growth, "growth", 0, MOST_GROWTH_PERCENT) / 100
    limit = percent_of(options.limit, "limit", 0, 100)
    if not limit:
        raise Refused("limit", options.limit, "a percentage above 0 and up to 100")
    lead = whole(options.lead_days, "lead-days", 0, LONGEST_LEAD_DAYS)
    since = _day(options.since) if options.since else datetime.now(UTC).date()
    years = years_to_fill(capacity * limit / 100 - used, per_week * WEEKS_A_YEAR, growth)
    weeks = None if years is None else years * WEEKS_A_YEAR
    fill = None if weeks is None or weeks * 7 > (LATEST - since).days else since + timedelta(days=weeks * 7)
    return {
        "fill_date": None if fill is None else fill.isoformat(),
        "order_by_date": None if fill is None else (fill - timedelta(days=lead)).isoformat(),
        "weeks": weeks,
    }


def _day(text: str) -> date:
    try:
        day = date.fromisoformat(text)
    except ValueError:
        raise Refused("from", text, DATE_ACCEPTED) from None
    if not EARLIEST <= day <= LATEST:
        raise Refused("from", text, DATE_ACCEPTED)
    return day


ANSWER = Answer("When storage is full, and by when more is to be ordered.", add_arguments, run)
