"""One page for whoever pays: what, why, what it costs now and later, what can go wrong, when to order."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import date
from decimal import Decimal

from larder.base.results import Result
from larder.base.units import day_text
from larder.judge.evaluation import Evaluation, evaluate
from larder.judge.scales import Scale, Verdict
from larder.plan.bundle import Bundle
from larder.plan.cautions import CAUTIONS
from larder.stages.costs import CostMonth
from larder.stages.growth import GrowthPoint, StepResult, TierGrowth

from .side_by_side import Measured, measured_of, names_of_boxes, reasons_of, words_of_pool


class PageRow(Result):
    """A line of a table: what, and what is said of it."""

    what: str
    said: str


class PageSection(Result):
    """A part of the page: a table, sentences, or both."""

    id: str
    title: str
    rows: tuple[PageRow, ...] = ()
    lines: tuple[str, ...] = ()


class PageScale(Result):
    """One of the four scales; ``ratio`` is null where there is nothing to weigh."""

    name: str
    verdict: Verdict
    ratio: float | None
    because: str


class OwnerPage(Result):
    """The page. ``fill`` is drawn of the tier that is full first, ``months`` of what is paid by then."""

    name: str
    written_on: date
    currency: str
    sentence: str
    scales: tuple[PageScale, ...]
    sections: tuple[PageSection, ...]
    fill_name: str
    fill: tuple[GrowthPoint, ...]
    months: tuple[CostMonth, ...]


SCALES = ("speed", "space", "safety", "money")
SAID: dict[Verdict, str] = {
    "enough": "is enough",
    "tight": "is tight",
    "short": "falls short",
    "open": "is open",
}
MOST_RISKS = 6
"""What one reads on one page; the rest is counted."""


def owner_page(bundle: Bundle) -> OwnerPage:
    """The page of a plan, by its ordinary judgement."""
    evaluation = evaluate(bundle)
    measured = measured_of(bundle, evaluation)
    first = next((tier for tier in evaluation.growth.tiers if tier.id == evaluation.growth.first), None)
    return OwnerPage(
        name=bundle.plan.name,
        written_on=bundle.as_of,
        currency=bundle.currency,
        sentence=_sentence(evaluation, measured),
        scales=tuple(_scale(name, getattr(evaluation.scales, name)) for name in SCALES),
        sections=tuple(part for part in _sections(bundle, evaluation, measured) if part.rows or part.lines),
        fill_name=first.name if first else "",
        fill=evaluation.bands.get(first.id, ()) if first else (),
        months=evaluation.costs.months,
    )


def _scale(name: str, scale: Scale) -> PageScale:
    return PageScale(name=name.capitalize(), verdict=scale.verdict, ratio=scale.ratio, because=scale.because)


def _sentence(evaluation: Evaluation, measured: Measured) -> str:
    """The verdict first: it does, it does not yet, or nobody can say."""
    by = {name: getattr(evaluation.scales, name).verdict for name in SCALES}
    short = [name for name in SCALES if by[name] == "short"]
    unjudged = [name for name in SCALES if by[name] == "open"]
    money = (
        f"It costs {_money(measured.capex, measured.currency)} now and "
        f"{_money(measured.five_years, measured.currency)} over five years."
    )
    if short:
        return f"It does not do yet what is asked of it: {_and(short)} {_fall(short)} short. {money}"
    if unjudged:
        return f"Not everything can be judged yet: {_and(unjudged)} {_are(unjudged)} open. {money}"
    tight = [name for name in SCALES if by[name] == "tight"]
    only = f"; {_and(tight)} {_are(tight)} tight" if tight else ""
    return f"It does what is asked of it{only}. {money}"


def _sections(bundle: Bundle, evaluation: Evaluation, measured: Measured) -> Iterator[PageSection]:
    yield PageSection(id="what", title="What it is", rows=tuple(_what(bundle, evaluation)))
    yield PageSection(id="why", title="What it gives", lines=tuple(reasons_of(bundle, measured)))
    yield PageSection(id="dates", title="When to order", lines=tuple(_dates(evaluation)))
    yield PageSection(
        id="costs",
        title="What it costs",
        rows=tuple(_costs(evaluation)),
        lines=(evaluation.costs.sentence,) if evaluation.costs.months else (),
    )
    yield PageSection(id="risks", title="What can go wrong", lines=tuple(_risks(evaluation)))
    cautions = [CAUTIONS[work][0] for work in ("mains", "rack", "drives")] if bundle.plan.boxes else []
    yield PageSection(id="cautions", title="Whoever builds it in", lines=tuple(cautions))


def _what(bundle: Bundle, evaluation: Evaluation) -> Iterator[PageRow]:
    plan = bundle.plan
    for pool in plan.pools:
        yield PageRow(what=pool.name, said=words_of_pool(pool))
    if plan.boxes:
        yield PageRow(what="Boxes", said="; ".join(names_of_boxes(bundle)))
    switches = [
        f"{switch.name}, {switch.ports.replace(' ', ' and ').replace('x', ' × ')}"
        for switch in plan.wiring.switches
    ]
    if switches:
        yield PageRow(what="Network", said="; ".join(switches))
    if plan.safekeeping.copies:
        yield PageRow(what="Copies", said="; ".join(copy.name for copy in plan.safekeeping.copies))
    reused = [f"{line.reused} × {line.name}" for line in evaluation.money.lines if line.reused]
    if reused:
        yield PageRow(what="Used from stock", said="; ".join(reused))


def _costs(evaluation: Evaluation) -> Iterator[PageRow]:
    costs = evaluation.costs
    for line in costs.lines:
        if line.amount:
            yield PageRow(what=line.name, said=_money(line.amount, costs.currency))
    yield PageRow(what="Five years together", said=_money(costs.five_years, costs.currency))
    if costs.portable_five_years:
        beside = _money(costs.portable_five_years, costs.currency)
        yield PageRow(what="Portable drives for ever instead", said=beside)
    if costs.service_five_years:
        yield PageRow(what="A service alone instead", said=_money(costs.service_five_years, costs.currency))


def _risks(evaluation: Evaluation) -> Iterator[str]:
    for pool in evaluation.odds:
        yield pool.sentence
    serious = [
        f for f in evaluation.findings if f.severity in ("block", "warn") and f.accepted_reason is None
    ]
    for finding in serious[:MOST_RISKS]:
        yield f"{finding.title}. What helps: {_small(finding.remedy.words)}."
    if len(serious) > MOST_RISKS:
        yield f"And {len(serious) - MOST_RISKS} more findings."
    for finding in evaluation.findings:
        if finding.accepted_reason is not None:
            yield f"Accepted: {_small(finding.title)}, because “{finding.accepted_reason}”."


def _dates(evaluation: Evaluation) -> Iterator[str]:
    seen: set[str] = set()
    for tier in evaluation.growth.tiers:
        yield tier.sentence
        for step in tier.steps:
            if step.id not in seen:
                seen.add(step.id)
                yield _step(step, evaluation.costs.currency)
        if not tier.steps and tier.order_by is not None:
            yield _order(tier, tier.order_by)


def _step(step: StepResult, currency: str) -> str:
    price = f", {_money(step.price, currency)}" if step.price is not None else ", without a price yet"
    if step.why_not:
        return f"{step.name}{price}: {_small(step.why_not)}"
    when = f"order by {day_text(step.order_by)}" if step.order_by else "not needed within what is reckoned"
    late = ", which has passed" if step.is_late else ""
    return f"{step.name}{price}: {when}{late}."


def _order(tier: TierGrowth, by: date) -> str:
    late = ", which has passed" if tier.is_late else ""
    return f"{tier.name}: more is to be ordered by {day_text(by)}{late}."


def _money(amount: Decimal, currency: str) -> str:
    return f"{amount:,.0f} {currency}"


def _and(words: list[str]) -> str:
    return " and ".join((", ".join(words[:-1]), words[-1])) if len(words) > 1 else words[0]


def _fall(words: list[str]) -> str:
    return "falls" if len(words) == 1 else "fall"


def _are(words: list[str]) -> str:
    return "is" if len(words) == 1 else "are"


def _small(words: str) -> str:
    """A sentence within a sentence: its full stop goes, a capital stays where it is of an abbreviation."""
    words = words.rstrip(".")
    return words if words[1:2].isupper() else words[:1].lower() + words[1:]


_SPECIAL = re.compile(r"([\\`*_{}\[\]<>|#])")


def as_markdown(page: OwnerPage) -> str:
    """The page as Markdown: nothing that somebody named a pool can become a mark of it."""
    lines = [
        f"# {_plain(page.name)}",
        "",
        f"As of {day_text(page.written_on)}.",
        "",
        _plain(page.sentence),
        "",
    ]
    lines += ["| Scale | Verdict | By what |", "|---|---|---|"]
    lines += [f"| {s.name} | {SAID[s.verdict]} | {_plain(s.because)} |" for s in page.scales]
    for section in page.sections:
        lines += ["", f"## {section.title}", ""]
        if section.rows:
            lines += ["| | |", "|---|---|"]
            lines += [f"| {_plain(row.what)} | {_plain(row.said)} |" for row in section.rows]
        if section.rows and section.lines:
            lines.append("")
        lines += [f"- {_plain(line)}" for line in section.lines]
    return "\n".join(lines) + "\n"


def _plain(words: str) -> str:
    return _SPECIAL.sub(r"\\\1", " ".join(words.split()))
