"""Every figure that can explain itself: its formula in words, its inputs and its source."""

from __future__ import annotations

from collections.abc import Iterator

from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle
from larder.stages.wiring import HopResult

from .working import Figure, Input
from .workings_tiers import tier_figures


def figures(evaluation: Evaluation) -> dict[str, Figure]:
    """Every figure of an evaluation that can be explained, by id."""
    table = {
        "scales.speed": _SPEED,
        "scales.space": _SPACE,
        "scales.safety": _SAFETY,
        "scales.money": _MONEY,
        "brief.load": _LOAD,
        "brief.growth": _GROWTH,
        "brief.working-set": _WORKING_SET,
    }
    table |= tier_figures(evaluation)
    for i, hop in enumerate(evaluation.wiring.hops):
        table[f"wiring.{hop.id}"] = _hop(i, hop)
    return table


def _speed_inputs(_: Bundle, e: Evaluation) -> Iterator[Input]:
    for hop in e.wiring.hops:
        if hop.ratio is not None:
            yield Input(label=f"{hop.name}: carries", value=hop.capacity_bytes_per_s, unit="bytes_per_s")
            yield Input(label=f"{hop.name}: asked", value=hop.required_bytes_per_s, unit="bytes_per_s")


_SPEED = Figure(
    title="Speed",
    unit="ratio",
    formula="the smallest, over all hops, of what the hop carries ÷ what is asked of it; a hop that "
    "serves one seat is held against that seat's full demand, a shared one against the percentile "
    "of the joint load",
    source="Bottleneck law of a chain; percentile from the house rules",
    read=lambda e: e.scales.speed.ratio,
    inputs=_speed_inputs,
)


def _space_inputs(_: Bundle, e: Evaluation) -> Iterator[Input]:
    if e.tiers.has_both_tiers:
        yield Input(label="Plannable for work", value=e.tiers.tier_bytes("work"), unit="bytes")
        yield Input(label="Hot at once", value=e.brief.working_set_bytes, unit="bytes")
    yield Input(label="Plannable", value=e.tiers.plannable_bytes, unit="bytes")
    yield Input(label="Needed", value=e.brief.need_bytes, unit="bytes")
    yield Input(label="Weeks to the horizon", value=round(e.brief.weeks, 1), unit="weeks")
    for part in e.brief.need_parts:
        yield Input(label=part.step.replace("_", " ").capitalize(), value=part.bytes, unit="bytes")


_SPACE = Figure(
    title="Space",
    unit="ratio",
    formula="plannable bytes ÷ (kept today + weeks × (footage × kept × (1 + proxies + previews) "
    "+ stills + exports) + productions + services), on the fullest day until the horizon; beside an archive "
    "also what is plannable for work ÷ what is hot at once, and the smaller of both counts",
    source="Conservation of bytes; the fill limit is taken once, in plannable",
    read=lambda e: e.scales.space.ratio,
    inputs=_space_inputs,
)


def _safety_inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
    for pool in e.tiers.pools:
        yield Input(label=f"{pool.name}: layout", value=pool.layout_words, unit="")
        yield Input(label="Survives any", value=pool.guaranteed_failures, unit="drives")
        yield Input(label="At the luckiest", value=pool.max_failures, unit="drives")
    yield Input(label="House rule", value=b.house_rules.failures_survived_min, unit="drives")


_SAFETY = Figure(
    title="Safety",
    unit="drives",
    formula="drives of the weakest pool that may fail, whichever they are, with nothing lost; held "
    "against the house rule. Copies elsewhere are not judged in this figure",
    source="RAID levels as in Patterson, Gibson, Katz (1988) and SNIA's disk data format",
    read=lambda e: e.scales.safety.have,
    inputs=_safety_inputs,
)


def _money_inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
    yield Input(label="Budget", value=str(b.plan.brief.budget), unit="money")
    for line in e.money.lines:
        value = "no price yet" if line.amount is None else str(line.amount)
        unit = "" if line.amount is None else "money"
        yield Input(label=f"{line.count} × {line.name}", value=value, unit=unit)


_MONEY = Figure(
    title="Money",
    unit="money",
    formula="sum of number × typed price over the drives and every other purchase",
    source="Prices as typed in this plan",
    read=lambda e: float(e.money.spent),
    inputs=_money_inputs,
)


def _load_inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
    for seat in e.brief.seats:
        rate = seat.read_bytes_per_s + seat.write_bytes_per_s
        yield Input(label=f"{seat.count} × {seat.name}", value=rate, unit="bytes_per_s")
        yield Input(label=f"{seat.name}: at peak", value=seat.probability, unit="probability")
    rules = b.house_rules
    yield Input(label="All peak together", value=e.brief.common_peak_probability, unit="probability")
    yield Input(label="Sized on", value=rules.sized_on_percentile, unit="%")


_LOAD = Figure(
    title="Joint load",
    unit="bytes_per_s",
    formula="the seats' rates convolved, each at its peak with its own probability, mixed with the "
    "chance that all peak together; the smallest rate that is enough at the percentile",
    source="Convolution of independent demands; percentile and common peak from the house rules",
    read=lambda e: e.brief.both.sized_bytes_per_s,
    inputs=_load_inputs,
)


def _working_set_inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
    brief = b.plan.brief
    yield Input(label="Growth of the steady weeks stays hot for", value=brief.hot_weeks, unit="weeks")
    yield Input(label="Productions hot at once", value=e.brief.calendar.hot_count_max, unit="count")
    for production in e.brief.calendar.productions:
        yield Input(label=f"{production.name}: footage in all", value=production.footage_bytes, unit="bytes")
    yield Input(label="Proxies", value=brief.proxy_ratio, unit="of footage")
    yield Input(label="Previews", value=brief.preview_ratio, unit="of footage")


_WORKING_SET = Figure(
    title="Working set",
    unit="bytes",
    formula="what the steady weeks bring while it stays hot, and the most that productions begun and "
    "not yet archived hold together, proxies, previews and versions included",
    source="Arithmetic on the calendar: a production is hot from its first day until it is archived",
    read=lambda e: float(e.brief.working_set_bytes),
    inputs=_working_set_inputs,
)


def _growth_inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
    brief = b.plan.brief
    rates = {f.id: f for f in e.brief.formats}
    for production in e.brief.calendar.productions:
        yield Input(label=f"{production.name}: footage in all", value=production.footage_bytes, unit="bytes")
    for shoot in brief.shoots:
        media = rates[shoot.format_id]
        yield Input(label=f"{shoot.name}: {media.name}", value=media.mean_bytes_per_s, unit="bytes_per_s")
        yield Input(label=f"{shoot.name}: a week", value=shoot.hours_per_week, unit="h")
        yield Input(label=f"{shoot.name}: kept", value=shoot.kept_ratio, unit="probability")
    yield Input(label="Proxies", value=brief.proxy_ratio, unit="of footage")
    yield Input(label="Previews", value=brief.preview_ratio, unit="of footage")
    yield Input(label="Stills", value=brief.stills_bytes_per_week, unit="bytes")
    yield Input(label="Exports", value=brief.exports_bytes_per_week, unit="bytes")


_GROWTH = Figure(
    title="Growth a week",
    unit="bytes",
    formula="hours shot × mean rate × kept × (1 + proxies + previews) + stills + exports, and what the "
    "productions bring until the horizon, by the week",
    source="Arithmetic on the brief; mean rates, because space does not care for peaks",
    read=lambda e: float(e.brief.growth_bytes_per_week),
    inputs=_growth_inputs,
)
_HOP_FORMULAS = {
    "link": (
        (
            "line rate × TCP payload of a frame (1448/1538 at MTU 1500, 8948/9038 at 9000) × 0.9 for the "
            "file protocol × links, of which one flow uses one"
        ),
        "IEEE 802.3 framing, IEEE 802.1AX aggregation; protocol efficiency is a stated assumption",
    ),
    "pool": (
        "reads and writes share the drives: 1 ÷ (share of reads ÷ read rate + share of writes ÷ write rate)",
        "Arithmetic on the pool's own rates, which are behind its slots, buses and processor",
    ),
    "bus": (
        (
            "rate of the bus × links, shared by all pools of the box: a byte read costs one byte, a byte "
            "written its copies and parity as well"
        ),
        "PCI Express, SATA, SAS, USB line rates less coding and packets",
    ),
    "processor": (
        (
            "ordinary cores of its class ÷ core-seconds per byte: 0.4 a GB for the protocol, 0.3 for parity "
            "in writing, 0.2 for checksums, 0.4 for what is encrypted; a seat inside takes a core"
        ),
        "Stated assumptions until the box is measured",
    ),
}
"""(formula, source) by what a hop is."""


def _hop(index: int, hop: HopResult) -> Figure:
    def inputs(b: Bundle, e: Evaluation) -> Iterator[Input]:
        result = e.wiring.hops[index]
        yield Input(label="One link carries", value=result.link_bytes_per_s, unit="bytes_per_s")
        yield Input(label="Links together", value=result.links, unit="links")
        yield Input(label="Carries here", value=result.capacity_bytes_per_s, unit="bytes_per_s")
        yield Input(label="Asked of it", value=result.required_bytes_per_s, unit="bytes_per_s")
        yield Input(label="By", value=result.because, unit="")
        if result.kind == "link":
            yield Input(label="MTU", value=b.plan.wiring.mtu, unit="B")
            yield Input(label="File protocol", value=b.plan.wiring.protocol.upper(), unit="")

    return Figure(
        title=hop.name,
        unit="bytes_per_s",
        formula=_HOP_FORMULAS[hop.kind][0],
        source=_HOP_FORMULAS[hop.kind][1],
        read=lambda e: e.wiring.hops[index].capacity_bytes_per_s,
        inputs=inputs,
    )
