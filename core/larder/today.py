"""*Today*: the stock as it stands, as a plan that is evaluated like any other.

Staying with what there is is a real option, and the baseline of every comparison.
"""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Literal

from pydantic import ValidationError

from .bundle import Bundle, Plan, Pool
from .errors import Refused
from .problems import refusals
from .stock import StockItem, unique_bytes
from .units import drives_text

USUAL_BYTES_PER_S = {"hdd": 180e6, "ssd": 480e6}
"""Sequential rate of a drive in use, where none was measured: a 7,200 rpm disk, a SATA flash drive."""


def today_bundle(items: tuple[StockItem, ...], place: str, layout: str, base: Bundle, as_of: date) -> Bundle:
    """The drives at ``place`` as one pool under ``layout``, with the people and wires of ``base``.

    What is kept today is the unique bytes of the whole stock; nothing is bought. Raises
    :class:`Refused` where no drives lie there, or of two kinds, and what the pool itself refuses.
    """
    drives = [item for item in items if item.place == place and item.kind == "drive"]
    places = sorted({item.place for item in items if item.kind == "drive" and item.place})
    if not drives:
        raise Refused("place", place, "a place with drives: " + ", ".join(places))
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
    brief = base.plan.brief.model_copy(update={"kept_today_bytes": unique_bytes(items)})
    plan = Plan(
        name="Today",
        note=f"The stock as it stands: {place}, with the people of {base.plan.name}."[:400],
        brief=brief,
        pools=(pool,),
        wiring=base.plan.wiring,
    )
    return base.model_copy(update={"plan": plan, "as_of": as_of})


def _pool(place: str, sizes: list[int], kind: Literal["hdd", "ssd"], layout: str) -> Pool:
    mixed = len(set(sizes)) > 1
    return Pool(
        id="today",
        name=place[:80] or "Drives without a place",
        drive_count=len(sizes),
        drive_bytes=sizes[0],
        mixed_sizes=drives_text(sizes) if mixed else "",
        drive_kind=kind,
        drive_read_bytes_per_s=USUAL_BYTES_PER_S[kind],
        drive_write_bytes_per_s=USUAL_BYTES_PER_S[kind],
        drive_unit_price=Decimal("0.00"),
        layout=layout,
    )
