"""The workings of the four scales."""

from __future__ import annotations

from larder.base.terms import Term, given, made
from larder.judge.evaluation import Evaluation
from larder.judge.scales import tier_spaces
from larder.plan.bundle import Bundle

from .working import whole, working


@working(
    "scales.speed",
    title="Speed",
    unit="ratio",
    source="Bottleneck law of a chain: a hop that serves one seat is held against that seat's full demand, a "
    "shared one against the house rule's percentile of the joint load; files a second where they are fewer",
    read=lambda e, _: e.scales.speed.ratio,
    subjects=whole,
)
def _speed(_: Bundle, e: Evaluation, __: Evaluation) -> Term | None:
    parts = [
        made(
            f"{hop.name}: carries ÷ asked", "ratio", "quotient",
            given("Carries", hop.capacity_bytes_per_s, "bytes_per_s"),
            given("Asked", hop.required_bytes_per_s, "bytes_per_s"),
        )
        for hop in e.wiring.hops
        if hop.ratio is not None
    ]  # fmt: skip
    for files in e.small_files:
        for who, got, asked in (
            ("one seat", files.given_files_per_s, files.asked_files_per_s),
            ("all seats", files.joint_given_files_per_s, files.joint_asked_files_per_s),
        ):
            name = f"{files.seat_name} on {files.pool_name}, {who}"
            parts.append(
                made(
                    f"{name}: gets ÷ asks", "ratio", "quotient",
                    given("Gets", got, "files a second"),
                    given("Asks", asked, "files a second"),
                )
            )  # fmt: skip
    return made("Speed", "ratio", "least", *parts) if parts else None


@working(
    "scales.space",
    title="Space",
    unit="ratio",
    source="Conservation of bytes on the fullest day until the horizon; the fill limit is taken once, in "
    "plannable. Beside an archive, what is hot at once must fit the pools for work, the rest the archive",
    read=lambda e, _: e.scales.space.ratio,
    subjects=whole,
)
def _space(_: Bundle, e: Evaluation, __: Evaluation) -> Term | None:
    if not e.tiers.pools:
        return None
    parts = []
    if e.brief.need_bytes:
        pools = (given(f"{p.name}: plannable", p.plannable_bytes, "bytes") for p in e.tiers.pools)
        needed = (
            given(part.step.replace("_", " ").capitalize(), part.bytes, "bytes")
            for part in e.brief.need_parts
        )
        parts.append(
            made(
                "Plannable ÷ needed", "ratio", "quotient",
                made("Plannable", "bytes", "sum", *pools),
                made(f"Needed on {e.brief.fullest_on}", "bytes", "sum", *needed),
            )
        )  # fmt: skip
    for tier in tier_spaces(e.brief, e.tiers):
        its = (
            given(f"{p.name}: plannable", p.plannable_bytes, "bytes")
            for p in e.tiers.pools
            if p.tier == tier.tier
        )
        parts.append(
            made(
                f"Plannable {tier.words} ÷ {tier.holds}", "ratio", "quotient",
                made(f"Plannable {tier.words}", "bytes", "sum", *its),
                given(tier.holds.capitalize(), tier.need_bytes, "bytes"),
            )
        )  # fmt: skip
    return made("Space", "ratio", "least", *parts) if parts else None


@working(
    "scales.safety",
    title="Safety",
    unit="drives",
    source="RAID levels as in Patterson, Gibson, Katz (1988) and SNIA's disk data format; whichever drives "
    "fail, nothing is lost. Copies elsewhere are not judged in this figure",
    read=lambda e, _: e.scales.safety.have if e.tiers.pools else None,
    subjects=whole,
)
def _safety(_: Bundle, e: Evaluation, __: Evaluation) -> Term | None:
    if not e.tiers.pools:
        return None
    return made(
        "Failures survived", "drives", "least",
        *(given(f"{p.name}: {p.layout_words}", p.guaranteed_failures, "drives") for p in e.tiers.pools),
    )  # fmt: skip


@working(
    "scales.money",
    title="Money",
    unit="money",
    source="Prices as typed in this plan, else the newest of the catalogue on the plan's day",
    read=lambda e, _: float(e.money.spent),
    subjects=whole,
)
def _money(_: Bundle, e: Evaluation, __: Evaluation) -> Term:
    lines = []
    for line in e.money.lines:
        if line.unit_price is None:
            lines.append(given(f"{line.count} × {line.name}: no price yet", 0, "money"))
        else:
            lines.append(
                made(
                    line.name, "money", "product",
                    given("Number", line.count, "count"),
                    given("Price each", float(line.unit_price), "money"),
                )
            )  # fmt: skip
    return made("Spent", "money", "sum", *lines)
