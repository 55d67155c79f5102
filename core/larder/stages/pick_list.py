"""The pick list: everything that has to be there, closed over what no box brings, at the prices of the day.

Cables, adapters, rails, carriers, coolers and power leads are counted from the wires and the boxes. What
purchases say they serve as is taken off; what is still lacking stands as a line of its own, priced where the
plan has a price for such a part. What comes from stock costs nothing and is named.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Iterator
from datetime import date
from decimal import Decimal
from typing import Literal

from larder.base.results import Result
from larder.plan.bundle import PartKind, Plan
from larder.plan.catalogue import Price
from larder.plan.enclosure import Enclosure
from larder.plan.ports import seats_of, wanted_ports
from larder.plan.wiring import PartPrice

from .tiers import TiersResult

PickOf = Literal["pool", "cache", "box", "switch", "battery", "purchase", "lacking"]
PART_WORDS: dict[PartKind, tuple[str, str]] = {
    "rails": ("Rails", "rack boxes that bring none"),
    "carrier": ("Drive carriers", "drives in boxes that bring none"),
    "cooler": ("Coolers", "boxes that bring none"),
    "power lead": ("Power leads for drives", "drives beyond the box's own leads"),
    "cable": ("Network cables", "the wires"),
    "adapter": ("Network adapters", "seats that plug in by one"),
    "network card": ("Network cards", "boxes"),
}
"""(what it is, for what) by part."""


class PickLine(Result):
    """A line of the pick list; ``amount`` is null where no price is known.

    ``reused`` of the ``count`` come from stock and cost nothing. ``of`` and ``id`` say what of the plan it
    is; ``priced_on`` is null where nobody said the day.
    """

    of: PickOf
    id: str
    name: str
    count: int
    reused: int
    unit_price: Decimal | None
    amount: Decimal | None
    priced_on: date | None

    @property
    def is_lacking(self) -> bool:
        """Whether the plan needs it and nothing in it is bought to serve as such."""
        return self.of == "lacking"


PICK_COLUMNS = ("what", "number", "from stock", "price each", "amount", "currency", "price of")


def pick_rows(lines: Iterable[PickLine], currency: str) -> Iterator[list[str]]:
    """The pick list as rows of a table; what has no price yet stays empty."""
    for line in lines:
        result = (line.unit_price, line.amount)
        amounts = ["" if amount is None else str(amount) for amount in result]
        day = line.priced_on.isoformat() if line.priced_on else ""
        yield [line.name, str(line.count), str(line.reused), *amounts, currency, day]


def parts_of_box(box: Enclosure, drives: int) -> dict[PartKind, int]:
    """What a box with so many drives in it wants and does not bring."""
    return {
        "rails": int(box.form == "rack" and not box.brings_rails),
        "cooler": int(bool(box.processor) and not box.brings_cooler),
        "carrier": 0 if box.brings_carriers else drives,
        "power lead": max(drives - box.drive_leads, 0) if box.drive_leads else 0,
    }


def part_price(plan: Plan, part: PartKind) -> PartPrice | None:
    """The dearest price of such a part at a speed that a link of the plan has, so that a sum is no promise.

    Of any speed where there is none at those; None where no price is known at all.
    """
    speeds = {link.speed for link in plan.wiring.links}
    known = [price for price in plan.wiring.prices if price.part == part]
    fitting = [price for price in known if price.speed in speeds]
    return max(fitting or known, key=lambda price: price.unit_price, default=None)


def parts_needed(plan: Plan) -> Counter[PartKind]:
    """How many of each part the boxes and wires of a plan want, that no box brings."""
    needed: Counter[PartKind] = Counter()
    drives = Counter(bay.box_id for occupant in plan.occupants() for bay in occupant.placed)
    for box in plan.boxes:
        needed.update(parts_of_box(box, drives[box.id]))
    seats = seats_of(plan)
    for link in plan.wiring.links:
        near = link.ends[0]
        if near.kind == "outside":
            continue
        needed["cable"] += wanted_ports(link, seats)
        if link.adapter and near.kind == "seat":
            needed["adapter"] += seats.get(near.id, 0)
    return +needed


def pick_list(plan: Plan, tiers: TiersResult, prices: dict[str, Price]) -> tuple[PickLine, ...]:
    """Every line; once anything is priced, what is lacking last."""
    lines = tuple(_of_the_plan(plan, tiers, prices))
    # Where nothing is priced at all nobody is at the pick list yet.
    return (*lines, *_lacking(plan)) if any(line.amount for line in lines) else lines


def _line(
    of: PickOf, item_id: str, name: str, count: int, each: Decimal | None, *,
    reused: int = 0, priced_on: date | None = None,
) -> PickLine:  # fmt: skip
    bought = count - reused
    amount = Decimal("0.00") if not bought else None if each is None else each * bought
    return PickLine(
        of=of, id=item_id, name=name, count=count, reused=reused,
        unit_price=each, amount=amount, priced_on=priced_on,
    )  # fmt: skip


def _of_the_plan(plan: Plan, tiers: TiersResult, prices: dict[str, Price]) -> Iterator[PickLine]:
    def day(typed: Decimal | None, item_id: str) -> date | None:
        return prices[item_id].priced_on if typed is None and item_id in prices else None

    for pool, result in zip(plan.pools, tiers.pools, strict=True):
        count = len(pool.drives_bytes) + pool.cold_spares
        yield _line(
            "pool", pool.id, f"{pool.name}: drives", count, result.drive_price,
            reused=pool.reused_drives, priced_on=day(pool.drive_unit_price, pool.drive_id),
        )  # fmt: skip
    caches = {pool.id: pool.cache for pool in tiers.pools if pool.cache is not None}
    for cache in plan.caches:
        each = caches[cache.pool_id].drive_price
        on = day(cache.drive_unit_price, cache.drive_id)
        yield _line("cache", cache.id, cache.name, cache.drive_count, each, priced_on=on)
    for box, priced in zip(plan.boxes, tiers.enclosures, strict=True):
        if box.model_id or priced.price is not None or box.is_reused:
            on = day(box.unit_price, box.model_id)
            yield _line("box", box.id, box.name, 1, priced.price, reused=int(box.is_reused), priced_on=on)
    for switch in plan.wiring.switches:
        if switch.unit_price is not None:
            yield _line("switch", switch.id, switch.name, 1, switch.unit_price)
    for battery in plan.mains.batteries:
        reused = int(battery.is_reused)
        yield _line("battery", battery.id, battery.name, 1, battery.unit_price, reused=reused)
    for p in plan.purchases:
        reused = p.count if p.is_reused else 0
        yield _line("purchase", p.id, p.name, p.count, p.unit_price, reused=reused, priced_on=p.priced_on)


def _lacking(plan: Plan) -> Iterator[PickLine]:
    needed = parts_needed(plan)
    for purchase in plan.purchases:
        if purchase.part:
            needed[purchase.part] -= purchase.count
    for part, (words, what_for) in PART_WORDS.items():
        if needed[part] > 0:
            price = part_price(plan, part)
            yield _line(
                "lacking",
                part,
                f"{words}, for {what_for}",
                needed[part],
                None if price is None else price.unit_price,
                priced_on=None if price is None else price.priced_on,
            )
