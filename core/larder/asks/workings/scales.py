"""The workings of the four scales."""

from __future__ import annotations

from larder.base.terms import Term, given, made
from larder.judge.evaluation import Evaluation
from larder.judge.scales import tier_spaces
from larder.plan.bundle import Bundle
from larder.stages.odds import SMALLEST_ODDS

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
            f"{hop.name}: carries ÷ asked",
            "ratio",
            "quotient",
            given("Carries", hop.capacity_bytes_per_s, "bytes_per_s"),
            given("Asked", hop.required_bytes_per_s, "bytes_per_s"),
        )
        for hop in e.wiring.hops
        if hop.ratio is not None
    ]
    for files in e.small_files:
        for who, got, asked in (
            ("one seat", files.given_files_per_s, files.asked_files_per_s),
            ("all seats", files.joint_given_files_per_s, files.joint_asked_files_per_s),
        ):
            name = f"{files.seat_name} on {files.pool_name}, {who}"
            parts.append(
                made(
                    f"{name}: gets ÷ asks",
                    "ratio",
                    "quotient",
                    given("Gets", got, "files a second"),
                    given("Asks", asked, "files a second"),
                )
            )
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
                "Plannable ÷ needed",
                "ratio",
                "quotient",
                made("Plannable", "bytes", "sum", *pools),
                made(f"Needed on {e.brief.fullest_on}", "bytes", "sum", *needed),
            )
        )
    for tier in tier_spaces(e.brief, e.tiers):
        its = (
            given(f"{p.name}: plannable", p.plannable_bytes, "bytes")
            for p in e.tiers.pools
            if p.tier == tier.tier
        )
        parts.append(
            made(
                f"Plannable {tier.words} ÷ {tier.holds}",
                "ratio",
                "quotient",
                made(f"Plannable {tier.words}", "bytes", "sum", *its),
                given(tier.holds.capitalize(), tier.need_bytes, "bytes"),
            )
        )
    return made("Space", "ratio", "least", *parts) if parts else None


@working(
    "scales.safety",
    title="Safety",
    unit="ratio",
    source="The worst of three: copies by the house's rule, drives that may die whichever they are, and the "
    "odds of losing a pool in a year. Enough needs all three, and redundancy is no backup",
    read=lambda e, _: e.scales.safety.ratio,
    subjects=whole,
)
def _safety(_: Bundle, e: Evaluation, __: Evaluation) -> Term | None:
    scale = e.scales.safety
    if scale.ratio is None:
        return None
    rule = given("House rule", scale.need, "count")
    if scale.measure == "drives":
        survived = made(
            "Failures survived",
            "drives",
            "least",
            *(given(f"{p.name}: {p.layout_words}", p.guaranteed_failures, "drives") for p in e.tiers.pools),
        )
        return made("Failures survived ÷ asked for", "ratio", "quotient", survived, rule)
    if scale.measure == "years":
        likeliest = made(
            "The likeliest pool to be lost",
            "share",
            "most",
            given("Below this other causes dominate", SMALLEST_ODDS, "share"),
            *(given(f"{pool.name}: lost in a year", pool.pool_lost, "share") for pool in e.odds),
        )
        one_in = made("One in", "count", "quotient", given("One", 1, "count"), likeliest)
        return made("One in so many ÷ asked for", "ratio", "quotient", one_in, rule)
    return made("Copies ÷ asked for", "ratio", "quotient", _copies(e), rule)


def _copies(e: Evaluation) -> Term:
    """What is counted of the material that decides."""
    scale, weakest = e.scales.safety, e.copies.weakest
    if not e.copies.has_said:
        return given("Copies that anybody has planned", 0, "count")
    if weakest is None or weakest.worst is None:
        kept = [m for m in e.copies.materials if m.worth != "replaceable"]
        each = (given(f"{m.name}: copies, with the one in use", m.copies, "count") for m in kept)
        return made("The fewest", "count", "least", *each) if kept else given("Nothing", scale.have, "count")
    return given(f"{weakest.name}: {weakest.worst.of}", weakest.worst.have, "count")


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
        if line.amount is None or line.unit_price is None:
            lines.append(given(f"{line.count} × {line.name}: no price yet", 0, "money"))
        else:
            lines.append(
                made(
                    line.name,
                    "money",
                    "product",
                    given("Number", line.count - line.reused, "count"),
                    given("Price each", float(line.unit_price), "money"),
                )
            )
    return made("Spent", "money", "sum", *lines)
