"""A design: what is chosen of the options, and the ordinary plan that it is."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Literal, NamedTuple

from larder.laws.capacity import default_filesystem
from larder.laws.layout import Layout
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
            id=f"{box.id}-port", near=End("switch", network.switch_id).text, far=End("box", box.id).text,
            speed=speed,
        )  # fmt: skip

    def _pool(self, design: Design, at: int) -> Pool:
        choice = design.pools[at]
        drive = self.options.drives[choice.drive_at].model
        placed = self.bays(design, at)
        return Pool(
            id=choice.tier, name=f"{choice.tier.capitalize()} pool", tier=choice.tier, drive_id=drive.id,
            drive_count=choice.drives, drive_bytes=drive.size_bytes, drive_kind=drive.kind,
            drive_read_bytes_per_s=drive.read_bytes_per_s, drive_write_bytes_per_s=drive.write_bytes_per_s,
            layout=choice.layout.name, spares=choice.hot_spares, cold_spares=choice.cold_spares,
            filesystem=default_filesystem(choice.layout),
            bays=bays_text(placed), batches=BATCHES if choice.drives > 1 else 0,
            hours_run=drive.hours_run, are_used=drive.condition != "new",
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
