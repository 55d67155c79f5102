"""Findings: what is wrong or surprising, how much, why it matters and what would mend it.

Each id is the kebab-case phrase of the domain's list. A rule is a function from the plan and its
figures to findings; RULES lists them all.
"""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from typing import Literal

from .brief import BriefResult
from .bundle import Bundle, Pool, WireHop
from .document import Operation
from .formats import Format
from .layout import parse_layout
from .path import ETHERNET_BITS_PER_S, ethernet_link_bytes_per_s
from .remote import RemoteResult, RemoteSeat, remote_results
from .results import Result
from .seats import FootageSeat
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


def decode_bound_playback(f: Figures) -> Iterator[Finding]:
    """A workstation that decodes fewer streams than it is to play stutters however fast the storage is."""
    for seat in f.bundle.plan.brief.seats:
        if not isinstance(seat, FootageSeat) or seat.decoded_streams_max is None or not seat.count:
            continue
        asked = seat.streams * seat.angles
        if seat.direction == "write" or asked <= seat.decoded_streams_max:
            continue
        speed = f.wiring.ratio
        suffices = speed is None or speed >= 1
        yield Finding(
            id="decode-bound-playback",
            key=f"decode-bound-playback-{seat.id}",
            severity="warn",
            stage="brief",
            title=f"{seat.name} cannot decode what it plays",
            evidence=(
                Evidence(label="Streams it is to play", value=asked, unit="count"),
                Evidence(label="Streams it can decode", value=seat.decoded_streams_max, unit="count"),
            ),
            why="Frames are dropped in the workstation"
            + (": every hop delivers what is needed, " if suffices else "; ")
            + "and faster storage does not mend it.",
            remedy=_lighter_format(f, seat),
        )


def _lighter_format(f: Figures, seat: FootageSeat) -> Remedy:
    """Cut on proxies: the lightest footage of the library, if it is lighter than half."""
    rates = {r.id: r.mean_bytes_per_s for r in f.brief.formats}
    lightest = _lightest_footage(f)
    words = "Cut on proxies or a timeline of lower resolution, or give it a machine that decodes more."
    if lightest is None or rates[lightest.id] > rates[seat.format_id] / 2:
        return Remedy(words=words)
    path = f"plan/brief/seats/{seat.id}"
    return Remedy(
        words=f"Cut on {lightest.name}",
        patch=(
            Operation(op="set", path=f"{path}/format_id", value=lightest.id),
            # Whether it decodes the lighter format has to be tried anew.
            Operation(op="set", path=f"{path}/decoded_streams_max", value=None),
        ),
    )


def remote_line_too_slow_for_the_format(f: Figures) -> Iterator[Finding]:
    """A line that carries less than the way of working asks, or answers too late."""
    rule = f.bundle.house_rules.remote_round_trip_ms_max
    for remote in f.brief.remote:
        is_late = remote.way != "proxies" and remote.round_trip_ms > rule
        if not is_late and (remote.ratio is None or remote.ratio >= 1):
            continue
        evidence = [
            Evidence(label="The line carries", value=remote.line_bytes_per_s, unit="bytes_per_s"),
            Evidence(label="Needed", value=remote.needed_bytes_per_s, unit="bytes_per_s"),
        ]
        if remote.way != "proxies":
            evidence.append(Evidence(label="Round trip, ms", value=remote.round_trip_ms, unit="count"))
        yield Finding(
            id="remote-line-too-slow-for-the-format",
            key=f"remote-line-too-slow-for-the-format-{remote.id}",
            severity="warn",
            stage="brief",
            title=f"{remote.name}: the line is too slow for its way of working",
            evidence=tuple(evidence),
            why=f"{remote.limited_by.capitalize()} decides; no network in the house helps.",
            remedy=_proxies_ahead(f, remote),
        )


def _proxies_ahead(f: Figures, remote: RemoteResult) -> Remedy:
    """Send the lightest footage of the library ahead, where the line carries a day of it in a day."""
    seat = next(s for s in f.bundle.plan.brief.seats if s.id == remote.id)
    lightest = _lightest_footage(f)
    if isinstance(seat, RemoteSeat) and lightest is not None:
        ahead = seat.model_copy(update={"way": "proxies", "format_id": lightest.id})
        rates = {r.id: (r.mean_bytes_per_s, r.peak_bytes_per_s) for r in f.brief.formats}
        (result,) = remote_results([ahead], rates, f.bundle.plan.brief.limits.line)
        if result.ratio is not None and result.ratio >= 1:
            path = f"plan/brief/seats/{seat.id}"
            return Remedy(
                words=f"Send {lightest.name} ahead",
                patch=(
                    Operation(op="set", path=f"{path}/way", value="proxies"),
                    Operation(op="set", path=f"{path}/format_id", value=lightest.id),
                ),
            )
    return Remedy(words="Send lighter proxies or less footage a day, or get a line that carries more.")


def _lightest_footage(f: Figures) -> Format | None:
    rates = {r.id: r.mean_bytes_per_s for r in f.brief.formats}
    footage = [m for m in f.bundle.catalogue.formats if m.kind in ("class", "computed", "measured")]
    return min(footage, key=lambda m: rates[m.id], default=None)


def projects_catalogues_on_the_share(f: Figures) -> Iterator[Finding]:
    """A database worked on over a file share: locks and half-written pages are not made for it."""
    if f.bundle.plan.brief.projects_live != "on the share":
        return
    yield Finding(
        id="projects-catalogues-on-the-share",
        key="projects-catalogues-on-the-share",
        severity="warn",
        stage="brief",
        title="Projects and catalogues are opened on the share",
        evidence=(Evidence(label="Seats that may open them", value=_people(f), unit="count"),),
        why="A catalogue is a database: on a file share two may open it at once, a lost link leaves "
        "pages half written, and every search waits for the network.",
        remedy=Remedy(
            words="Keep them on each workstation, copied every night",
            patch=(
                Operation(op="set", path="plan/brief/projects_live", value="on each workstation"),
                Operation(op="set", path="plan/brief/projects_copied", value=True),
            ),
        ),
    )


def project_files_in_no_copy_plan(f: Figures) -> Iterator[Finding]:
    """Project files that live somewhere and are copied nowhere."""
    brief = f.bundle.plan.brief
    if brief.projects_live == "unsaid" or brief.projects_copied:
        return
    yield Finding(
        id="project-files-in-no-copy-plan",
        key="project-files-in-no-copy-plan",
        severity="warn",
        stage="brief",
        title="Project files are in no copy plan",
        evidence=(Evidence(label="Seats whose work hangs on them", value=_people(f), unit="count"),),
        why="Footage can be read from cards again; the cuts are in the project files, and these are small.",
        remedy=Remedy(
            words="Put them into the copy plan",
            patch=(Operation(op="set", path="plan/brief/projects_copied", value=True),),
        ),
    )


def _people(f: Figures) -> int:
    return sum(seat.count for seat in f.bundle.plan.brief.seats)


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
    decode_bound_playback,
    remote_line_too_slow_for_the_format,
    projects_catalogues_on_the_share,
    project_files_in_no_copy_plan,
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
