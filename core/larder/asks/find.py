"""Find in a plan: seats, formats, pools, drives, boxes, bays, hops, productions, findings, figures and rules.

Words may come in any order and be begun only; what begins with them comes before what holds them. A hit says
what it is, and where it is opened.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from functools import cache
from typing import Literal, NamedTuple

from larder.base.results import Result
from larder.judge.evaluation import Evaluation, evaluate
from larder.plan.bundle import Bundle
from larder.plan.glossary import fields
from larder.stages.registry import BRIEF_STAGE, SAFEGUARD_STAGE, TIERS_STAGE, WIRING_STAGE

from .workings import figures_in

MOST_HITS, MOST_OF_A_KIND = 24, 6
LONGEST_TEXT = 120
Kind = Literal[
    "seat", "service", "camera unit", "production", "format", "pool", "drive", "cache", "box", "bay",
    "switch", "hop", "finding", "figure", "rule", "plan", "device", "material", "copy", "store", "place",
]  # fmt: skip
RULES, CATALOGUE, FINDINGS, FIGURE = "house-rules", "catalogue", "findings", "figure"


class Hit(Result):
    """Something found. ``opens`` is a stage or view, ``findings``, ``figure``, ``plan`` or ``stock``.

    ``at`` is what stands there: a place in the plan file, a finding's key, a figure's or a plan's id; of a
    bay its box, slot and number.
    """

    kind: Kind
    name: str
    detail: str
    opens: str
    at: str


class Entry(NamedTuple):
    """What may be found; as :class:`Hit`."""

    kind: Kind
    name: str
    detail: str
    opens: str
    at: str


def found_in(bundle: Bundle, text: str, beside: Iterable[Entry] = ()) -> tuple[Hit, ...]:
    """What of a plan, and beside it, has all words of ``text`` in its name, kind or detail."""
    return ranked((*_entries(bundle, evaluate(bundle)), *beside), text)


def ranked(entries: Iterable[Entry], text: str) -> tuple[Hit, ...]:
    """The hits, the best first, at most so many in all and of a kind; none for no words."""
    words = words_of(text)
    if not words:
        return ()
    scored = sorted(
        ((score, n, entry) for n, entry in enumerate(entries) if (score := _score(entry, words)) is not None),
        key=lambda each: each[:2],
    )
    hits: list[Hit] = []
    kinds: dict[str, int] = {}
    for _, _, entry in scored:
        if len(hits) < MOST_HITS and kinds.get(entry.kind, 0) < MOST_OF_A_KIND:
            kinds[entry.kind] = kinds.get(entry.kind, 0) + 1
            hits.append(Hit(**entry._asdict()))
    return tuple(hits)


def words_of(text: str) -> tuple[str, ...]:
    """The words that are looked for, in small letters."""
    return tuple(text[:LONGEST_TEXT].casefold().split())


def _score(entry: Entry, words: tuple[str, ...]) -> int | None:
    """0: the name begins with it; 1: its words begin so; 2: it holds them; 3: its kind or detail does."""
    name, rest = entry.name.casefold(), f"{entry.kind} {entry.detail}".casefold()
    if not all(word in name or word in rest for word in words):
        return None
    if name.startswith(" ".join(words)):
        return 0
    parts = name.split()
    if all(any(part.startswith(word) for part in parts) for word in words):
        return 1
    return 2 if all(word in name for word in words) else 3


def _entries(bundle: Bundle, evaluation: Evaluation) -> Iterator[Entry]:
    yield from _of_brief(bundle)
    yield from _of_tiers(bundle)
    yield from _of_wiring(bundle, evaluation)
    yield from _of_safeguard(bundle)
    for found in evaluation.findings:
        detail = f"{found.severity}: {found.id.replace('-', ' ')}"
        yield Entry("finding", found.title, detail, FINDINGS, found.key)
    for figure in figures_in(evaluation):
        if figure.value(evaluation) is not None:
            yield Entry("figure", figure.title, "explained", FIGURE, figure.id)
    for name, label in _rule_labels():
        yield Entry("rule", label, "house rule", RULES, f"house_rules/{name}")


def _of_brief(bundle: Bundle) -> Iterator[Entry]:
    brief, stage = bundle.plan.brief, BRIEF_STAGE.id
    for seat in brief.seats:
        yield Entry(
            "seat", seat.name, f"{seat.count} × {seat.kind}", stage, f"plan/brief/seats/{seat.id}/name"
        )
    for service in brief.services:
        yield Entry("service", service.name, "", stage, f"plan/brief/services/{service.id}/name")
    for shoot in brief.shoots:
        yield Entry("camera unit", shoot.name, "", stage, f"plan/brief/shoots/{shoot.id}/name")
    for production in brief.productions:
        at = f"plan/brief/productions/{production.id}/name"
        yield Entry("production", production.name, f"from {production.starts_on}", stage, at)
    for each in bundle.catalogue.formats:
        yield Entry("format", each.name, each.kind, stage, f"catalogue/formats/{each.id}/name")


def _of_tiers(bundle: Bundle) -> Iterator[Entry]:
    stage = TIERS_STAGE.id
    names = {pool.id: pool.name for pool in bundle.plan.pools}
    for pool in bundle.plan.pools:
        detail = f"{len(pool.drives_bytes)} × {pool.drive_bytes / 1e12:g} TB, {pool.layout}"
        yield Entry("pool", pool.name, detail, stage, f"plan/pools/{pool.id}/name")
    for drive in bundle.catalogue.drives:
        yield Entry("drive", drive.name, "class of drive", CATALOGUE, f"catalogue/drives/{drive.id}/name")
    for cache_ in bundle.plan.caches:
        detail = f"before {names[cache_.pool_id]}"
        yield Entry("cache", cache_.name, detail, stage, f"plan/caches/{cache_.id}/name")
    for box in bundle.plan.boxes:
        yield Entry("box", box.name, f"{box.bays} bays", stage, f"plan/boxes/{box.id}/name")
    boxes = {box.id: box.name for box in bundle.plan.boxes}
    for occupant in bundle.plan.occupants():
        for bay in occupant.bays:
            name = f"{boxes.get(bay.box_id, bay.box_id)}, {bay.slot} {bay.number}"
            at = f"plan/boxes/{bay.box_id}/bays/{bay.slot}-{bay.number}"
            yield Entry("bay", name, occupant.name, stage, at)


def _of_wiring(bundle: Bundle, evaluation: Evaluation) -> Iterator[Entry]:
    stage = WIRING_STAGE.id
    for switch in bundle.plan.wiring.switches:
        yield Entry("switch", switch.name, switch.ports, stage, f"plan/wiring/switches/{switch.id}/name")
    links = {link.id for link in bundle.plan.wiring.links}
    for hop in evaluation.wiring.hops:
        if hop.id in links:
            yield Entry("hop", hop.name, hop.speed, stage, f"plan/wiring/links/{hop.id}/speed")
        else:
            yield Entry("hop", hop.name, hop.kind, FIGURE, f"wiring.{hop.id}")


def _of_safeguard(bundle: Bundle) -> Iterator[Entry]:
    stage, kept, at = SAFEGUARD_STAGE.id, bundle.plan.safekeeping, "plan/safekeeping"
    for material in kept.materials:
        yield Entry("material", material.name, material.worth, stage, f"{at}/materials/{material.id}/name")
    for copy in kept.copies:
        yield Entry("copy", copy.name, copy.way, stage, f"{at}/copies/{copy.id}/name")
    for store in kept.stores:
        yield Entry("store", store.name, store.kind, stage, f"{at}/stores/{store.id}/name")
    for place in kept.places:
        yield Entry("place", place.name, "", stage, f"{at}/places/{place.id}/name")


@cache
def _rule_labels() -> tuple[tuple[str, str], ...]:
    return tuple(
        (name.partition(".")[2], entry["label"])
        for name, entry in fields().items()
        if name.startswith("HouseRules.")
    )
