"""The workings of the brief: joint load, growth, working set."""

from __future__ import annotations

from larder.base.terms import Term, by_law, given, made
from larder.judge.evaluation import Evaluation
from larder.laws.demand import Rush, SeatClass, joint_load
from larder.plan.bundle import Bundle
from larder.stages.need import GrowthTerms

from .working import whole, working

SECONDS_AN_HOUR = 3600


def _sized(*values: float) -> float:
    """The joint load's quantile: (number, rate, probability) a class, then the rush and the percentile."""
    *classes, chance, lifted, percentile = values
    asking = tuple(
        SeatClass("", int(classes[n]), classes[n + 1], classes[n + 2]) for n in range(0, len(classes), 3)
    )
    return joint_load(asking, Rush(chance, lifted)).quantile(percentile / 100)


@working(
    "brief.load",
    title="Joint load",
    unit="bytes_per_s",
    source="Convolution of independent demands in the busiest part of the day; percentile and rush from "
    "the house rules",
    read=lambda e, _: e.brief.both.sized_bytes_per_s,
    subjects=whole,
)
def _load(b: Bundle, e: Evaluation, __: Evaluation) -> Term:
    asking: list[Term] = []
    for seat in e.brief.seats:
        if not seat.probability:
            continue  # who does not work in this part does not rush in it either
        asking += [
            given(f"{seat.name}: seats", seat.count, "count"),
            given(f"{seat.name}: each asks", seat.read_bytes_per_s + seat.write_bytes_per_s, "bytes_per_s"),
            given(f"{seat.name}: at its peak", seat.probability, "probability"),
        ]
    for service in e.brief.services:
        asking += [
            given(f"{service.name}: services", 1, "count"),
            given(f"{service.name}: asks", service.bytes_per_s, "bytes_per_s"),
            given(f"{service.name}: all the time", 1, "probability"),
        ]
    return by_law(
        "Joint load",
        "bytes_per_s",
        "the smallest rate that is enough at the percentile, of the rates convolved, each at its peak with "
        "its own probability, mixed with a rush that lifts everybody's",
        _sized,
        *asking,
        given("A rush", e.brief.common_peak_probability, "probability"),
        given("In a rush at peak, at least", e.brief.rush_odds, "probability"),
        given("Sized on", b.house_rules.sized_on_percentile, "%"),
    )


def _steady_week(b: Bundle, e: Evaluation) -> Term:
    """What the steady weeks bring: the shoots' footage, proxies and previews of it, stills and exports."""
    brief, terms = b.plan.brief, e.brief.growth_terms
    rates = {f.id: f.mean_bytes_per_s for f in e.brief.formats}
    shoots = [
        made(
            f"{shoot.name}: kept a week",
            "bytes",
            "product",
            given("Shot a week", shoot.hours_per_week, "h"),
            given("Seconds an hour", SECONDS_AN_HOUR, "s"),
            given("Mean rate", rates[shoot.format_id], "bytes_per_s"),
            given("Kept", shoot.kept_ratio, "share"),
        )
        for shoot in brief.shoots
    ]
    of_footage = [given("Footage alone", 1, "share")]
    of_footage += [
        given(name, ratio, "of footage")
        for name, ratio in (("Proxies", brief.proxy_ratio), ("Previews", brief.preview_ratio))
    ]
    footage = made("Footage a week", "bytes", "sum", *shoots)
    return made(
        "Steady weeks bring", "bytes", "sum",
        made("Footage with proxies and previews", "bytes", "product",
             footage, made("Of footage", "share", "sum", *of_footage)),
        given("Stills", terms.stills_bytes_per_week, "bytes"),
        given("Exports", terms.exports_bytes_per_week, "bytes"),
    )  # fmt: skip


@working(
    "brief.growth",
    title="Growth a week",
    unit="bytes",
    source="Arithmetic on the brief; mean rates, because space does not care for peaks",
    read=lambda e, _: float(e.brief.growth_bytes_per_week),
    subjects=whole,
)
def _growth(b: Bundle, e: Evaluation, __: Evaluation) -> Term:
    steady, terms = _steady_week(b, e), e.brief.growth_terms
    if not e.brief.weeks:
        return steady
    if b.plan.brief.growth_percent_per_year:
        steady = made(
            "Steady weeks bring, on average", "bytes", "quotient",
            made("Steady weeks until the horizon", "bytes", "product",
                 steady, given("Of today's weeks, with growth", terms.steady_weeks, "weeks")),
            given("Weeks to the horizon", e.brief.weeks, "weeks"),
        )  # fmt: skip
    productions = made(
        "Productions bring, by the week",
        "bytes",
        "quotient",
        given("Productions hold at the horizon", terms.productions_bytes, "bytes"),
        given("Weeks to the horizon", e.brief.weeks, "weeks"),
    )
    return made("Growth a week", "bytes", "sum", steady, productions)


@working(
    "brief.working-set",
    title="Working set",
    unit="bytes",
    source="Arithmetic on the calendar: a production is hot from its first day until it is archived, with "
    "its proxies, previews and versions",
    read=lambda e, _: float(e.brief.working_set_bytes),
    subjects=whole,
)
def _working_set(b: Bundle, e: Evaluation, __: Evaluation) -> Term:
    terms: GrowthTerms = e.brief.growth_terms
    warm = made(
        "Still hot of the steady weeks",
        "bytes",
        "product",
        _steady_week(b, e),
        given("Weeks that stay hot", terms.warm_weeks, "weeks"),
    )
    most = given(
        f"Productions hot at once, {e.brief.hot_productions_max} at most",
        terms.hot_productions_bytes,
        "bytes",
    )
    if not terms.played_bytes:
        return made("Working set", "bytes", "sum", warm, most)
    played = given("Played while it is hot, of what is kept", terms.played_bytes, "bytes")
    return made("Working set", "bytes", "sum", warm, most, played)
