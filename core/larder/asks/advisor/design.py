"""A design: what is chosen of the options, and the ordinary plan that it is."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple, get_args

from larder.base.errors import Refused
from larder.base.units import drives_text
from larder.laws.capacity import default_filesystem
from larder.laws.layout import Layout, parse_layout
from larder.plan.bays import Bay, Box, bays_text
from larder.plan.bundle import Bundle, Purchase
from larder.plan.caches import Cache
from larder.plan.catalogue import CatalogueBox
from larder.plan.enclosure import Slot
from larder.plan.pools import Pool
from larder.plan.ports import SPEEDS
from larder.plan.safekeeping import Safekeeping
from larder.plan.take_class import of_class
from larder.plan.wiring import End, Link, Switch, ethernet_ports

from .options import CacheChoice, Options, Tier

Shape = Literal["one pool", "two boxes", "one box"]
DESIGN_ACCEPTED = "the key of a design, as the advice of this plan gives it"
BATCHES = 2
"""Drives are bought in two batches wherever there are two: it costs nothing."""


class PoolChoice(NamedTuple):
    """One pool: which box, where in it, which drives, how laid out, with how many spares."""

    tier: Tier
    box_at: int
    slot: Slot
    drive_at: int
    layout: Layout
    members: int
    hot_spares: int
    cold_spares: int
    cache: CacheChoice | None = None

    @property
    def drives(self) -> int:
        """Those in bays."""
        return self.members + self.hot_spares


@dataclass(frozen=True)
class Design:
    """Pools in boxes, reached over one of the networks, copied by one of the ways to keep copies."""

    shape: Shape
    pools: tuple[PoolChoice, ...]
    network_at: int = 0
    keeping_at: int = 0

    def with_keeping(self, keeping_at: int) -> Design:
        return replace(self, keeping_at=keeping_at)


class NetworkOption(NamedTuple):
    """Switches and the links of seats, without any link to storage; boxes are plugged into ``switch_id``."""

    words: str
    switches: tuple[Switch, ...]
    links: tuple[Link, ...]
    switch_id: str
    speed: str
    purchases: tuple[Purchase, ...] = ()


class KeepingOption(NamedTuple):
    """A way to keep copies, and what is bought for it."""

    words: str
    safekeeping: Safekeeping
    purchases: tuple[Purchase, ...] = ()


SHAPES: tuple[Shape, ...] = get_args(Shape)
_SEPARATED = "."


def key_of(design: Design) -> str:
    """A design in letters and numbers, from which it can be made again for the same catalogue."""
    head = (SHAPES.index(design.shape), design.network_at, design.keeping_at)
    return "_".join((f"d{_joined(head)}", *map(_pool_key, design.pools)))


def _pool_key(pool: PoolChoice) -> str:
    is_flash, layout = int(pool.slot == "flash slot"), pool.layout.name.replace(":", "-")
    parts = (pool.box_at, is_flash, pool.drive_at, layout, pool.members, pool.hot_spares, pool.cold_spares)
    return _joined((*parts, *_cache_key(pool.cache)))


def _joined(parts: Iterable[object]) -> str:
    return _SEPARATED.join(map(str, parts))


def _cache_key(cache: CacheChoice | None) -> tuple[str, ...]:
    if cache is None:
        return ()
    return cache.mode, str(cache.drive_at), str(cache.drives), str(int(cache.is_mirrored))


def design_from(key: str) -> Design:
    """The design of a key; raises :class:`Refused` for what is none."""
    try:
        head, *pools = key.removeprefix("d").split("_")
        shape, network_at, keeping_at = (int(part) for part in head.split(_SEPARATED))
        tiers: tuple[Tier, ...] = ("work", "archive")
        chosen = tuple(_pool_from(tier, text) for tier, text in zip(tiers, pools, strict=False))
        design = Design(SHAPES[shape], chosen, network_at, keeping_at)
    except (ValueError, IndexError, Refused):
        raise Refused("design", key, DESIGN_ACCEPTED) from None
    if key_of(design) != key:
        raise Refused("design", key, DESIGN_ACCEPTED)
    return design


def _pool_from(tier: Tier, text: str) -> PoolChoice:
    box_at, is_flash, drive_at, layout, members, hot, cold, *cache = text.split(_SEPARATED)
    slot: Slot = "flash slot" if is_flash == "1" else "bay"
    kept = CacheChoice(cache[0], int(cache[1]), int(cache[2]), cache[3] == "1") if cache else None  # type: ignore[arg-type]
    parsed = parse_layout(layout.replace("-", ":"))
    return PoolChoice(tier, int(box_at), slot, int(drive_at), parsed, int(members), int(hot), int(cold), kept)


@dataclass(frozen=True)
class Choices:
    """Everything that designs for a brief are made of; ``base`` is the plan without any storage."""

    base: Bundle
    options: Options
    networks: tuple[NetworkOption, ...]
    keepings: tuple[KeepingOption, ...]

    def bundle(self, design: Design, name: str = "Design") -> Bundle:
        """The plan that a design is."""
        base, network = self.base, self.networks[design.network_at]
        keeping = self.keepings[design.keeping_at]
        boxes = tuple(self._boxes(design))
        links = (*network.links, *(self._link(network, box) for box in boxes if box.form != "expansion unit"))
        plan = base.plan.model_copy(
            update={
                "name": name,
                "pools": tuple(self._pool(design, n) for n in range(len(design.pools))),
                "caches": tuple(self._caches(design)),
                "boxes": boxes,
                "wiring": base.plan.wiring.model_copy(update={"switches": network.switches, "links": links}),
                "safekeeping": keeping.safekeeping,
                "purchases": (*base.plan.purchases, *network.purchases, *keeping.purchases),
            }
        )
        return base.model_copy(update={"plan": plan})

    def box_ids(self, design: Design, at: int) -> tuple[str, str]:
        """(id of the box, id of what its drives sit in) of one pool."""
        box = "box" if design.shape != "two boxes" else f"{design.pools[at].tier}-box"
        option = self.options.boxes[design.pools[at].box_at]
        return box, f"{box}-unit" if option.unit else box

    def _boxes(self, design: Design) -> Iterator[Box]:
        for at, pool in enumerate(design.pools):
            if at and design.shape == "one box":
                break
            option, (box_id, unit_id) = self.options.boxes[pool.box_at], self.box_ids(design, at)
            name = {"work-box": "Work box", "archive-box": "Archive box"}.get(box_id, "Box")
            yield of_class(option.model, box_id, name)
            if option.unit:
                yield of_class(option.unit, unit_id, f"{name}'s array")

    def _link(self, network: NetworkOption, box: Box) -> Link:
        """The fastest of its ports into the switch."""
        switch = next(each for each in network.switches if each.id == network.switch_id)
        speed = best_port(box, switch) or network.speed
        return Link(
            id=f"{box.id}-port",
            near=End("switch", network.switch_id).text,
            far=End("box", box.id).text,
            speed=speed,
        )

    def _pool(self, design: Design, at: int) -> Pool:
        choice = design.pools[at]
        option = self.options.drives[choice.drive_at]
        drive, lot = option.model, option.lot
        placed = self.bays(design, at)
        return Pool(
            id=choice.tier, name=f"{choice.tier.capitalize()} pool", tier=choice.tier, drive_id=drive.id,
            drive_count=choice.drives, drive_bytes=min(option.sizes, default=drive.size_bytes),
            mixed_sizes=drives_text(option.sizes) if option.sizes else "", drive_kind=drive.kind,
            drive_read_bytes_per_s=drive.read_bytes_per_s, drive_write_bytes_per_s=drive.write_bytes_per_s,
            layout=choice.layout.name, spares=choice.hot_spares, cold_spares=choice.cold_spares,
            filesystem=default_filesystem(choice.layout),
            bays=bays_text(placed), batches=BATCHES if choice.drives > 1 else 0,
            hours_run=drive.hours_run, are_used=drive.condition != "new",
            reused_drives=min(option.in_stock, choice.drives + choice.cold_spares),
            surface_tested=lot is not None and lot.surface_tested,
        )  # fmt: skip

    def bays(self, design: Design, at: int) -> tuple[Bay, ...]:
        """Where a pool's drives sit: after those of the pool before it where both are in the same bays."""
        choice, (_, unit_id) = design.pools[at], self.box_ids(design, at)
        before = sum(
            other.drives
            for other in design.pools[:at]
            if design.shape == "one box" and other.slot == choice.slot
        )
        return tuple(Bay(unit_id, choice.slot, before + n) for n in range(1, choice.drives + 1))

    def _caches(self, design: Design) -> Iterator[Cache]:
        for at, choice in enumerate(design.pools):
            if choice.cache is not None:
                yield self.cache(choice.tier, choice.cache, self.box_ids(design, at)[0])

    def cache(self, tier: Tier, cache: CacheChoice, box_id: str) -> Cache:
        """The flash before the pool of a tier, in the first flash slots of a box."""
        drive = self.options.drives[cache.drive_at].model
        return Cache(
            id=f"{tier}-cache", name="Staging drive" if cache.mode == "staging" else "Flash cache",
            pool_id=tier, mode=cache.mode, drive_id=drive.id, drive_count=cache.drives,
            drive_bytes=drive.size_bytes, read_bytes_per_s=drive.read_bytes_per_s,
            write_bytes_per_s=drive.write_bytes_per_s, is_mirrored=cache.is_mirrored,
            keeps_power=drive.keeps_power, endurance_bytes=drive.endurance_bytes,
            bays=bays_text(Bay(box_id, "flash slot", n) for n in range(1, cache.drives + 1)),
        )  # fmt: skip


def best_port(box: CatalogueBox | Box, switch: Switch | None) -> str:
    """The port by which a box carries most into a switch; empty where it lists no Ethernet port."""
    listed = ethernet_ports(box.ports)
    for card in box.cards:
        if card.holds == "network card":
            listed += ethernet_ports(card.ports)
    fastest = max(ethernet_ports(switch.ports), key=SPEEDS.index, default="") if switch else ""
    most = SPEEDS.index(fastest) if fastest else len(SPEEDS)
    return max(listed, key=lambda speed: (min(SPEEDS.index(speed), most), -SPEEDS.index(speed)), default="")
