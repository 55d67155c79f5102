"""Findings: what is wrong or surprising, how much, why it matters and what would mend it.

Each id is the kebab-case phrase of the domain's list. A rule is a function from the plan and its
figures to findings; RULES lists them all.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from .brief import BriefResult, Result
from .bundle import Bundle, Pool, WireHop
from .document import Operation
from .layout import parse_layout
from .path import ETHERNET_BITS_PER_S, ethernet_link_bytes_per_s
from .tiers import PoolResult, TiersResult, pool_stage
from .units import TB, TIB
from .wiring import HopResult, WiringResult

Severity = Literal["block", "warn", "note"]
Stage = Literal["stock", "brief", "tiers", "wiring"]
EvidenceUnit = Literal["bytes", "bytes_per_s", "ratio", "count", "tib"]
MOST_DRIVES_IN_A_POOL = 500


class Evidence(Result):
    """One figure that a finding stands on."""

    label: str
    value: float
    unit: EvidenceUnit


class Remedy(Result):
    """What to do; ``patch`` does it in one step and can be undone, where there is such a step."""

    words: str
    patch: tuple[Operation, ...] = ()


class Finding(Result):
    """``key`` tells findings with the same id apart; an accepted finding keeps its reason."""

    id: str
    key: str
    severity: Severity
    stage: Stage
    title: str
    evidence: tuple[Evidence, ...]
    why: str
    remedy: Remedy
    accepted_reason: str | None = None
    accepted_by: str | None = None


@dataclass(frozen=True)
class Figures:
    """What the rules look at."""

    bundle: Bundle
    brief: BriefResult
    tiers: TiersResult
    wiring: WiringResult


def findings_of(figures: Figures) -> tuple[Finding, ...]:
    """Every finding on a plan, the gravest first; accepted ones carry their reason."""
    accepted = {a.id: a for a in figures.bundle.plan.acceptances}
    found = [
        finding.model_copy(
            update={"accepted_reason": a.reason, "accepted_by": a.by}
            if (a := accepted.get(finding.key))
            else {}
        )
        for rule in RULES
        for finding in rule(figures)
    ]
    return tuple(sorted(found, key=lambda f: ("block", "warn", "note").index(f.severity)))


def sole_copies_on_one_drive(f: Figures) -> Iterator[Finding]:
    """The stock that the plan stands on holds material that exists only once."""
    stock = f.bundle.facts.stock
    if not stock.sole_bytes:
        return
    yield Finding(
        id="sole-copies-on-one-drive",
        key="sole-copies-on-one-drive",
        severity="warn",
        stage="stock",
        title="Some of what is kept today exists only once",
        evidence=(
            Evidence(label="Exists only once", value=stock.sole_bytes, unit="bytes"),
            Evidence(label="On devices", value=stock.sole_device_count, unit="count"),
            Evidence(label="Of unique bytes in all", value=stock.unique_bytes, unit="bytes"),
        ),
        why="A drive that dies takes it along; no layout of new drives brings it back.",
        remedy=Remedy(
            words="Copy in the order of the stock's rescue list, verify by checksum, then take the stock's "
            "figures over anew."
        ),
    )


def pool_past_its_fill_limit(f: Figures) -> Iterator[Finding]:
    """The need at the horizon is above what the fill limit leaves."""
    need, plannable, usable = f.brief.need_bytes, f.tiers.plannable_bytes, f.tiers.usable_bytes
    if need <= plannable:
        return
    pool, result = f.bundle.plan.pools[0], f.tiers.pools[0]
    over_full = need > usable
    count = _fewest_drives(pool, lambda r: r.plannable_bytes >= need, result.streams)
    yield Finding(
        id="pool-past-its-fill-limit",
        key=f"pool-past-its-fill-limit-{pool.id}",
        severity="block" if over_full else "warn",
        stage="tiers",
        title=f"{pool.name} will not hold what is kept"
        if over_full
        else f"{pool.name} runs past its fill limit",
        evidence=(
            Evidence(label="Needed at the horizon", value=need, unit="bytes"),
            Evidence(label="Plannable", value=plannable, unit="bytes"),
            Evidence(label="Usable when filled to the brim", value=usable, unit="bytes"),
        ),
        why="A pool near its end slows down, and a full one stops the work of everyone on it.",
        remedy=_drives_remedy(pool, count, "larger drives, an earlier horizon or less kept"),
    )


def hop_below_need(f: Figures) -> Iterator[Finding]:
    """A hop carries less than is asked of it."""
    for hop in f.wiring.hops:
        if hop.ratio is None or hop.ratio >= 1:
            continue
        way = {"read": " while playing", "write": " while writing", "both": ""}[hop.direction]
        yield Finding(
            id="one-link-direction-or-hop-below-need",
            key=f"one-link-direction-or-hop-below-need-{hop.id}",
            severity="block",
            stage="tiers" if hop.kind == "pool" else "wiring",
            title=f"{hop.name} carries less than is asked{way}",
            evidence=(
                Evidence(label="Asked", value=hop.required_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="Carries", value=hop.capacity_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="Carries ÷ asked", value=hop.ratio, unit="ratio"),
            ),
            why=f"The slowest hop decides for everyone behind it ({hop.because}); frames are dropped.",
            remedy=_pool_remedy(f, hop) if hop.kind == "pool" else _link_remedy(f, hop),
        )


def aggregation_for_one_client(f: Figures) -> Iterator[Finding]:
    """Links joined for a single seat: its one flow stays on one of them."""
    for hop in f.bundle.plan.wiring.hops:
        if hop.serves != "seat" or hop.links == 1:
            continue
        result = next(h for h in f.wiring.hops if h.id == hop.id)
        yield Finding(
            id="aggregation-that-cannot-help-one-client",
            key=f"aggregation-that-cannot-help-one-client-{hop.id}",
            severity="warn",
            stage="wiring",
            title=f"{hop.name}: {hop.links} links joined do not speed up one seat",
            evidence=(
                Evidence(label="Links", value=hop.links, unit="count"),
                Evidence(label="One flow gets", value=result.link_bytes_per_s, unit="bytes_per_s"),
            ),
            why="Link aggregation spreads flows; a seat that mounts one share is one flow on one link.",
            remedy=Remedy(
                words="Use one link here",
                patch=(Operation(op="set", path=f"plan/wiring/hops/{hop.id}/links", value=1),),
            ),
        )


def tb_tib_surprise(f: Figures) -> Iterator[Finding]:
    """The need fits, yet the number on the screen (TiB) will be below the number planned for (TB)."""
    need, plannable = f.brief.need_bytes, f.tiers.plannable_bytes
    if not (need <= plannable and plannable / TIB < need / TB):
        return
    pool, result = f.bundle.plan.pools[0], f.tiers.pools[0]
    count = _fewest_drives(pool, lambda r: r.plannable_bytes / TIB >= need / TB, result.streams)
    yield Finding(
        id="tb-tib-surprise",
        key="tb-tib-surprise",
        severity="note",
        stage="tiers",
        title="The screen will show a smaller number than was planned for",
        evidence=(
            Evidence(label="Needed", value=need, unit="bytes"),
            Evidence(label="Plannable", value=plannable, unit="bytes"),
            Evidence(label="Plannable as a screen counts", value=plannable / TIB, unit="tib"),
        ),
        why="Cartons count in TB of 10^12 bytes, most screens in TiB of 2^40, a tenth larger. It does fit.",
        remedy=_drives_remedy(pool, count, "a word to whoever reads the screen"),
    )


RULES: tuple[Callable[[Figures], Iterator[Finding]], ...] = (
    sole_copies_on_one_drive,
    pool_past_its_fill_limit,
    hop_below_need,
    aggregation_for_one_client,
    tb_tib_surprise,
)


def _fewest_drives(pool: Pool, enough: Callable[[PoolResult], bool], streams: int) -> int | None:
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
        return enough(pool_stage(pool.model_copy(update={"drive_count": count}), streams))

    index = bisect_left(counts, x=True, key=holds)
    return counts[index] if index < len(counts) else None


def _drives_remedy(pool: Pool, count: int | None, otherwise: str) -> Remedy:
    if count is None:
        return Remedy(words=f"More drives alone do not mend this; try {otherwise}.")
    path = f"plan/pools/{pool.id}/drive_count"
    return Remedy(
        words=f"Use {count} drives instead of {pool.drive_count}",
        patch=(Operation(op="set", path=path, value=count),),
    )


def _pool_remedy(f: Figures, hop: HopResult) -> Remedy:
    """More drives of the same kind, where the layout's speed grows with them."""
    pool = next(p for p in f.bundle.plan.pools if p.id == hop.id)
    result = next(r for r in f.tiers.pools if r.id == hop.id)
    # Read and write rates grow by the same factor, so capacity grows as the read rate does.
    factor = hop.required_bytes_per_s / hop.capacity_bytes_per_s
    wanted = (result.read.middle_bytes_per_s * factor, result.write.middle_bytes_per_s * factor)
    count = _fewest_drives(
        pool,
        lambda r: r.read.middle_bytes_per_s >= wanted[0] and r.write.middle_bytes_per_s >= wanted[1],
        result.streams,
    )
    return _drives_remedy(pool, count, "another layout, or flash for what is played")


def _link_remedy(f: Figures, hop: HopResult) -> Remedy:
    """The slowest Ethernet speed that carries what is asked."""
    wiring = f.bundle.plan.wiring
    wire: WireHop = next(h for h in wiring.hops if h.id == hop.id)
    members = hop.capacity_bytes_per_s / hop.link_bytes_per_s
    for speed in ETHERNET_BITS_PER_S:
        link = ethernet_link_bytes_per_s(speed, wiring.mtu, wiring.protocol)
        if link * members >= hop.required_bytes_per_s:
            path = f"plan/wiring/hops/{hop.id}/speed"
            return Remedy(
                words=f"Use {speed} here instead of {wire.speed}",
                patch=(Operation(op="set", path=path, value=speed),),
            )
    return Remedy(words="No Ethernet speed carries this alone; use proxies or join several links.")
