"""What is still open in a plan: what to say next, and where, in the order of the stages.

Nothing blocks: a plan is judged as far as it goes. The path is empty once every scale has something on both
sides.
"""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.results import Result
from larder.findings.finding import StageId
from larder.plan.bundle import Bundle
from larder.stages.brief import BriefResult
from larder.stages.copies import CopiesResult
from larder.stages.money import MoneyResult
from larder.stages.registry import BRIEF_STAGE, SAFEGUARD_STAGE, TIERS_STAGE, WIRING_STAGE
from larder.stages.stage import Stage
from larder.stages.tiers import TiersResult
from larder.stages.wiring import WiringResult


class OpenWork(Result):
    """Something that nobody has said yet: in words, the stage where it is said, and the place in the plan."""

    stage: StageId
    words: str
    path: str


def open_work_of(
    bundle: Bundle,
    brief: BriefResult,
    tiers: TiersResult,
    wiring: WiringResult,
    money: MoneyResult,
    copies: CopiesResult,
) -> tuple[OpenWork, ...]:
    """What is open, the first to be said first."""
    found = (
        *_of_brief(bundle, brief),
        *_of_tiers(bundle),
        *_of_wiring(bundle, wiring),
        *_of_money(bundle, tiers, money),
        *_of_copies(bundle, copies),
    )
    return tuple(OpenWork(stage=stage.id, words=words, path=path) for stage, words, path in found)


Said = tuple[Stage, str, str]


def _of_brief(bundle: Bundle, result: BriefResult) -> Iterator[Said]:
    brief = bundle.plan.brief
    if not any(seat.count for seat in brief.seats):
        yield BRIEF_STAGE, "who works, and on what", "plan/brief/seats"
    if not result.need_bytes:
        yield BRIEF_STAGE, "what is shot or kept", "plan/brief/kept_today_bytes"
    if brief.horizon_date <= bundle.as_of:
        yield BRIEF_STAGE, "until when it must last", "plan/brief/horizon_date"
    if not brief.budget:
        yield BRIEF_STAGE, "what may be spent", "plan/brief/budget"


def _of_tiers(bundle: Bundle) -> Iterator[Said]:
    if not bundle.plan.pools:
        yield TIERS_STAGE, "a first pool of drives", "plan/pools"


def _of_wiring(bundle: Bundle, wiring: WiringResult) -> Iterator[Said]:
    links = "plan/wiring/links"
    if not bundle.plan.wiring.links and bundle.plan.brief.seats:
        yield WIRING_STAGE, "how the seats reach the storage", links
    loose = {each.seat_id: each.name for each in wiring.unreached if not each.is_plugged}
    for name in loose.values():
        yield WIRING_STAGE, f"where {name} is plugged in", links


def _of_money(bundle: Bundle, tiers: TiersResult, money: MoneyResult) -> Iterator[Said]:
    """The first thing without a price, and how many there are; parts that are lacking have a finding."""
    if not money.unpriced:
        return
    pools = zip(bundle.plan.pools, tiers.pools, strict=True)
    unpriced = (pool.id for pool, result in pools if result.drive_price is None)
    first = next(unpriced, None)
    what = "the price of one thing" if money.unpriced == 1 else f"prices of {money.unpriced} things"
    yield TIERS_STAGE, what, f"plan/pools/{first}/drive_unit_price" if first else "plan/purchases"


def _of_copies(bundle: Bundle, copies: CopiesResult) -> Iterator[Said]:
    """Only what has storage has anything to copy."""
    if bundle.plan.pools and copies.materials and not copies.has_said:
        yield SAFEGUARD_STAGE, "where copies go", "plan/safekeeping/copies"
