"""Questions about protection: its worth, a pool's drives in every layout, its groups lived through.

The odds themselves are :mod:`larder.stages.odds`.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator

import numpy as np

from larder.base.errors import Refused
from larder.base.results import Result
from larder.laws.layout import parse_layout
from larder.laws.lifetimes import ENOUGH_LOSSES, House, Lived, live_through
from larder.laws.loss_odds import HOURS_A_YEAR, loss_odds
from larder.plan.bundle import Bundle
from larder.plan.layout_words import words_of
from larder.stages.odds import OddsOf, facts_of, group_odds, told
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.tiers import TIERS

from .box_failures import PartFailure, box_failures
from .compare import in_layouts
from .worth import WorthResult, worth_of

GROUPS_A_PART = 200_000
"""As many groups are lived through at once."""


class LayoutOdds(Result):
    """One layout of the same drives; null where they are too few or lose data with the first."""

    layout: str
    words: str
    is_current: bool
    plannable_bytes: int
    survives: int
    odds: OddsOf


class Safeguard(Result):
    """What protection is worth, what stops when a box dies, and what the odds leave out."""

    worth: WorthResult
    failures: tuple[PartFailure, ...]
    left_out: str


LEFT_OUT = (
    "From disks alone: no fire, theft, deletion, intruder, controller or firmware fault, and nobody who "
    "pulls the wrong drive. These are likelier than small odds here, and only copies elsewhere help."
)


def safeguard(bundle: Bundle) -> Safeguard:
    """What is asked about protection besides the verdicts of the stage."""
    judged = judge(bundle, PARTS)
    return Safeguard(worth=worth_of(judged), failures=box_failures(judged), left_out=LEFT_OUT)


def layout_odds(bundle: Bundle, pool_id: str) -> tuple[LayoutOdds, ...]:
    """The same drives of one pool in every layout, safest first; raises :class:`Refused` for no such pool."""
    return tuple(sorted(_layouts(bundle, pool_id), key=lambda each: each.odds.total))


def _layouts(bundle: Bundle, pool_id: str) -> Iterator[LayoutOdds]:
    rules = bundle.house_rules
    current = next((pool.layout for pool in bundle.plan.pools if pool.id == pool_id), "")
    for layout, built, result in in_layouts(bundle, pool_id):
        if result is None:
            continue
        facts = facts_of(layout, built, result, rules, bundle.catalogue.drive(built.drive_id))
        yield LayoutOdds(
            layout=built.layout,
            words=words_of(layout),
            is_current=built.layout == current,
            plannable_bytes=result.plannable_bytes,
            survives=facts.group.tolerates,
            odds=told(group_odds(facts)),
        )


class LivedPart(Result):
    """Losses of so many groups that were lived through for a year."""

    groups: int
    by_disks: int
    by_reads: int


class Lifetimes(Result):
    """What living through a pool's groups came to, beside the chain; odds are of one of its groups in a year.

    ``low`` and ``high`` hold the odds nineteen times in twenty; null where fewer than a hundred losses were
    seen.
    """

    pool_id: str
    groups: int
    by_disks: int
    by_reads: int
    chain: float
    low: float | None
    high: float | None
    sentence: str


class PoolLived:
    """Lives through the groups of a pool, part by part; raises :class:`Refused` for no such pool."""

    def __init__(self, bundle: Bundle, pool_id: str, seed: int) -> None:
        self.pool_id, self.seed = pool_id, seed
        pools = zip(bundle.plan.pools, judge(bundle, PARTS).of(TIERS).pools, strict=True)
        found = next(((pool, result) for pool, result in pools if pool.id == pool_id), None)
        if found is None:
            listed = ", ".join(pool.id for pool in bundle.plan.pools) or "there is none yet"
            raise Refused("pool_id", pool_id, f"the id of a pool ({listed})")
        pool, result = found
        drive = bundle.catalogue.drive(pool.drive_id)
        self.group = facts_of(parse_layout(pool.layout), pool, result, bundle.house_rules, drive).group

    def part(self, number: int) -> LivedPart:
        """So many groups more, drawn by the seed and the part's number."""
        house = House(
            disks=self.group.members,
            may_be_dead=self.group.tolerates,
            mean_life_hours=1 / self.group.failures_per_hour,
            mean_repair_hours=1 / self.group.repairs_per_hour,
            read_fails=self.group.fatal_read,
            beside_a_dead_one=self.group.while_repairing,
        )
        random = np.random.default_rng([self.seed, number])
        lived = live_through(house, HOURS_A_YEAR, GROUPS_A_PART, random)
        return LivedPart(groups=lived.groups, by_disks=lived.by_disks, by_reads=lived.by_reads)

    def summed(self, parts: Iterable[LivedPart]) -> Lifetimes:
        """What all parts come to."""
        parts = list(parts)
        lived = Lived(
            sum(part.groups for part in parts),
            sum(part.by_disks for part in parts),
            sum(part.by_reads for part in parts),
        )
        chain = loss_odds(self.group, HOURS_A_YEAR).total
        is_enough = lived.losses >= ENOUGH_LOSSES
        low, high = lived.interval() if is_enough else (None, None)
        return Lifetimes(
            pool_id=self.pool_id,
            groups=lived.groups,
            by_disks=lived.by_disks,
            by_reads=lived.by_reads,
            chain=chain,
            low=low,
            high=high,
            sentence=_lived(lived, chain),
        )


def _lived(lived: Lived, chain: float) -> str:
    years = f"{lived.groups:,} years of such a group were lived through"
    if lived.losses < ENOUGH_LOSSES:
        return f"{years} with {lived.losses} losses: fewer than {ENOUGH_LOSSES} say too little to be shown."
    low, high = lived.interval()
    holds = "as the chain says" if low <= chain <= high else "where the chain says otherwise"
    return (
        f"{years}: {lived.by_disks:,} lost by dead drives and {lived.by_reads:,} by a read, "
        f"{low:.2g} to {high:.2g} a year, {holds} ({chain:.2g})."
    )
