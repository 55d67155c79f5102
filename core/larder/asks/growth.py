"""Questions about growing: ways out when a pool is full, what retiring earlier buys, which project grew."""

from __future__ import annotations

import math
from collections.abc import Iterator
from datetime import timedelta
from decimal import Decimal
from typing import Any

from larder.base.errors import Refused
from larder.base.patch import Operation
from larder.base.results import Result
from larder.base.units import SECONDS_A_DAY, size_text
from larder.laws.device import MECHANICS
from larder.laws.fill import WEEKS_A_YEAR
from larder.laws.layout import Family, parse_layout
from larder.laws.rebuild import mean_over_surface
from larder.plan.bays import parse_bays
from larder.plan.bundle import Bundle
from larder.plan.catalogue import CatalogueBox, CatalogueDrive, amount_of
from larder.plan.drive_swap import fits_its_bays
from larder.plan.enclosure import Interface, fits
from larder.plan.growth import Step, Way
from larder.plan.layout_words import more_parity_later
from larder.plan.new_item import fresh_id
from larder.plan.pools import Pool
from larder.stages.grown_pool import grown_by
from larder.stages.money import per_tb
from larder.stages.need import NEED, need_of
from larder.stages.pool import PoolResult
from larder.stages.prices import PRICES
from larder.stages.rates import RATES
from larder.stages.registry import PARTS
from larder.stages.stage import Judged, judge
from larder.stages.tiers import TIERS

from .drive_prices import DrivePrice, drive_prices

BUILD_SECONDS = float(SECONDS_A_DAY)
"""An evening to build a box in and a night in which its drives are tested."""
MOST_ADDED = 60
MORE_OF_WORK = 0.25
"""A pool for work grows by a quarter of what is hot, others by what a year brings."""
RESHAPED = (Family.PARITY, Family.LAYERED, Family.COPY_ON_WRITE)
"""What is added to these is spread over all drives: everything is read and written once."""


class GrowWay(Result):
    """One way to grow a pool. Null is not known; ``why_not`` says what forbids it, and the rest is 0 then.

    ``takes_seconds`` is under load; ``patch`` plans it as the next purchase for when the pool is full.
    """

    way: Way | None
    name: str
    adds_bytes: int
    takes_seconds: float
    price: Decimal | None
    price_per_tb: Decimal | None
    risk: str
    why_not: str
    patch: tuple[Operation, ...]


class PoolWays(Result):
    """The ways of one pool, and whether it can come to survive more."""

    pool_id: str
    name: str
    more_parity: str
    ways: tuple[GrowWay, ...]


class Earlier(Result):
    """What it buys to retire everything a week earlier than planned, at the fullest."""

    weeks: int
    freed_bytes: int
    words: str


class ProjectGrown(Result):
    """What a project came to hold more between two readings of it, bytes."""

    project: str
    pool_id: str
    since: str
    until: str
    grown_bytes: int
    used_bytes: int


class GrowthAsked(Result):
    """All that is asked about growing besides the forecast."""

    pools: tuple[PoolWays, ...]
    earlier: Earlier | None
    projects: tuple[ProjectGrown, ...]
    drive_prices: tuple[DrivePrice, ...]


def growth_asked(bundle: Bundle) -> GrowthAsked:
    """What the stage asks besides its verdicts."""
    judged = judge(bundle, PARTS)
    pairs = zip(bundle.plan.pools, judged.of(TIERS).pools, strict=True)
    return GrowthAsked(
        pools=tuple(_ways_of(judged, pool, result) for pool, result in pairs),
        earlier=_earlier(judged),
        projects=tuple(sorted(_grown(bundle), key=lambda p: -p.grown_bytes)),
        drive_prices=drive_prices(judged),
    )


def ways_to_grow(bundle: Bundle, pool_id: str) -> PoolWays:
    """The ways of one pool; raises :class:`Refused` for no such pool."""
    judged = judge(bundle, PARTS)
    for pool, result in zip(bundle.plan.pools, judged.of(TIERS).pools, strict=True):
        if pool.id == pool_id:
            return _ways_of(judged, pool, result)
    listed = ", ".join(pool.id for pool in bundle.plan.pools) or "there is none yet"
    raise Refused("pool_id", pool_id, f"the id of a pool ({listed})")


def _ways_of(judged: Judged, pool: Pool, result: PoolResult) -> PoolWays:
    asked = _Asked(judged, pool, result)
    return PoolWays(
        pool_id=pool.id,
        name=pool.name,
        more_parity=more_parity_later(parse_layout(pool.layout)),
        ways=(
            asked.free_bays(),
            asked.larger_drives(),
            asked.beside("expansion unit"),
            asked.beside("second box"),
        ),
    )


class _Asked:
    """One pool that is to grow, by at least a year's growth of its tier where it can."""

    def __init__(self, judged: Judged, pool: Pool, result: PoolResult) -> None:
        self.pool, self.result = pool, result
        self.bundle = judged.bundle
        self.layout = parse_layout(pool.layout)
        self.prices = judged.of(PRICES)
        classes = {drive.id: drive for drive in self.bundle.catalogue.drives}
        self.drive: CatalogueDrive | None = classes.get(pool.drive_id)
        need = judged.of(NEED)
        self.wanted_bytes = need.growth_bytes_per_week * WEEKS_A_YEAR
        if judged.of(TIERS).has_both_tiers and pool.tier == "work":
            # What is hot does not pile up.
            self.wanted_bytes = need.working_set_bytes * MORE_OF_WORK

    def free_bays(self) -> GrowWay:
        """More of its drives in bays that are free in its boxes."""
        name = "Drives into free bays"
        free = free_bays_of(self.bundle, self.pool)
        if free is None:
            return _cannot("free bays", name, "nobody has said in which bays its drives are")
        if not free:
            return _cannot("free bays", name, "no bay is free in its boxes")
        size = max(self.pool.members_bytes)
        step, why_not = self._fewest("free bays", free, size)
        if step is None:
            return _cannot("free bays", name, why_not)
        each = self._drive_price()
        price = None if each is None else each * step.drive_count
        reshaped = self.layout.family in RESHAPED
        is_group = step.drive_count >= self.layout.fewest_members
        if self.layout.family is Family.COPY_ON_WRITE and is_group:
            reshaped = False
        seconds = self._reshaping_seconds() if reshaped else 0.0
        risk = "Nothing is moved: what is new goes to where there is room."
        if reshaped:
            risk = (
                f"Every drive is read and written in full for {_days(seconds)}; it survives "
                f"{self.result.guaranteed_failures} dead meanwhile."
            )
        if reshaped and self.layout.family is Family.COPY_ON_WRITE:
            risk += " What lies there keeps the ratio it was written with."
        named = f"{step.drive_count} × {size_text(size)} into free bays"
        return self._way(step, named, seconds, price, risk)

    def larger_drives(self) -> GrowWay:
        """All its drives replaced by larger ones, one rebuild each."""
        name = "Larger drives, one by one"
        if not self.result.guaranteed_failures:
            return _cannot("larger drives", name, "no drive can be taken out of it: it is made anew")
        smallest = min(self.pool.members_bytes)
        fitting = [
            drive
            for drive in self.bundle.catalogue.drives
            if drive.kind == self.pool.drive_kind
            and drive.size_bytes > smallest
            and not (drive.recording == "smr" and self.layout.parity)
            and fits_its_bays(self.bundle.plan, self.pool, drive) is None
            and self._is_allowed(drive.size_bytes)
        ]
        if not fitting:
            return _cannot("larger drives", name, "the catalogue has no larger ones that go into its bays")
        count = len(self.pool.drives_bytes)
        offers = [(_priced(amount_of(None, self.prices, drive.id), count), drive) for drive in fitting]
        # The cheapest for each TB more; what has no price comes last.
        price, drive = min(
            offers,
            key=lambda o: (o[0] is None, float(o[0] or 0) / (o[1].size_bytes - smallest), o[1].size_bytes),
        )
        step = self._step("larger drives", count, drive.size_bytes)
        rebuilt = self.result.rebuild_seconds or 0.0
        seconds = count * rebuilt
        left = self.result.guaranteed_failures - 1
        odds = -math.expm1(count * math.log1p(-min(self.result.unreadable_odds or 0.0, 1 - 1e-12)))
        risk = f"{count} rebuilds, one after the other; in each it survives {left} more dead."
        if not left:
            risk += f" One of them meets a sector it cannot read with odds of {odds:.1%}."
        named = f"{count} × {size_text(drive.size_bytes)}, one by one"
        return self._way(step, named, seconds, price, risk)

    def beside(self, way: Way) -> GrowWay:
        """A pool like it in an expansion unit or a box of its own."""
        name = "An expansion unit" if way == "expansion unit" else "A second box"
        usual: Interface = "nvme" if self.pool.drive_kind == "ssd" else "sata"
        interface = self.drive.interface if self.drive else usual
        suits = [
            box
            for box in self.bundle.catalogue.boxes
            if (box.form == "expansion unit") == (way == "expansion unit") and fits(interface, box.bay_bus)
        ]
        size, each = max(self.pool.members_bytes), self._drive_price()
        offers: list[tuple[bool, Decimal, int, Decimal | None, CatalogueBox, Step]] = []
        why_not = "the catalogue has none that takes such drives"
        for box in suits:
            step, why = self._fewest(way, box.bays, size)
            why_not = why or why_not
            if step is None:
                continue
            price = amount_of(None, self.prices, box.id)
            sum_of_it = None if price is None or each is None else price + each * step.drive_count
            is_enough = grown_by(self.pool, step).adds_bytes >= self.wanted_bytes
            is_last = sum_of_it is None or not is_enough
            offers.append((is_last, sum_of_it or Decimal(0), box.bays, sum_of_it, box, step))
        if not offers:
            return _cannot(way, name, why_not)
        _, _, _, whole, box, step = min(offers, key=lambda offer: offer[:3])
        named = f"{box.name} with {step.drive_count} × {size_text(size)}"
        risk = (
            "What is in it goes with its one cable: a pool of its own."
            if way == "expansion unit"
            else "Two pools and two shares; people look in two places."
        )
        return self._way(step, named, BUILD_SECONDS, whole, risk)

    def _is_allowed(self, size: int) -> bool:
        """Whether the lists of its boxes take drives of this size where its drives are."""
        boxes = {box.id: box for box in self.bundle.plan.boxes}
        return all(
            boxes[bay.box_id].ignores_list
            or boxes[bay.box_id].allowed(bay.slot, "pool", self.pool.drive_kind, size)
            for bay in self.pool.placed
        )

    def _fewest(self, way: Way, most: int, size: int) -> tuple[Step | None, str]:
        """The fewest drives that hold a year's growth, else as many as there is room for."""
        found, why_not = None, ""
        for count in range(1, min(most, MOST_ADDED) + 1):
            step = self._step(way, count, size)
            grown = grown_by(self.pool, step)
            if grown.why_not:
                why_not = grown.why_not
                continue
            found = step
            if grown.adds_bytes >= self.wanted_bytes:
                break
        return found, "" if found else why_not

    def _step(self, way: Way, count: int, size: int) -> Step:
        taken = (step.id for step in self.bundle.plan.growth.steps)
        values: dict[str, Any] = {
            "id": fresh_id(f"{self.pool.id[:14]}-{way}", taken),
            "name": f"{count} × {size_text(size)}",
            "pool_id": self.pool.id,
            "way": way,
            "drive_count": count,
            "drive_bytes": size,
        }
        return Step.model_validate(values)

    def _drive_price(self) -> Decimal | None:
        return amount_of(self.pool.drive_unit_price, self.prices, self.pool.drive_id)

    def _reshaping_seconds(self) -> float:
        """Each drive read and written in full, at the share of its rate that a rebuild gets."""
        member = min(self.pool.members_bytes)
        mechanics = self.drive.mechanics if self.drive else MECHANICS[self.pool.drive_kind]
        surface = mean_over_surface(mechanics.inner_ratio) if self.pool.drive_kind == "hdd" else 1.0
        share = self.bundle.house_rules.rebuild_share_percent / 100
        a_byte = 1 / self.pool.drive_read_bytes_per_s + 1 / self.pool.drive_write_bytes_per_s
        return member * a_byte / surface / share

    def _way(self, step: Step, name: str, seconds: float, price: Decimal | None, risk: str) -> GrowWay:
        grown = grown_by(self.pool, step)
        if grown.why_not:
            return _cannot(step.way, name, grown.why_not)
        planned = step.model_copy(update={"name": name[:80], "price": price})
        each = None if price is None else per_tb(price, grown.adds_bytes)
        patch = (Operation(op="add", path="plan/growth/steps", value=planned.model_dump(mode="json")),)
        return GrowWay(
            way=step.way, name=name, adds_bytes=grown.adds_bytes, takes_seconds=seconds, price=price,
            price_per_tb=each, risk=risk, why_not="", patch=patch,
        )  # fmt: skip


def _priced(each: Decimal | None, count: int) -> Decimal | None:
    return None if each is None else each * count


def _cannot(way: Way, name: str, why_not: str) -> GrowWay:
    return GrowWay(
        way=way, name=name, adds_bytes=0, takes_seconds=0.0, price=None, price_per_tb=None,
        risk="", why_not=why_not, patch=(),
    )  # fmt: skip


def _days(seconds: float) -> str:
    days = seconds / SECONDS_A_DAY
    return f"{days:.0f} days" if days >= 2 else f"{seconds / 3600:.0f} hours"


def free_bays_of(bundle: Bundle, pool: Pool) -> int | None:
    """Bays for more of a pool's drives, kept for it or free in its boxes; None where none are said."""
    own = parse_bays(pool.bays)
    if not own:
        return None
    taken = {bay for occupant in bundle.plan.occupants() for bay in occupant.bays}
    slots = {(bay.box_id, bay.slot) for bay in own}
    places = (bay for box in bundle.plan.boxes for bay in box.places)
    free = sum((bay.box_id, bay.slot) in slots and bay not in taken for bay in places)
    return free + max(len(own) - len(pool.drives_bytes), 0)


def _earlier(judged: Judged) -> Earlier | None:
    """The brief with everything retired a week earlier; None where there is no archive to retire to."""
    bundle, tiers = judged.bundle, judged.of(TIERS)
    brief, need = bundle.plan.brief, judged.of(NEED)
    if not tiers.has_both_tiers or not need.working_set_bytes:
        return None
    week = timedelta(weeks=1)
    productions = tuple(
        p.model_copy(update={"archived_on": max(p.archived_on - week, p.delivers_on)})
        for p in brief.productions
    )
    sooner = brief.model_copy(update={"productions": productions, "hot_weeks": max(brief.hot_weeks - 1, 0)})
    freed = need.working_set_bytes - need_of(sooner, judged.of(RATES), bundle.as_of).working_set_bytes
    freed -= need.growth_terms.played_bytes
    work = tiers.tier_bytes("work")
    return Earlier(
        weeks=1,
        freed_bytes=max(round(freed), 0),
        words=f"{max(freed, 0.0) / work:.0%} of what is plannable for work" if work else "",
    )


def _grown(bundle: Bundle) -> Iterator[ProjectGrown]:
    """First against last reading of every project on every pool."""
    by_project: dict[tuple[str, str], list[Any]] = {}
    for reading in bundle.plan.growth.readings:
        if reading.project:
            by_project.setdefault((reading.project, reading.pool_id), []).append(reading)
    for (project, pool_id), readings in by_project.items():
        ordered = sorted(readings, key=lambda r: r.read_on)
        first, last = ordered[0], ordered[-1]
        yield ProjectGrown(
            project=project,
            pool_id=pool_id,
            since=first.read_on.isoformat(),
            until=last.read_on.isoformat(),
            grown_bytes=last.used_bytes - (first.used_bytes if len(ordered) > 1 else 0),
            used_bytes=last.used_bytes,
        )
