"""Every copy of every material with what can take it: which drives, box, building, hand, account, supplier.

A *body* is what a copy lies on. Material that lives on several pools is whole only with all of them.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace
from decimal import Decimal

from larder.laws.layout import Family, parse_layout
from larder.laws.path import FILE_PROTOCOL_EFFICIENCY, ethernet_link_bytes_per_s
from larder.laws.spares import SHELF_HOURS, waits_hours
from larder.plan.bundle import Bundle, Plan
from larder.plan.house_rules import HouseRules
from larder.plan.material import Where
from larder.plan.safekeeping import LOOSE, Access, Copy, MediaKind, Store, StoreKind
from larder.plan.volumes import Volume
from larder.plan.wiring import End

from .materials import KeptMaterial
from .pool import PoolResult
from .pool_setting import boxes_of

READS_BYTES_PER_S: Mapping[StoreKind, float] = {
    "loose disks": 180e6,
    "loose flash drives": 450e6,
    "linear tape": 300e6,
    "optical discs": 18e6,
    "a box": 400e6,
    "workstations": 400e6,
    "a service": float("inf"),
}
"""What is read from and written to a store of which nothing is said, bytes/s; stated assumptions."""
THE_HOUSE = ""
OFF_SITE = "off site"
"""The building of a service, which no fire here reaches."""


@dataclass(frozen=True)
class Body:
    """What a copy lies on. ``key`` is what fails as one; ``boxes`` take it along, as do ``buildings``.

    ``survives_drives`` is None where no dead drive matters. ``locks`` are keys and accounts that only one
    person has. ``again_hours`` is until there is a new one, after its drives and after its box;
    ``anew_hours`` after all of a building, spares on the shelf with it.
    """

    key: str
    name: str
    media: MediaKind
    survives_drives: int | None
    boxes: frozenset[str]
    buildings: frozenset[str]
    is_away: bool
    is_in_safe: bool
    is_loose: bool
    access: Access
    locks: frozenset[str]
    supplier: str
    heals: bool
    goes_back_days: int
    read_bytes_per_s: float
    write_bytes_per_s: float
    port_bytes_per_s: float
    fetch_hours: float
    again_hours: tuple[float, float]
    anew_hours: float
    retrieval_price_per_tb: Decimal | None = None

    @property
    def is_over_the_line(self) -> bool:
        """Whether its bytes pass the outside line: it is reached, and not in the house."""
        return self.is_away and not self.is_loose and self.access != "offline"


@dataclass(frozen=True)
class Holding:
    """One copy of a material: the one in use, which has no ``copy``, or one that is made of another.

    ``source`` is the place of what it is read from in the list. ``missing`` says why it is no copy at all.
    """

    bodies: tuple[Body, ...]
    copy: Copy | None = None
    source: int = 0
    missing: str = ""

    @property
    def name(self) -> str:
        """Where it lies, in words."""
        return " and ".join(body.name for body in self.bodies)

    @property
    def follows(self) -> bool:
        """Whether a deletion travels to it at once: it is made alike and within reach."""
        return self.copy is not None and self.copy.way == "makes alike" and self.is_online

    @property
    def is_online(self) -> bool:
        """Whether somebody who is in can change it."""
        return any(body.access == "online" for body in self.bodies)

    @property
    def is_apart(self) -> bool:
        """Whether nobody who is in can reach or change it."""
        return not self.is_online

    @property
    def goes_back(self) -> bool:
        """Whether an earlier state is kept beside it: versions of the copy, or snapshots where it lies."""
        kept = self.copy is not None and self.copy.versions_days > 0
        return kept or all(body.goes_back_days > 0 for body in self.bodies)


class Bodies:
    """What a plan's copies lie on, each worked out once."""

    def __init__(self, bundle: Bundle, pools: tuple[PoolResult, ...]) -> None:
        self._bundle, self._plan = bundle, bundle.plan
        self._pools = dict(zip((pool.id for pool in bundle.plan.pools), pools, strict=True))
        self._stores = {store.id: store for store in bundle.plan.safekeeping.stores}
        self._volumes = {volume.id: volume for volume in bundle.plan.volumes}
        self._known: dict[Where, Body] = {}

    def at(self, where: Where) -> Body:
        """The body that ``where`` names."""
        if where not in self._known:
            self._known[where] = self._body(where)
        return self._known[where]

    def _body(self, where: Where) -> Body:
        if where.kind == "store":
            return self._of_store(self._stores[where.id])
        if where.kind == "cards":
            return _of_house("cards", "the cards", "offline", SHELF_HOURS, is_loose=True)
        if where.kind == "workstations":
            anew = _anew_hours(self._bundle.house_rules)
            return _of_house("workstations", "the workstations", "online", anew, is_loose=False)
        if where.kind == "volume":
            volume = self._volumes[where.id]
            return self._of_pool(volume.pool_id, (volume,), volume.name)
        own = tuple(v for v in self._plan.volumes if v.pool_id == where.id)
        return self._of_pool(where.id, own, self._pools[where.id].name)

    def _of_pool(self, pool_id: str, volumes: tuple[Volume, ...], name: str) -> Body:
        """On a pool; what is said of none of its volumes, the least of them says."""
        plan, result = self._plan, self._pools[pool_id]
        pool = next(each for each in plan.pools if each.id == pool_id)
        homes = boxes_of(plan, pool)
        by_id = {box.id: box for box in plan.boxes}
        takes = frozenset(
            f"box:{box_id}" for box_id, count in homes.items() if count > result.guaranteed_failures
        )
        # A pool in no box of the plan is in one of its own; one over several boxes may outlive each of them.
        boxes = takes if homes else frozenset({f"box of:{pool_id}"})
        kept = plan.safekeeping
        places = [by_id[box_id].place_id for box_id in homes]
        there: Counter[str] = Counter()
        for box_id, count in homes.items():
            there[kept.building(by_id[box_id].place_id)] += count
        family = parse_layout(pool.layout).family
        locked = {f"the key of {v.name}" for v in volumes if v.is_encrypted and not v.key_holder.strip()}
        rules = self._bundle.house_rules
        # A pool that is lost is made anew by hand: a hot spare is as good as one on the shelf then.
        spares = pool.cold_spares + result.spares + result.shared_spares
        again = waits_hours(0, spares, rules.delivery_days_max)
        is_spared = homes and all(by_id[box_id].has_spare_box for box_id in homes)
        box_again = SHELF_HOURS if is_spared else rules.box_delivery_days_max * 24.0
        return Body(
            key=f"pool:{pool_id}",
            name=name,
            media="flash" if pool.drive_kind == "ssd" else "disk",
            survives_drives=result.guaranteed_failures,
            boxes=boxes,
            buildings=frozenset(b for b, n in there.items() if n > result.guaranteed_failures)
            if homes
            else frozenset({THE_HOUSE}),
            is_away=bool(homes) and THE_HOUSE not in there,
            is_in_safe=bool(places) and all(kept.in_a_safe(place) for place in places),
            is_loose=False,
            access="online",
            locks=frozenset(locked),
            supplier="",
            heals=result.guaranteed_failures > 0
            and (family is Family.COPY_ON_WRITE or pool.filesystem == "cow"),
            goes_back_days=min((v.snapshot_days for v in volumes), default=0),
            read_bytes_per_s=result.read.middle_bytes_per_s,
            write_bytes_per_s=result.write.middle_bytes_per_s,
            port_bytes_per_s=min((_port(plan, box_id) for box_id in homes), default=float("inf")),
            fetch_hours=0.0,
            again_hours=(again, box_again),
            anew_hours=_anew_hours(rules),
        )

    def _of_store(self, store: Store) -> Body:
        kept, is_service = self._plan.safekeeping, store.kind == "a service"
        usual = READS_BYTES_PER_S[store.kind]
        is_box = store.kind in ("a box", "workstations")
        is_locked = store.unlocked_by.strip() and not store.unlocked_by_two
        rules = self._bundle.house_rules
        return Body(
            key=f"store:{store.id}",
            name=store.name,
            media=store.media,
            survives_drives=None if is_service else store.survives_drives,
            boxes=frozenset({f"box:store:{store.id}"}) if is_box else frozenset(),
            buildings=frozenset({OFF_SITE if is_service else kept.building(store.place_id)}),
            is_away=is_service or kept.building(store.place_id) != THE_HOUSE,
            is_in_safe=kept.in_a_safe(store.place_id),
            is_loose=store.kind in LOOSE,
            access=store.access,
            locks=frozenset({store.unlocked_by.strip().casefold()} if is_locked else ()),
            supplier=(store.supplier.strip().casefold() or store.id) if is_service else "",
            heals=is_service,
            goes_back_days=0,
            read_bytes_per_s=store.read_bytes_per_s or usual,
            write_bytes_per_s=store.write_bytes_per_s or store.read_bytes_per_s or usual,
            port_bytes_per_s=float("inf"),
            fetch_hours=store.fetch_hours + store.locate_seconds / 3600,
            again_hours=(rules.delivery_days_max * 24.0, rules.box_delivery_days_max * 24.0),
            anew_hours=_anew_hours(rules),
            retrieval_price_per_tb=store.retrieval_price_per_tb,
        )


def _anew_hours(rules: HouseRules) -> float:
    """Until drives and a box are delivered."""
    return max(rules.delivery_days_max, rules.box_delivery_days_max) * 24.0


def _of_house(key: str, name: str, access: Access, anew_hours: float, *, is_loose: bool) -> Body:
    """Cards and workstations: flash in the house, one of each enough to lose something of it."""
    return Body(
        key=key, name=name, media="flash", survives_drives=0, buildings=frozenset({THE_HOUSE}),
        is_away=False, is_in_safe=False,
        boxes=frozenset() if is_loose else frozenset({f"box:{key}"}), is_loose=is_loose, access=access,
        locks=frozenset(), supplier="", heals=False, goes_back_days=0,
        read_bytes_per_s=READS_BYTES_PER_S["workstations"],
        write_bytes_per_s=READS_BYTES_PER_S["workstations"],
        port_bytes_per_s=float("inf"), fetch_hours=0.0, again_hours=(SHELF_HOURS, SHELF_HOURS),
        anew_hours=anew_hours,
    )  # fmt: skip


def _port(plan: Plan, box_id: str) -> float:
    """What one copy gets through the best cable of a box: one member of an aggregate."""
    end, wiring = End("box", box_id), plan.wiring
    speeds = [link.came_up_at or link.speed for link in wiring.links if end in link.ends]
    if not speeds:
        return float("inf")
    return max(ethernet_link_bytes_per_s(speed, wiring.mtu) for speed in speeds) * FILE_PROTOCOL_EFFICIENCY


OFFLOADED = Copy(
    id="offload", name="Offloaded when it comes in", material_ids="cards", to="pool:any", every_hours=0
)
"""What the ingest station does with a card: it lies on the pools for work as soon as it is read."""


def holdings_of(bundle: Bundle, kept: KeptMaterial, bodies: Bodies) -> tuple[Holding, ...]:
    """The one in use first, then its copies in an order in which each comes after what it is read from.

    What cards hold comes to lie beside the hot projects, and whatever copies those copies it as well.
    """
    found = [Holding(tuple(bodies.at(where) for where in kept.homes))]
    at = {"": 0}
    ids = {kept.id}
    if kept.homes[0].kind == "cards":
        hot = [m for m in bundle.plan.safekeeping.materials if m.kind == "hot projects"]
        homes = [w for m in hot[:1] for w in bundle.plan.homes_of(m)]
        ids |= {m.id for m in hot[:1]}
        if homes:
            found.append(Holding(tuple(bodies.at(where) for where in homes), OFFLOADED))
            at[""] = 1
    waiting = [copy for copy in bundle.plan.safekeeping.copies if ids & set(copy.materials)]
    while waiting:
        ready = [copy for copy in waiting if copy.source_id in at]
        for copy in ready:
            at[copy.id] = len(found)
            found.append(Holding((bodies.at(copy.where),), copy, at[copy.source_id]))
        waiting = [copy for copy in waiting if copy not in ready]
    missing = _missing(bundle, kept, found)
    return tuple(replace(holding, missing=words) for holding, words in zip(found, missing, strict=True))


def _missing(bundle: Bundle, kept: KeptMaterial, found: list[Holding]) -> Iterator[str]:
    """Why each is no copy that could help; empty where it is one."""
    stores = {store.id: store for store in bundle.plan.safekeeping.stores}
    said: list[str] = []
    for n, holding in enumerate(found):
        words = ""
        store = stores.get(holding.copy.where.id) if holding.copy and n else None
        if n and {body.key for body in holding.bodies} & {body.key for body in found[0].bodies}:
            words = f"it lies on {holding.name}, where the material lives"
        elif store is not None and store.ends_on is not None and store.ends_on <= bundle.as_of:
            words = f"{store.name} has been given up"
        elif store is not None and not store.is_readable:
            words = f"the tape drive of generation {store.drive_generation} does not read these tapes"
        elif store is not None and store.size_bytes and store.size_bytes < kept.bytes_today:
            words = f"{store.name} is too small for it"
        elif n and said[holding.source]:
            words = f"what it is read from is no copy: {said[holding.source]}"
        said.append(words)
    yield from said
