"""The drawings of the owner's page, in ink on paper, from figures that the core has reckoned."""

from __future__ import annotations

import math
from collections.abc import Callable, Iterable, Sequence
from datetime import date
from itertools import pairwise

from django.utils.html import format_html, format_html_join
from django.utils.safestring import SafeString

from larder.asks.owner_page import OwnerPage, PageScale
from larder.base.units import TB
from larder.stages.costs import CostMonth
from larder.stages.growth import GrowthPoint

WIDTH, HEIGHT = 330.0, 112.0
LEFT, RIGHT, TOP, BOTTOM = 34.0, 70.0, 10.0, 20.0
STEEPEST_DEGREES, FULL_TILT_RATIO = 18.0, 1.5
INK, TEAL, RULE, FONT = "#1f2f34", "#00595f", "#d9dad4", "Commissioner Variable, sans-serif"
COLOURS = {"enough": TEAL, "tight": "#7a5300", "short": "#5b0637", "open": INK}
# A drawing in a page that is printed knows nothing of the page's style sheet: its look stands in it.
LINE = format_html('fill="none" stroke="{}" stroke-width="1.2"', INK)
THICK = format_html('fill="none" stroke="{}" stroke-width="2.4"', TEAL)
DASH = format_html('fill="none" stroke="{}" stroke-width="1.2" stroke-dasharray="4 3"', INK)
LEVEL = format_html('fill="none" stroke="{}" stroke-width="0.7"', RULE)
BAND = format_html('fill="{}" fill-opacity="0.2"', TEAL)
WORD = format_html('font-family="{}" font-size="9" fill="{}"', FONT, INK)
Scale = Callable[[float], float]


def beam(scale: PageScale) -> SafeString:
    """A balance: what is asked in the hollow pan, what there is in the filled one; level where equal."""
    tilt = STEEPEST_DEGREES
    if scale.verdict == "open":
        tilt = 0.0
    elif scale.ratio is not None:
        leaning = math.log(scale.ratio) / math.log(FULL_TILT_RATIO) if scale.ratio > 0 else -1.0
        tilt = min(max(leaning, -1.0), 1.0) * STEEPEST_DEGREES
    return format_html(
        '<svg class="beam" viewBox="0 0 64 40"><path d="M32 23 L25.5 37 H38.5 Z" {}/>'
        '<g transform="rotate({} 32 22)" stroke="{colour}" stroke-width="2.4">'
        '<path d="M5 22 H59" fill="none"/><rect x="5" y="10.5" width="10" height="10" fill="none"/>'
        '<rect x="47" y="8.5" width="12" height="12" fill="{pan}"/></g></svg>',
        LINE,
        f"{tilt:.1f}",
        colour=COLOURS[scale.verdict],
        pan="none" if scale.verdict == "open" else COLOURS[scale.verdict],
    )


def fill(page: OwnerPage) -> SafeString:
    """How the tier that is full first fills: a band 8 times in 10, below the line of what is plannable."""
    points = page.fill
    if len(points) < 2:
        return SafeString("")
    most = max(max(p.high_bytes, p.plannable_bytes) for p in points) / TB
    x, y = _days([p.on for p in points]), _heights(most)
    band = _path([(x(p.on.toordinal()), y(p.high_bytes / TB)) for p in points])
    band += _path([(x(p.on.toordinal()), y(p.low_bytes / TB)) for p in reversed(points)], "L") + "Z"
    middle = _path([(x(p.on.toordinal()), y(p.middle_bytes / TB)) for p in points])
    held = _path(_stairs(points, x, y))
    last = points[-1]
    labels = _apart(
        [
            ("plannable", y(last.plannable_bytes / TB)),
            ("probably", y(last.middle_bytes / TB)),
        ]
    )
    return _framed(
        format_html('<path d="{}" {}/><path d="{}" {}/><path d="{}" {}/>',
                    band, BAND, middle, THICK, held, DASH),
        [p.on for p in points], most, "TB", labels,
    )  # fmt: skip


def costs(page: OwnerPage) -> SafeString:
    """What is paid by each month: this plan, portable drives for ever, a service alone."""
    months = page.months
    if len(months) < 2:
        return SafeString("")
    lines: Sequence[tuple[str, SafeString, Callable[[CostMonth], float]]] = (
        ("this plan", THICK, lambda m: float(m.plan)),
        ("portable drives", LINE, lambda m: float(m.portable)),
        ("a service alone", DASH, lambda m: float(m.service)),
    )
    most = max(of(month) for month in months for _, _, of in lines) or 1.0
    x, y = _days([m.on for m in months]), _heights(most)
    drawn = format_html_join(
        "",
        '<path d="{}" {}/>',
        (
            (_path([(x(m.on.toordinal()), y(of(m))) for m in months]), look)
            for _, look, of in lines
            if any(map(of, months))
        ),
    )
    labels = _apart([(name, y(of(months[-1]))) for name, _, of in lines if any(map(of, months))])
    return _framed(drawn, [m.on for m in months], most, page.currency, labels)


def _days(days: Sequence[date]) -> Scale:
    first, last = days[0].toordinal(), days[-1].toordinal()
    long = max(last - first, 1)
    return lambda day: LEFT + (day - first) / long * (WIDTH - LEFT - RIGHT)


def _heights(most: float) -> Scale:
    return lambda value: HEIGHT - BOTTOM - value / (most or 1.0) * (HEIGHT - TOP - BOTTOM)


def _stairs(points: Sequence[GrowthPoint], x: Scale, y: Scale) -> list[tuple[float, float]]:
    """What can be planned grows on the day a purchase is in use, not gradually before it."""
    corners = [(x(points[0].on.toordinal()), y(points[0].plannable_bytes / TB))]
    for before, after in pairwise(points):
        corners.append((x(after.on.toordinal()), y(before.plannable_bytes / TB)))
        if after.plannable_bytes != before.plannable_bytes:
            corners.append((x(after.on.toordinal()), y(after.plannable_bytes / TB)))
    return corners


def _path(points: Iterable[tuple[float, float]], begin: str = "M") -> str:
    return begin + " L".join(f"{x:.1f} {y:.1f}" for x, y in points)


def _apart(labels: list[tuple[str, float]], room: float = 10.0) -> list[tuple[str, float]]:
    """Words at the ends of lines, moved down where they would stand on each other."""
    placed: list[tuple[str, float]] = []
    for name, at in sorted(labels, key=lambda each: each[1]):
        lowest = placed[-1][1] + room if placed else TOP
        placed.append((name, max(at, lowest)))
    over = placed[-1][1] - (HEIGHT - BOTTOM) if placed else 0.0
    return [(name, at - max(over, 0.0)) for name, at in placed]


def _framed(
    drawn: SafeString, days: Sequence[date], most: float, unit: str, labels: Sequence[tuple[str, float]]
) -> SafeString:
    """A drawing within its axes: years below, half and whole of the most beside it."""
    x, y = _days(days), _heights(most)
    years = [
        (f"{x(date(year, 1, 1).toordinal()):.1f}", year)
        for year in range(days[0].year + 1, days[-1].year + 1)
    ]
    ticks = format_html_join(
        "",
        '<path d="M{} {} v3" {}/><text x="{}" y="{}" text-anchor="middle" {}>{}</text>',
        ((at, HEIGHT - BOTTOM, LINE, at, HEIGHT - 6, WORD, year) for at, year in years),
    )
    levels = format_html_join(
        "",
        '<path d="M{} {} H{}" {}/><text x="{}" y="{}" text-anchor="end" {}>{}</text>',
        (
            (LEFT, f"{y(v):.1f}", WIDTH - RIGHT, LEVEL, LEFT - 4, f"{y(v) + 3:.1f}", WORD, _short(v))
            for v in _round(most)
        ),
    )
    words = format_html_join(
        "",
        '<text x="{}" y="{}" {}>{}</text>',
        ((WIDTH - RIGHT + 4, f"{at + 3:.1f}", WORD, name) for name, at in labels),
    )
    return format_html(
        '<svg class="drawing" viewBox="0 0 {} {}">{}<path d="M{} {} H{}" {}/>{}{}{}'
        '<text x="0" y="8" {}>{}</text></svg>',
        WIDTH, HEIGHT, levels, LEFT, HEIGHT - BOTTOM, WIDTH - RIGHT, LINE, ticks, drawn, words, WORD, unit,
    )  # fmt: skip


def _round(most: float) -> list[float]:
    """Two or three levels that one can say."""
    step = 10 ** math.floor(math.log10(most)) if most > 0 else 1.0
    for times in (5.0, 2.0, 1.0, 0.5):
        if most / (step * times) >= 2:
            step *= times
            break
    return [step * n for n in range(1, int(most / step) + 1)]


def _short(value: float) -> str:
    return f"{value / 1000:g}k" if value >= 10_000 else f"{value:,g}"
