"""The workings of pools: what they hold and deliver, with all drives, with one dead, while one is rebuilt."""

from __future__ import annotations

import math
from collections.abc import Iterator
from typing import Literal

from larder.base.measures import Unit
from larder.base.terms import Term, by_law, given, made
from larder.base.units import TB
from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle
from larder.stages.pool import PoolResult, RateTerms

from .working import working

RATE: Unit = "bytes_per_s"


def _pools(e: Evaluation) -> tuple[PoolResult, ...]:
    return e.tiers.pools


def _redundant(e: Evaluation) -> Iterator[PoolResult]:
    """Pools that a dead drive leaves readable."""
    return (pool for pool in e.tiers.pools if pool.degraded_read is not None)


@working(
    "tiers.{id}.plannable",
    title="{name}: plannable",
    unit="bytes",
    source="Layout arithmetic in whole bytes, each step of what the one before leaves; the filesystem's "
    "usual part is a stated assumption until it is measured",
    read=lambda _, pool: float(pool.plannable_bytes),
    subjects=_pools,
)
def _plannable(b: Bundle, _: Evaluation, pool: PoolResult) -> Term:
    own = next(p for p in b.plan.pools if p.id == pool.id)
    percents = {
        "filesystem": pool.filesystem_percent,
        "snapshot_reserve": own.snapshot_reserve_percent,
        "headroom": own.headroom_percent,
    }
    steps = []
    for step in pool.waterfall:
        label = "Carton bytes" if step.step == "raw" else step.step.replace("_", " ").capitalize()
        if percents.get(step.step):
            label += f", {percents[step.step]:g} %"
        steps.append(given(label, step.bytes, "bytes"))
    return made("Plannable", "bytes", "sum", *steps)


def _drives(pool: PoolResult, way: Literal["read", "write"]) -> Term:
    """The drives pulling together behind their slots."""
    terms: RateTerms = getattr(pool, f"{way}_terms")
    each = made(
        "One drive at the fill limit",
        RATE,
        "product",
        given("One drive, empty", terms.drive_bytes_per_s, RATE),
        given("Left of it when filled to the limit", terms.fill_share, "share"),
    )
    if terms.slot_bytes_per_s is not None:
        each = made(
            "One drive behind its slot", RATE, "least", each, given("The slot", terms.slot_bytes_per_s, RATE)
        )
    return made(
        "The drives together", RATE, "product",
        each,
        made(
            "Drives' worth", "×", "power",
            given("Drives that pull together", terms.drives, "drives"),
            given("Exponent", terms.exponent, "exponent"),
        ),
        given(f"Left of it by {pool.streams} streams taking turns", terms.pull_share, "share"),
    )  # fmt: skip


def _limited(pool: PoolResult, way: Literal["read", "write"], drives: Term) -> Term:
    """Behind what all of a pool's bytes pass."""
    limits = [
        given(limit.name, getattr(limit, f"{way}_bytes_per_s"), RATE)
        for limit in pool.limits
        if limit.kind != "slot"
    ]
    return made("The pool alone", RATE, "least", drives, *limits) if limits else drives


def _one_over(label: str, unit: Unit, of: Term) -> Term:
    return made(label, unit, "quotient", given("One", 1, ""), of)


def _beside_flash(share: Term, flash: Term, pool: Term) -> Term:
    """A part of the bytes by flash, the rest by the pool."""
    return _one_over(
        "Pool and flash", RATE,
        made(
            "Time a byte", "s_per_byte", "sum",
            made("By flash", "s_per_byte", "quotient", share, flash),
            made("By the pool", "s_per_byte", "quotient",
                 made("Left to the pool", "share", "rest", share), pool),
        ),
    )  # fmt: skip


def _with_memory(terms: RateTerms, drives: Term) -> Term:
    """Memory answers the hottest bytes, flash the next, the drives the rest."""
    shares = [given("Memory answers", terms.memory_share or 0.0, "share")]
    memory = given("Memory", terms.memory_bytes_per_s or 1.0, RATE)
    times = [made("By memory", "s_per_byte", "quotient", shares[0], memory)]
    if terms.flash_bytes_per_s is not None and terms.flash_share:
        shares.append(given("The cache answers of the rest", terms.flash_share, "share"))
        flash = given("The cache's drives", terms.flash_bytes_per_s, RATE)
        times.append(made("By flash", "s_per_byte", "quotient", shares[1], flash))
    left = made("Left to the pool", "share", "rest", made("Answered before", "share", "sum", *shares))
    times.append(made("By the pool", "s_per_byte", "quotient", left, drives))
    return _one_over("With memory", RATE, made("Time a byte", "s_per_byte", "sum", *times))


def _read(pool: PoolResult) -> Term:
    """Drives, limits, then the parts that flash and memory answer: the times of bytes add."""
    result = pool.read_terms
    rate = _limited(pool, "read", _drives(pool, "read"))
    if result.memory_share is not None:
        return _with_memory(result, rate)
    if result.flash_bytes_per_s is not None and result.flash_share is not None:
        flash = given("The cache's drives", result.flash_bytes_per_s, RATE)
        rate = _beside_flash(given("The cache answers", result.flash_share, "share"), flash, rate)
    return rate


@working(
    "tiers.{id}.read",
    title="{name}: reads",
    unit=RATE,
    source="Stated scaling assumption until a measurement replaces it, with 0.7 and 1 for the low and high "
    "end; constant areal density; bytes from cache and memory take their own time each",
    read=lambda _, pool: pool.read.middle_bytes_per_s,
    subjects=_pools,
)
def _reads(_: Bundle, __: Evaluation, pool: PoolResult) -> Term:
    return _read(pool)


@working(
    "tiers.{id}.write",
    title="{name}: writes",
    unit=RATE,
    source="Stated scaling assumption until a measurement replaces it; a cache that takes in a whole burst "
    "writes at its own rate",
    read=lambda _, pool: pool.write.middle_bytes_per_s,
    subjects=_pools,
)
def _writes(_: Bundle, __: Evaluation, pool: PoolResult) -> Term:
    alone = _limited(pool, "write", _drives(pool, "write"))
    flash = pool.write_terms.flash_bytes_per_s
    if flash is None:
        return alone
    if pool.write_terms.flash_share is not None:
        drives = made("Staging drive or pool", RATE, "most", alone, given("The staging drive", flash, RATE))
        finds = given("Finds room on it between two runs", pool.write_terms.flash_share, "share")
        return _beside_flash(finds, drives, alone)
    return made("Pool or cache", RATE, "most", alone, given("The cache takes in a burst at", flash, RATE))


@working(
    "tiers.{id}.degraded",
    title="{name}: reads with a dead drive",
    unit=RATE,
    source="A dead drive takes its share of the reads along; scattered ones, made from the others, are half. "
    "Without cache and memory",
    read=lambda _, pool: pool.degraded_read.middle_bytes_per_s if pool.degraded_read else None,
    subjects=_redundant,
)
def _degraded(_: Bundle, __: Evaluation, pool: PoolResult) -> Term:
    half = made(
        "The drives with one dead",
        RATE,
        "product",
        _drives(pool, "read"),
        given("Left of their reads", (pool.members - 1) / pool.members, "share"),
    )
    return _limited(pool, "read", half)


@working(
    "tiers.{id}.rebuild",
    title="{name}: a drive rebuilt",
    unit="h",
    source="Mean over a surface of constant areal density; the share of a rebuild is a house rule. A "
    "copy-on-write pool rebuilds what is in use, others all of a drive that is in the layout",
    read=lambda _, pool: None if pool.rebuild_seconds is None else pool.rebuild_seconds / 3600,
    subjects=_redundant,
)
def _rebuild(_: Bundle, __: Evaluation, pool: PoolResult) -> Term | None:
    result = pool.rebuild_terms
    if result is None:
        return None
    drive = made(
        "The drive is written in", "s", "quotient",
        made("To be written", "bytes", "product",
             given("Of a member in the layout", result.member_bytes, "bytes"),
             given("Of it in use", result.allocated_share, "share")),
        made("Written at", RATE, "product",
             given("One drive writes, empty, behind its slot", result.drive_bytes_per_s, RATE),
             given("Mean over its surface", result.surface_share, "share")),
    )  # fmt: skip
    alone = made(
        "Without any people",
        "s",
        "most",
        drive,
        given("What all survivors share takes, a bus or the processor", result.shared_seconds, "s"),
    )
    return made(
        "A drive rebuilt", "h", "quotient", alone,
        given("A rebuild gets", result.rebuild_share, "share"), given("Seconds an hour", 3600, "s"),
    )  # fmt: skip


@working(
    "tiers.{id}.unreadable",
    title="{name}: rebuilds that meet a sector they cannot read",
    unit="share",
    source="Sectors that go bad unseen wait half the interval of a scrub on average; never more than data "
    "sheets say. A mirror reads one copy, parity every other member of the group, at the pool's final width. "
    "From disks alone: controllers, cables and people are left out",
    read=lambda _, pool: pool.unreadable_odds,
    subjects=_redundant,
)
def _unreadable(_: Bundle, __: Evaluation, pool: PoolResult) -> Term | None:
    result, sheet = pool.rebuild_terms, _by_sheets(pool)
    if result is None or sheet is None:
        return None
    expected = made(
        "Sectors gone bad since they were scrubbed", "", "product",
        given("A TB and year", result.latent_per_tb_year, ""),
        given(f"TB that the survivors read, {pool.final_members} drives at its final width",
              result.survivors_read_bytes / TB, "TB"),
        made("Years they wait", "years", "quotient",
             given("Between two scrubs", result.scrub_years, "years"), given("Halves", 2, "")),
    )  # fmt: skip
    scrubbed = by_law(
        "By what goes bad between scrubs", "share", "1 − e^(−expected)", lambda n: -math.expm1(-n), expected
    )
    return made("Odds of one", "share", "least", scrubbed, sheet)


@working(
    "tiers.{id}.unreadable-by-sheets",
    title="{name}: the same by data sheets, an upper bound",
    unit="share",
    source="Data sheets' rates; sectors taken as independent, so that most disks do better",
    read=lambda _, pool: pool.unreadable_sheet_odds,
    subjects=_redundant,
)
def _unreadable_by_sheets(_: Bundle, __: Evaluation, pool: PoolResult) -> Term | None:
    return _by_sheets(pool)


def _by_sheets(pool: PoolResult) -> Term | None:
    result = pool.rebuild_terms
    if result is None:
        return None
    bits = made(
        "Bits read", "count", "product",
        given(f"Survivors read, {pool.final_members} drives at its final width",
              result.survivors_read_bytes, "bytes"),
        given("Bits a byte", 8, "bit"),
    )  # fmt: skip
    return made(
        "By data sheets",
        "share",
        "at least once",
        given("Unreadable, per bit", result.unreadable_per_bit, "per_bit"),
        bits,
    )
