"""Every material with its copies as they are held: how old each is, how it comes back, and what takes it.

What a material's copies come to follows from what they lie on alone, and is remembered: a nudge elsewhere
in the plan costs nothing here.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import date

from larder.base.memo import remembered
from larder.base.units import HOURS_A_DAY
from larder.laws.survival import Held, Left, Loss, worst
from larder.plan.bundle import Bundle
from larder.plan.copy_rules import RULE_FIELDS, numbers_of
from larder.plan.limits import OutsideLine
from larder.plan.safekeeping import Copy

from .holdings import Bodies, Body, Holding, holdings_of
from .losses import LossKind, losses_of
from .materials import MATERIALS, KeptMaterial
from .stage import Judged, Part
from .tiers import POOLS_ALONE

KEPT_BYTES = 4_000_000
ROLL_BACK_HOURS = 1 / 60
"""To go back to a snapshot. A stated assumption."""
APART = "each their own, administrator apart"


@dataclass(frozen=True)
class House:
    """What holds for all copies of a house: its rule for them, its line, the day, who can sign in as whom.

    ``rule`` is the four numbers of :mod:`larder.plan.copy_rules`.
    """

    rule: tuple[int, int, int, int]
    snapshot_every_hours: float
    clean_up_hours: float
    line: OutsideLine
    as_of: date
    admin_apart: bool


def house_of(bundle: Bundle) -> House:
    """What of a plan holds for all its copies."""
    rules = bundle.house_rules
    return House(
        numbers_of(rules),
        rules.snapshot_every_hours,
        rules.clean_up_hours,
        bundle.plan.brief.limits.line,
        bundle.as_of,
        bundle.plan.safekeeping.sign_in == APART,
    )


@dataclass(frozen=True, eq=False)
class Safekept:
    """A material with its holdings that are copies, and what they hold, the one in use first.

    ``at`` are the places of those among ``every`` that is planned.
    """

    kept: KeptMaterial
    house: House
    every: tuple[Holding, ...]
    at: tuple[int, ...]
    whole: tuple[Holding, ...]
    held: tuple[Held, ...]
    losses: dict[LossKind, tuple[Loss, ...]]

    def after(self, *kinds: LossKind) -> Left:
        """The worst of one loss of each kind together."""
        return worst(self.held, [self.losses[kind] for kind in kinds])


class Keeping:
    """All material of a plan with its copies: what rules, findings and questions about losses look at."""

    def __init__(self, judged: Judged) -> None:
        bundle = judged.bundle
        self.house = house_of(bundle)
        bodies = Bodies(bundle, judged.of(POOLS_ALONE))
        self.materials = tuple(
            safekept(each, holdings_of(bundle, each, bodies), self.house) for each in judged.of(MATERIALS)
        )
        self._of = {material.kept.id: material for material in self.materials}

    def __eq__(self, other: object) -> bool:
        """What is remembered is the very same."""
        return isinstance(other, Keeping) and self.materials == other.materials

    __hash__ = None  # type: ignore[assignment]

    def material(self, material_id: str) -> Safekept:
        """One that comes to something."""
        return self._of[material_id]

    def of(self, copy: Copy) -> tuple[Safekept, ...]:
        """The material that a copy is of and that comes to something."""
        return tuple(self._of[material] for material in copy.materials if material in self._of)


@remembered(KEPT_BYTES, lambda *_: 8_000)
def safekept(kept: KeptMaterial, every: tuple[Holding, ...], house: House) -> Safekept:
    """One material with its copies; what is missing as a copy no loss takes."""
    at = tuple(n for n, holding in enumerate(every) if not holding.missing)
    whole = tuple(replace(every[n], source=at.index(every[n].source)) for n in at)
    held: list[Held] = []
    for holding in whole:
        held.append(_held(kept, whole, holding, held, house))
    losses = losses_of(whole, admin_apart=house.admin_apart, clean_up_hours=house.clean_up_hours)
    return Safekept(kept, house, every, at, whole, tuple(held), losses)


def _held(
    kept: KeptMaterial, whole: tuple[Holding, ...], holding: Holding, before: list[Held], house: House
) -> Held:
    snapshot, copy = house.snapshot_every_hours, holding.copy
    if copy is None:
        return Held(0.0, snapshot, 0.0, ROLL_BACK_HOURS)
    lag = _lag_hours(kept, copy, whole[holding.source], holding, house.line)
    age = before[holding.source].age_hours + lag
    if copy.newest_on is not None:
        age = max(age, (house.as_of - copy.newest_on).days * HOURS_A_DAY)
    back = age if copy.versions_days else max(age, snapshot)
    ready = max(_restore_hours(kept, body, whole[0], house.line) for body in holding.bodies)
    switch = float("inf")
    if copy.people_can_work_on_it:
        switch = copy.switch_hours + max(body.fetch_hours for body in holding.bodies)
    return Held(age, back, ready, ready + ROLL_BACK_HOURS, switch)


def _lag_hours(kept: KeptMaterial, copy: Copy, source: Holding, holding: Holding, line: OutsideLine) -> float:
    """How much older than its source a copy is just before a new one is complete."""
    rate = min(copy_rate(source, body, line)[0] for body in holding.bodies)
    if rate <= 0:
        return copy.every_hours
    return copy.every_hours + kept.changed_bytes_per_day * copy.every_hours / HOURS_A_DAY / rate / 3600


def _restore_hours(kept: KeptMaterial, body: Body, home: Holding, line: OutsideLine) -> float:
    """Hours until the material is back from ``body``; infinite where no line brings it."""
    rate = min(body.read_bytes_per_s, *(each.write_bytes_per_s for each in home.bodies))
    if body.is_over_the_line:
        rate = min(rate, line.down_bytes_per_s)
    elif not body.is_loose:
        rate = min(rate, body.port_bytes_per_s, *(each.port_bytes_per_s for each in home.bodies))
    return body.fetch_hours + kept.bytes / rate / 3600 if rate > 0 else float("inf")


def copy_rate(source: Holding, body: Body, line: OutsideLine) -> tuple[float, str]:
    """(bytes/s, what holds it back) of a copy by itself, at night, when nobody works."""
    found = [(body.write_bytes_per_s, f"writing to {body.name}")]
    found += [(each.read_bytes_per_s, f"reading from {each.name}") for each in source.bodies]
    if body.is_over_the_line or any(each.is_over_the_line for each in source.bodies):
        found.append((line.up_bytes_per_s, "the outside line"))
    elif not body.is_loose and not any(body.boxes & each.boxes for each in source.bodies):
        found += [(each.port_bytes_per_s, f"the cable of {each.name}") for each in (body, *source.bodies)]
    return min(found)


def ends_of(copy: Copy, kept: Safekept) -> tuple[Holding, Holding]:
    """(what a copy is read from, itself) of one material."""
    holding = next(h for h in kept.every if h.copy is not None and h.copy.id == copy.id)
    return kept.every[holding.source], holding


RULE_READS = tuple(f"house_rules/{field}" for field in RULE_FIELDS)
KEEPING: Part[Keeping] = Part(
    "keeping",
    Keeping,
    reads=(
        "plan/safekeeping",
        "plan/pools",
        "plan/boxes",
        "plan/volumes",
        "plan/wiring/links",
        "plan/wiring/mtu",
        "plan/brief/limits/line",
        *RULE_READS,
        "house_rules/snapshot_every_hours",
        "house_rules/clean_up_hours",
        "house_rules/delivery_days_max",
        "house_rules/box_delivery_days_max",
        "as_of",
    ),
    after=(MATERIALS, POOLS_ALONE),
    is_answered=False,
)
