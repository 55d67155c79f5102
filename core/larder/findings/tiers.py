"""Findings about pools, drives and layouts."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterator

from larder.base.errors import Refused
from larder.base.patch import Operation, set_fields
from larder.base.units import TB, TIB
from larder.laws.exposure import hangs_by_one_drive
from larder.laws.layout import Family, parse_layout
from larder.plan.layout_words import words_of
from larder.plan.pools import Pool
from larder.stages.pool import PoolResult, pool_stage
from larder.stages.registry import TIERS_STAGE

from .boxes import EXPANSION_BAYS, expansion_unit
from .finding import Evidence, Figures, Found, Remedy, finding
from .nightly import is_copied_nightly

MOST_DRIVES_IN_A_POOL = 500


@finding("pool-past-its-fill-limit", TIERS_STAGE, "warn")
def pool_past_its_fill_limit(f: Figures) -> Iterator[Found]:
    """The need at the horizon is above what the fill limit leaves."""
    need, plannable, usable = f.brief.need_bytes, f.tiers.plannable_bytes, f.tiers.usable_bytes
    if need <= plannable or not f.tiers.pools:
        return
    pool, result, elsewhere = _growing_pool(f)
    over_full = need > usable
    remedy = more_drives(
        f,
        pool,
        lambda r: r.plannable_bytes + elsewhere >= need,
        result.streams,
        "larger drives, an earlier horizon or less kept",
    )
    yield Found(
        at=pool.id,
        severity="block" if over_full else "warn",
        title=f"{pool.name} will not hold what is kept"
        if over_full
        else f"{pool.name} runs past its fill limit",
        evidence=(
            Evidence(label="Needed at the horizon", value=need, unit="bytes"),
            Evidence(label="Plannable", value=plannable, unit="bytes"),
            Evidence(label="Usable when filled to the brim", value=usable, unit="bytes"),
        ),
        why="A pool near its end slows down, and a full one stops the work of everyone on it.",
        remedy=remedy,
    )


def _growing_pool(f: Figures) -> tuple[Pool, PoolResult, int]:
    """The pool that takes what piles up, one of the archive if there is any; and all others' bytes."""
    pairs = list(zip(f.bundle.plan.pools, f.tiers.pools, strict=True))
    pool, result = max(pairs, key=lambda pair: (pair[0].tier == "archive", pair[1].plannable_bytes))
    return pool, result, f.tiers.plannable_bytes - result.plannable_bytes


@finding("hot-tier-smaller-than-the-working-set", TIERS_STAGE, "warn")
def hot_tier_smaller_than_the_working_set(f: Figures) -> Iterator[Found]:
    """Beside an archive the pools for work must hold all that is hot at once."""
    hot, work = f.brief.working_set_bytes + f.brief.copied_work_bytes, f.tiers.tier_bytes("work")
    if not f.tiers.has_both_tiers or work >= hot:
        return
    yield Found(
        title="The pools for work hold less than is hot at once",
        evidence=(
            Evidence(label="Hot at once, with copies there", value=hot, unit="bytes"),
            Evidence(label="Plannable for work", value=work, unit="bytes"),
        ),
        why="What does not fit is worked on in the archive, at its speed.",
        remedy=_more_of_tier(f, "work", hot, "larger drives, or archiving productions earlier"),
    )


@finding("archive-smaller-than-what-is-kept-in-it", TIERS_STAGE, "warn")
def archive_smaller_than_what_is_kept_in_it(f: Figures) -> Iterator[Found]:
    """Beside pools for work those of the archive must hold all that is not hot any more."""
    cold, archive = f.brief.cold_bytes + f.brief.copied_archive_bytes, f.tiers.tier_bytes("archive")
    if not f.tiers.has_both_tiers or archive >= cold:
        return
    yield Found(
        title="The archive holds less than retires to it",
        evidence=(
            Evidence(label="Kept and not hot, with copies there", value=cold, unit="bytes"),
            Evidence(label="Plannable in the archive", value=archive, unit="bytes"),
        ),
        why="What is done with stays on the pools for work, dearer and in the way of what is hot.",
        remedy=_more_of_tier(f, "archive", cold, "larger drives, or less kept"),
    )


def _more_of_tier(f: Figures, tier: str, need_bytes: int, otherwise: str) -> Remedy:
    """More drives in the largest pool of a tier, until the tier holds so much."""
    pairs = [(p, r) for p, r in zip(f.bundle.plan.pools, f.tiers.pools, strict=True) if p.tier == tier]
    pool, result = max(pairs, key=lambda pair: pair[1].plannable_bytes)
    elsewhere = f.tiers.tier_bytes(tier) - result.plannable_bytes
    return more_drives(
        f, pool, lambda r: r.plannable_bytes + elsewhere >= need_bytes, result.streams, otherwise
    )


@finding("single-parity-where-rebuild-exposure-exceeds-the-house-rule", TIERS_STAGE, "warn")
def single_parity_where_rebuild_exposure_exceeds_the_house_rule(f: Figures) -> Iterator[Found]:
    """One failure tolerated, and a rebuild longer or likelier to fail than the house lets it hang by that."""
    rules = f.bundle.house_rules
    hours_max, odds_max = rules.single_parity_rebuild_hours_max, rules.single_parity_unreadable_percent_max
    for pool, result in zip(f.bundle.plan.pools, f.tiers.pools, strict=True):
        if not _is_exposed(f, result):
            continue
        hours, odds = (result.rebuild_seconds or 0.0) / 3600, result.unreadable_odds or 0.0
        yield Found(
            at=pool.id,
            title=f"{pool.name} hangs by one drive for {hours:.0f} hours"
            if hours > hours_max
            else f"{pool.name}: its rebuild may meet a sector that cannot be read",
            evidence=(
                Evidence(label="To rebuild a drive", value=round(hours, 1), unit="h"),
                Evidence(label="House rule", value=hours_max, unit="h"),
                Evidence(label="Odds of an unreadable sector in it", value=odds, unit="share"),
                Evidence(
                    label="By data sheets, at most", value=result.unreadable_sheet_odds or 0.0, unit="share"
                ),
                Evidence(label="House rule, odds", value=odds_max / 100, unit="share"),
                Evidence(label="Drives at its final width", value=result.final_members, unit="count"),
            ),
            why="While it rebuilds, one more dead drive loses the pool, and an unreadable sector loses data.",
            remedy=_another_parity(pool),
        )


def _is_exposed(f: Figures, result: PoolResult) -> bool:
    """Whether one failure is tolerated, and its rebuild takes longer or is riskier than the house lets it."""
    rules = f.bundle.house_rules
    if result.rebuild_seconds is None:
        return False
    return bool(
        hangs_by_one_drive(
            result.guaranteed_failures,
            result.rebuild_seconds / 3600,
            result.unreadable_odds or 0.0,
            rules.single_parity_rebuild_hours_max,
            rules.single_parity_unreadable_percent_max,
        )
    )


@finding("no-redundancy", TIERS_STAGE, "warn")
def no_redundancy(f: Figures) -> Iterator[Found]:
    """Layouts that any one dead drive ends; a stripe that is copied nowhere has a finding of its own."""
    for pool, result in zip(f.bundle.plan.pools, f.tiers.pools, strict=True):
        striped = parse_layout(pool.layout).family is Family.STRIPE
        if result.guaranteed_failures or (striped and not is_copied_nightly(f, pool)):
            continue
        yield Found(
            at=pool.id,
            title=f"{pool.name} survives no dead drive",
            evidence=(
                Evidence(label="Lost with any one of", value=result.members, unit="count"),
                Evidence(label="Usable", value=result.usable_bytes, unit="bytes"),
            ),
            why=f"Under this layout the first dead drive takes {result.loses} along, and work stops.",
            remedy=_redundancy(pool, result.members),
        )


def _redundancy(pool: Pool, members: int) -> Remedy:
    """A layout for the same drives that survives one of them; a lone drive gets a second."""
    if members == 1:
        return Remedy(words="Mirror it with a second drive of its size.", at=f"{_at(pool)}/drive_count")
    return _use_layout(pool, "mirror" if members == 2 else "raid5")


MORE_PARITY = {
    "raid5": "raid6",
    "cow1": "cow2",
    "layered1": "layered2",
    "filewise1": "filewise2",
    "raid10": "raid6",
}


def _another_parity(pool: Pool) -> Remedy:
    """The same family with one more parity, where the drives are enough for it."""
    better = _more_parity(pool)
    members = len(pool.drives_bytes) - pool.spares
    if not better or not parse_layout(better).takes(members):
        words = "Take a layout that survives two drives, or smaller drives that rebuild sooner."
        return Remedy(words=words, at=f"{_at(pool)}/layout")
    return _use_layout(pool, better)


def _more_parity(pool: Pool) -> str:
    """The layout that survives a further drive; empty where none of the same kind does."""
    family, _, groups = pool.layout.partition(":")
    return f"raid60:{groups}" if family == "raid50" else MORE_PARITY.get(family, "")


def _use_layout(pool: Pool, layout: str) -> Remedy:
    """Another layout for the same drives."""
    return Remedy(
        words=f"Use {words_of(parse_layout(layout)).lower()} instead", patch=_set_layout(pool, layout)
    )


def _set_layout(pool: Pool, layout: str) -> tuple[Operation, ...]:
    return set_fields(_at(pool), layout=layout)


@finding("mixed-sizes-wasting-space", TIERS_STAGE, "note")
def mixed_sizes_wasting_space(f: Figures) -> Iterator[Found]:
    """What larger drives have beyond the smallest lies idle in layouts of equal members."""
    for pool, result in zip(f.bundle.plan.pools, f.tiers.pools, strict=True):
        if not _wastes(f, result):
            continue
        yield Found(
            at=pool.id,
            title=f"{pool.name}: mixed sizes leave space idle",
            evidence=(
                Evidence(label="Left idle", value=_idle_bytes(result), unit="bytes"),
                Evidence(label="Of the cartons", value=result.raw_bytes, unit="bytes"),
            ),
            why="In layouts of equal members every drive counts as the smallest one.",
            remedy=_layered(f, pool, result),
        )


def _idle_bytes(result: PoolResult) -> int:
    return -sum(step.bytes for step in result.waterfall if step.step == "size_mismatch")


def _wastes(f: Figures, result: PoolResult) -> bool:
    return _idle_bytes(result) * 100 > f.bundle.house_rules.mixed_sizes_waste_percent_max * result.raw_bytes


def _layered(f: Figures, pool: Pool, result: PoolResult) -> Remedy:
    """Layered parity that survives as much, where it leaves little enough idle."""
    layout = "layered1" if result.guaranteed_failures <= 1 else "layered2"
    if parse_layout(layout).takes(result.members):
        better = pool.model_copy(update={"layout": layout, "filesystem": "journal"})
        setting = f.settings[pool.id]
        if not _wastes(f, pool_stage(better, result.streams, setting)):
            return Remedy(
                words="Use layered parity, which takes mixed sizes", patch=_set_layout(pool, layout)
            )
    words = "Use drives of one size, or more of the largest ones under layered parity."
    return Remedy(words=words, at=f"{_at(pool)}/mixed_sizes")


@finding("tb-tib-surprise", TIERS_STAGE, "note")
def tb_tib_surprise(f: Figures) -> Iterator[Found]:
    """The need fits, yet the number on the screen (TiB) will be below the number planned for (TB)."""
    need, plannable = f.brief.need_bytes, f.tiers.plannable_bytes
    if not (need <= plannable and plannable / TIB < need / TB) or not f.tiers.pools:
        return
    pool, result, elsewhere = _growing_pool(f)
    yield Found(
        title="The screen will show a smaller number than was planned for",
        evidence=(
            Evidence(label="Needed", value=need, unit="bytes"),
            Evidence(label="Plannable", value=plannable, unit="bytes"),
            Evidence(label="Plannable as a screen counts", value=plannable / TIB, unit="tib"),
        ),
        why="Cartons count in TB of 10^12 bytes, most screens in TiB of 2^40, a tenth larger. It does fit.",
        remedy=more_drives(
            f,
            pool,
            lambda r: (r.plannable_bytes + elsewhere) / TIB >= need / TB,
            result.streams,
            "a word to whoever reads the screen",
        ),
    )


def more_drives(
    f: Figures, pool: Pool, enough: Callable[[PoolResult], bool], streams: int, otherwise: str
) -> Remedy:
    """So many drives in one step that ``enough`` holds; with one more parity where the house asks for it.

    Where no number of them helps, ``otherwise`` in words.
    """
    count = fewest_drives(f, pool, enough, streams)
    if count is not None and _is_exposed(f, _with_drives(f, pool, count, streams)):
        safer = _more_parity(pool)
        better = pool.model_copy(update={"layout": safer}) if safer else pool
        found = fewest_drives(f, better, enough, streams) if safer else None
        if found is not None:
            return drives_remedy(f, better, found, otherwise, set_fields(_at(pool), layout=safer))
    return drives_remedy(f, pool, count, otherwise)


def _with_drives(f: Figures, pool: Pool, count: int, streams: int) -> PoolResult:
    return pool_stage(pool.model_copy(update={"drive_count": count}), streams, f.settings[pool.id])


def _at(pool: Pool) -> str:
    return f"plan/pools/{pool.id}"


def fewest_drives(f: Figures, pool: Pool, enough: Callable[[PoolResult], bool], streams: int) -> int | None:
    """The smallest drive count above today's with which ``enough`` holds, if there is one.

    More equal drives never lower what a pool holds or delivers, so the search halves. A mixed set has no
    such count.
    """
    if pool.mixed_sizes:
        return None
    layout = parse_layout(pool.layout)
    counts = [
        count
        for count in range(pool.drive_count + 1, MOST_DRIVES_IN_A_POOL + 1)
        if layout.takes(count - pool.spares)
    ]

    def holds(count: int) -> bool:
        return enough(_with_drives(f, pool, count, streams))

    index = bisect_left(counts, x=True, key=holds)
    return counts[index] if index < len(counts) else None


def drives_remedy(
    f: Figures, pool: Pool, count: int | None, otherwise: str, layout: tuple[Operation, ...] = ()
) -> Remedy:
    """So many drives in one step, or ``otherwise`` in words where no number of them helps.

    Where the boxes have no bay left for them, an expansion unit comes along. ``layout`` is the change of the
    pool's layout that goes with it.
    """
    if count is None:
        words = f"More drives alone do not mend this; try {otherwise}."
        return Remedy(words=words, at=f"{_at(pool)}/drive_bytes")
    words = f"Use {count} drives instead of {pool.drive_count}"
    if layout:
        words += f" under {words_of(parse_layout(pool.layout)).lower()}"
    room: tuple[Operation, ...] = ()
    plan = f.bundle.plan
    try:
        plan.with_pool(pool.model_copy(update={"drive_count": count})).check_places({})
    except Refused:
        bays = max(count - pool.drive_count, EXPANSION_BAYS)
        room = (expansion_unit(plan, bays),)
        words += f", in an expansion unit with {bays} bays"
    return Remedy(words=words, patch=(*room, *set_fields(_at(pool), drive_count=count), *layout))
