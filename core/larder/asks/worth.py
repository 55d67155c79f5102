"""What each protection is worth: what is lost in a year on average, with and without each copy.

Every single loss of :mod:`larder.stages.losses` comes with the odds that the house rules give it; dead
drives with the odds of the pools. What it costs is the work since the newest copy that is left and the work
that stands still until people are back, or, with nothing left, what it costs to make the material again.
What no money makes again has no such sum: for it only the odds are told.
"""

from __future__ import annotations

from collections.abc import Iterator
from decimal import Decimal
from math import prod
from typing import NamedTuple

from larder.base.errors import Refused
from larder.base.results import Result
from larder.base.units import HOURS_A_DAY, TB
from larder.laws.survival import Held, Left, Loss, known, left_after
from larder.plan.bundle import Bundle
from larder.plan.house_rules import HouseRules
from larder.plan.safekeeping import Copy, Store
from larder.plan.vocabulary import Worth
from larder.stages.copies import COPIES, CopiesResult
from larder.stages.keeping import KEEPING, Keeping, Safekept
from larder.stages.losses import LossKind
from larder.stages.odds import ODDS, PoolOdds, odds_text
from larder.stages.stage import Judged

MONTHS_A_YEAR = 12
RULES: dict[LossKind, str] = {
    "the box": "box_dies_percent",
    "fire or water": "fire_percent",
    "theft": "theft_percent",
    "a drop": "drop_percent",
    "deletion": "deletion_percent",
    "encryption": "encryption_percent",
    "silent corruption": "corruption_percent",
    "a lost key": "account_percent",
    "the supplier": "supplier_percent",
}
"""The house rule that tells how often a loss of each kind happens in a year."""


class MaterialWorth(Result):
    """What is at stake of one material, a year; ``value`` is null where no money makes it again.

    ``work_hours`` is the work since its newest copy outside of where people use it, at the worst; all of it
    since it began where there is none, then null.
    """

    id: str
    name: str
    worth: Worth
    value: Decimal | None
    work_hours: float | None
    gone_odds: float
    gone_said: str
    lost_a_year: Decimal
    worst: str


class CopyWorth(Result):
    """What one copy costs a year, and what is lost a year without it: ``saves`` is the difference.

    ``most_for`` is the material that is lost for good most more often without it, with the odds of a year
    with it and without; empty where single losses make no difference. ``breaks_rule``: the house's rule for
    copies is met with it and not without it.
    """

    id: str
    name: str
    yearly_price: Decimal
    saves_a_year: Decimal
    most_for: str
    gone_odds: float
    gone_odds_without: float
    breaks_rule: bool
    sentence: str


class WorthResult(Result):
    """All material and every copy."""

    materials: tuple[MaterialWorth, ...]
    copies: tuple[CopyWorth, ...]
    lost_a_year: Decimal
    gone_odds: float


def worth_of(judged: Judged) -> WorthResult:
    """What is at stake in a judged plan, and what each of its copies is worth."""
    pools = {pool.id: pool for pool in judged.of(ODDS)}
    stakes = _stakes(judged.of(KEEPING), judged.bundle, pools)
    # What one fire takes of several materials is one fire.
    gone = {what: odds for stake in stakes for what, odds in stake.gone.items()}
    materials = tuple(map(_material, stakes))
    return WorthResult(
        materials=materials,
        copies=tuple(_copy(copy, judged, pools, materials) for copy in judged.bundle.plan.safekeeping.copies),
        lost_a_year=_money(sum(stake.lost for stake in stakes)),
        gone_odds=_any_of(gone),
    )


def _money(amount: float) -> Decimal:
    return Decimal(str(amount)).quantize(Decimal("0.01"))


Pools = dict[str, PoolOdds]


def _events(each: Safekept, rules: HouseRules, pools: Pools) -> Iterator[tuple[str, float, Loss]]:
    """(what, odds in a year, loss) of every single loss that touches a material."""
    home = [body for body in each.whole[0].bodies if body.key.startswith("pool:")]
    for body in home:
        odds = pools[body.key.removeprefix("pool:")].pool_lost
        yield "dead drives", odds, Loss(_lying_on(each, body.key), 0, body.again_hours[0], key=body.key)
    for kind, rule in RULES.items():
        for loss in each.losses[kind]:
            yield kind, getattr(rules, rule) / 100, loss


def _lying_on(each: Safekept, key: str) -> int:
    """The mask of all that lies on one body."""
    return sum(1 << n for n, h in enumerate(each.whole) if any(body.key == key for body in h.bodies))


def _is_gone(left: Left) -> bool:
    return known(left.recovery_hours) is None


def _costs(left: Left, each: Safekept, value: Decimal | None, rules: HouseRules) -> float:
    """What is lost by it, in money; nothing where it cannot be told."""
    if _is_gone(left):
        return float(value or 0)
    hours = (left.recovery_point_hours or 0.0) + (left.recovery_hours or 0.0)
    return hours / HOURS_A_DAY * each.kept.work_hours_per_day * rules.work_hour_price


class _Stake(NamedTuple):
    """What the losses of a year come to for one material: money, and the odds of each that it is lost by."""

    each: Safekept
    value: Decimal | None
    lost: float
    gone: dict[tuple[str, str], float]


def _stakes(keeping: Keeping, bundle: Bundle, pools: Pools) -> list[_Stake]:
    values = {m.id: m.value for m in bundle.plan.safekeeping.materials}
    return [
        _stake(material, values[material.kept.id], bundle.house_rules, pools)
        for material in keeping.materials
    ]


def _stake(each: Safekept, value: Decimal | None, rules: HouseRules, pools: Pools) -> _Stake:
    lost = 0.0
    gone: dict[tuple[str, str], float] = {}
    for what, odds, loss in _events(each, rules, pools):
        left = left_after(each.held, (loss,))
        lost += odds * _costs(left, each, value, rules)
        if _is_gone(left):
            gone[what, loss.key] = odds
    return _Stake(each, value, lost, gone)


def _any_of(gone: dict[tuple[str, str], float]) -> float:
    """The odds that any of these losses happens in a year."""
    return 1 - prod(1 - odds for odds in gone.values())


def _material(stake: _Stake) -> MaterialWorth:
    each, gone = stake.each, stake.gone
    newest = _newest_hours(each.held)
    gone_odds = _any_of(gone)
    worst = max(gone, key=lambda what: gone[what], default=("nothing that is reckoned with", ""))
    return MaterialWorth(
        id=each.kept.id,
        name=each.kept.name,
        worth=each.kept.worth,
        value=stake.value,
        work_hours=None if newest is None else newest / HOURS_A_DAY * each.kept.work_hours_per_day,
        gone_odds=gone_odds,
        gone_said=odds_text(gone_odds) if gone_odds > 0 else "by no single loss",
        lost_a_year=_money(stake.lost),
        worst=worst[0],
    )


def _newest_hours(held: tuple[Held, ...]) -> float | None:
    return min((each.age_hours for each in held[1:]), default=None)


def _copy(copy: Copy, judged: Judged, pools: Pools, before: tuple[MaterialWorth, ...]) -> CopyWorth:
    bundle = without(judged.bundle, copy.id)
    keeping = Keeping(Judged(bundle, judged.results))
    after = tuple(map(_material, _stakes(keeping, bundle, pools)))
    copies: CopiesResult = COPIES.judge(Judged(bundle, {**judged.results, KEEPING.id: keeping}))
    breaks = judged.of(COPIES).weakest is None and copies.weakest is not None
    price = _yearly_price(copy, judged)
    saves = max(sum((each.lost_a_year for each in after), -sum(each.lost_a_year for each in before)), NOTHING)
    pairs = zip(before, after, strict=True)
    most = max(pairs, key=lambda pair: pair[1].gone_odds - pair[0].gone_odds, default=None)
    odds = (most[0].gone_odds, most[1].gone_odds) if most else (0.0, 0.0)
    result = most if odds[1] > odds[0] * A_DIFFERENCE else None
    return CopyWorth(
        id=copy.id,
        name=copy.name,
        yearly_price=_money(price),
        saves_a_year=saves,
        most_for=result[0].name if result else "",
        gone_odds=odds[0],
        gone_odds_without=odds[1],
        breaks_rule=breaks,
        sentence=_sentence(float(saves), price, result, breaks=breaks),
    )


NOTHING = Decimal("0.00")
A_DIFFERENCE = 1.05
"""Odds that differ by less are a tie."""


def _sentence(
    saves: float, price: float, odds: tuple[MaterialWorth, MaterialWorth] | None, *, breaks: bool
) -> str:
    """What dropping it would do, in words."""
    found = []
    if odds is not None:
        now, then = odds
        found.append(f"without it {now.name} is lost for good {then.gone_said}, with it {now.gone_said}")
    if saves >= 1:
        dearer = "" if not price else ", more than it costs" if saves > price else ", less than it costs"
        found.append(f"it saves about {saves:,.0f} a year on average{dearer}")
    if breaks:
        found.append("without it the house's rule for copies is broken")
    if not found:
        return "By single losses nothing hangs on it; it is there for the second one."
    said = "; ".join(found)
    return f"{said[:1].upper()}{said[1:]}."


def without(bundle: Bundle, copy_id: str) -> Bundle:
    """The plan without a copy and without what is read from it; raises :class:`Refused` for no such copy."""
    kept = bundle.plan.safekeeping
    if all(copy.id != copy_id for copy in kept.copies):
        listed = ", ".join(copy.id for copy in kept.copies) or "there is none yet"
        raise Refused("copy_id", copy_id, f"the id of a copy ({listed})")
    gone = {copy_id}
    while more := {c.id for c in kept.copies if c.source_id in gone} - gone:
        gone |= more
    return bundle.with_copies(tuple(copy for copy in kept.copies if copy.id not in gone))


def _yearly_price(copy: Copy, judged: Judged) -> float:
    """What is paid for its store in a year, shared with the other copies on it by their bytes."""
    store = next((s for s in judged.bundle.plan.safekeeping.stores if f"store:{s.id}" == copy.to), None)
    if store is None:
        return 0.0
    bytes_of = {each.id: each.bytes for each in judged.of(COPIES).copies}
    there = [c.id for c in judged.bundle.plan.safekeeping.copies if c.to == copy.to]
    every = sum(bytes_of[each] for each in there)
    share = bytes_of[copy.id] / every if every else 1 / len(there)
    return share * float(store.yearly_price or 0) + _metered(store, bytes_of[copy.id])


def _metered(store: Store, size_bytes: float) -> float:
    return float(store.monthly_price_per_tb or 0) * MONTHS_A_YEAR * size_bytes / TB
