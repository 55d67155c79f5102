"""*Today*: the stock as it stands, as a plan that is evaluated like any other.

Staying with what there is is a real option, and the baseline of every comparison.
"""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Literal

from pydantic import ValidationError

from larder.base.errors import Refused
from larder.base.problems import refusals
from larder.base.units import drives_text
from larder.plan.bundle import Bundle, Facts, Plan, StockFacts, StockLot
from larder.plan.enclosure import Interface
from larder.plan.pools import Pool

from .drive_health import reuse_of
from .item import StockItem
from .moving import OUTER_BYTES_PER_S
from .shelf import StockResult

POOL_INTERFACES: tuple[Interface, ...] = ("sata", "sas", "nvme")
MOST_LOTS = 100


def today_bundle(
    items: tuple[StockItem, ...], place: str, layout: str, base: Bundle, facts: StockFacts
) -> Bundle:
    """The drives in the box or at the place ``place`` as one pool, with the people and wires of ``base``.

    What is kept today is the unique bytes of the whole stock, as ``facts`` tell; nothing is bought. Raises
    :class:`Refused` where no drives are there, or of two kinds, and what the pool itself refuses.
    """
    drives = [item for item in items if item.kind == "drive" and place in (item.box, item.place) and place]
    places = sorted({where for item in items if item.kind == "drive" for where in (item.box, item.place)})
    if not drives:
        listed = ", ".join(where for where in places if where) or "there is none yet"
        raise Refused("place", place, "a box or place with drives: " + listed)
    media = {item.medium for item in drives}
    if len(media) > 1:
        raise Refused("place", place, "a place with disks only or flash only")
    kind: Literal["hdd", "ssd"] = "ssd" if media == {"ssd"} else "hdd"
    sizes = sorted(item.size_bytes for item in drives)
    try:
        pool = _pool(place, sizes, kind, layout)
    except ValidationError as error:
        fault = refusals(error, {})[0]
        raise Refused("layout", layout, fault.accepted) from None
    brief = base.plan.brief.model_copy(update={"kept_today_bytes": facts.unique_bytes})
    plan = Plan(
        name="Today",
        note=f"The stock as it stands: {place}, with the people of {base.plan.name}."[:400],
        brief=brief,
        pools=(pool,),
        wiring=base.plan.wiring,
    )
    update = {"plan": plan, "facts": Facts(stock=facts)}
    return base.model_copy(update=update | ({"as_of": facts.taken_on} if facts.taken_on else {}))


def stock_facts(items: tuple[StockItem, ...], result: StockResult, as_of: date) -> StockFacts:
    """What a plan pins of the stock it is judged on."""
    return StockFacts(
        taken_on=as_of,
        device_count=len(result.items),
        raw_bytes=result.raw_bytes,
        used_bytes=result.used_bytes,
        unique_bytes=result.unique_bytes,
        sole_bytes=result.sole_bytes,
        sole_device_count=len(result.rescue),
        past_age_count=result.past_age_count,
        failing_count=sum(item.health == "failing" for item in result.items),
        reusable=reusable_lots(items, result),
    )


def reusable_lots(items: tuple[StockItem, ...], result: StockResult) -> tuple[StockLot, ...]:
    """Drives that may go into a new pool as they are, by kind, interface and size, the largest first.

    None that somebody has, and none with material that lies nowhere else.
    """
    answer = {each.id: each for each in result.items}
    lots: dict[tuple[Literal["hdd", "ssd"], Interface, int], list[StockItem]] = {}
    for item in items:
        if item.medium == "card" or item.interface not in POOL_INTERFACES or item.holder:
            continue
        # Its size is odd beside others only; among its like it is not.
        verdict, _ = reuse_of(item, answer[item.id].health, None)
        if verdict == "yes" and not answer[item.id].sole_bytes:
            lots.setdefault((item.medium, item.interface, item.size_bytes), []).append(item)
    return tuple(
        StockLot(
            id=f"{kind}-{interface}-{size // 10**9}gb"[:40],
            kind=kind,
            interface=interface,
            size_bytes=size,
            count=len(drives),
            hours_run=max(item.hours_run or 0 for item in drives),
            surface_tested=all(item.tested_on is not None for item in drives),
        )
        for (kind, interface, size), drives in sorted(lots.items(), key=lambda lot: -lot[0][2])[:MOST_LOTS]
    )


def _pool(place: str, sizes: list[int], kind: Literal["hdd", "ssd"], layout: str) -> Pool:
    mixed = len(set(sizes)) > 1
    return Pool(
        id="today",
        name=place[:80] or "Drives without a place",
        drive_count=len(sizes),
        drive_bytes=sizes[0],
        mixed_sizes=drives_text(sizes) if mixed else "",
        drive_kind=kind,
        drive_read_bytes_per_s=OUTER_BYTES_PER_S[kind],
        drive_write_bytes_per_s=OUTER_BYTES_PER_S[kind],
        drive_unit_price=Decimal("0.00"),
        layout=layout,
    )
