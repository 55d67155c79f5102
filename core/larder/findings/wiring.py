"""Findings about hops: one that carries less than is asked, and links joined in vain."""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from larder.base.patch import Operation, set_fields
from larder.plan.ports import SPEEDS, ledger_of
from larder.plan.wire_changes import faster_fields, with_link
from larder.plan.wiring import Link
from larder.stages.hops import HopResult
from larder.stages.registry import TIERS_STAGE, WIRING_STAGE
from larder.stages.ways import name_of, wire_of

from .finding import Evidence, Figures, Found, Remedy, finding
from .tiers import drives_remedy, fewest_drives

MOST_TIMES_THE_DRIVES = 2
"""How many times the planned drives are still proposed where a pool is too slow."""


@finding("one-link-direction-or-hop-below-need", WIRING_STAGE, "block")
def hop_below_need(f: Figures) -> Iterator[Found]:
    """A link or pool carries less than is asked of it; buses and processors have findings of their own."""
    for hop in f.wiring.hops:
        if hop.kind not in ("link", "pool") or hop.ratio is None or hop.ratio >= 1:
            continue
        way = {"read": " while playing", "write": " while writing", "both": ""}[hop.direction]
        yield Found(
            at=hop.id,
            stage=TIERS_STAGE if hop.kind == "pool" else None,
            title=f"{hop.name} carries less than is asked{way}",
            evidence=(
                Evidence(label="Asked", value=hop.required_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="Carries", value=hop.capacity_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="Carries ÷ asked", value=hop.ratio, unit="ratio"),
            ),
            why=f"The slowest hop decides for everyone behind it ({hop.because}); frames are dropped.",
            remedy=_pool_remedy(f, hop, 1 / hop.ratio)
            if hop.kind == "pool"
            else _link_remedy(f, hop, hop.required_bytes_per_s),
        )


@finding("copies-late", WIRING_STAGE, "warn")
def copies_late(f: Figures) -> Iterator[Found]:
    """What only copies cross need not keep a rate, but must be done in its part of the day."""
    for hop in f.wiring.hops:
        if not hop.late:
            continue
        worst = max(hop.late, key=lambda late: late.asked_bytes_per_s)
        factor = worst.asked_bytes_per_s / hop.capacity_bytes_per_s
        remedy = Remedy(words="Spread the copies over more hours, or copy less.")
        if hop.kind == "pool":
            remedy = _pool_remedy(f, hop, factor)
        elif hop.kind == "link":
            remedy = _link_remedy(f, hop, worst.asked_bytes_per_s)
        yield Found(
            at=hop.id,
            stage=TIERS_STAGE if hop.kind == "pool" else None,
            title=f"{hop.name}: copies in {worst.part_name} end {worst.seconds_late / 60:.0f} min late",
            evidence=(
                Evidence(label="Late by", value=round(worst.seconds_late / 3600, 2), unit="h"),
                Evidence(label="To be moved", value=worst.asked_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="Carries", value=hop.capacity_bytes_per_s, unit="bytes_per_s"),
            ),
            why="No frame is dropped for it, but the last copies run into the hours that follow.",
            remedy=remedy,
        )


@finding("aggregation-that-cannot-help-one-client", WIRING_STAGE, "warn")
def aggregation_for_one_client(f: Figures) -> Iterator[Found]:
    """Links joined for a single seat: its one flow stays on one of them."""
    for wire in f.network.wires:
        if wire.near.kind != "seat" or wire.link.links == 1:
            continue
        name = name_of(f.bundle.plan, wire.near)
        yield Found(
            at=wire.link.id,
            title=f"{name}: {wire.link.links} links joined do not speed up one seat",
            evidence=(
                Evidence(label="Links", value=wire.link.links, unit="count"),
                Evidence(label="One flow gets", value=wire.link_bytes_per_s, unit="bytes_per_s"),
            ),
            why="Link aggregation spreads flows; a seat that mounts one share is one flow on one link.",
            remedy=Remedy(words="Use one link here", patch=_set(wire.link, links=1)),
        )


def _pool_remedy(f: Figures, hop: HopResult, factor: float) -> Remedy:
    """More drives of the same kind, up to twice as many: many streams on disks want another tool."""
    pool = next(p for p in f.bundle.plan.pools if p.id == hop.id)
    result = next(r for r in f.tiers.pools if r.id == hop.id)
    # Read and write rates grow by the same factor, so capacity grows as the read rate does.
    wanted = (result.read.middle_bytes_per_s * factor, result.write.middle_bytes_per_s * factor)
    count = fewest_drives(
        f,
        pool,
        lambda r: r.read.middle_bytes_per_s >= wanted[0] and r.write.middle_bytes_per_s >= wanted[1],
        result.streams,
    )
    if count is not None and count > MOST_TIMES_THE_DRIVES * pool.drive_count:
        count = None
    return drives_remedy(f, pool, count, "another layout, or flash for what is played")


def _set(link: Link, **fields: object) -> tuple[Operation, ...]:
    return set_fields(f"plan/wiring/links/{link.id}", **fields)


def _link_remedy(f: Figures, hop: HopResult, required_bytes_per_s: float) -> Remedy:
    """The slowest Ethernet speed that carries what is asked, if both ends have ports for it."""
    plan = f.bundle.plan
    link = next(each for each in plan.wiring.links if each.id == hop.id)
    members = hop.capacity_bytes_per_s / hop.link_bytes_per_s
    for speed in SPEEDS[SPEEDS.index(hop.speed) :]:
        fields = faster_fields(link, speed)
        changed = link.model_copy(update=fields)
        wire = wire_of(plan, ledger_of(with_link(plan, changed)), changed)
        if wire.link_bytes_per_s * members >= required_bytes_per_s:
            return Remedy(words=_faster_words(link, fields, speed), patch=_set(link, **fields))
    return Remedy(
        words="No port at both ends carries this alone: join links, take another switch, use proxies."
    )


def _faster_words(link: Link, fields: Mapping[str, object], speed: str) -> str:
    said = [f"Use {speed} here" + (f" instead of {link.speed}" if link.speed != speed else "")]
    if "category" in fields:
        said.append(f"with {fields['category']} cable")
    if "adapter" in fields:
        said.append("by a port that no bus holds back")
    return ", ".join(said)
