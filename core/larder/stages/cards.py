"""When the cards of a shooting day are safe to wipe: copied to every target and read back from it.

The stations copy as fast as their readers give, held back by the narrowest hop on their way: what of it is
left by all others on average in the part of the day in which most cards come in.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping

from larder.base.results import Result
from larder.laws.verified_copy import moved_bytes, seconds_until_safe
from larder.plan.bundle import Plan
from larder.plan.day_parts import DayPart
from larder.plan.seats import IngestSeat

from .ingest import INGEST, IngestResult
from .links import WAYS, use_of_link
from .situation import SITUATION, Situation
from .stage import Judged, Part
from .utilisation import Use
from .wiring import WIRING, WiringResult, uses_of_pool


class CardsResult(Result):
    """The busiest shooting day's cards; ``safe_seconds`` is null where they never get through.

    Where not every station reads back (``is_read_back``), they are only copied by then, and not safe.
    ``slowed`` is the part of the readers' rate that gets through; ``limiting_hop_id`` the hop that slows
    them, null where the readers themselves decide.
    """

    bytes_per_day: int
    moved_bytes_per_day: int
    readers_bytes_per_s: float
    slowed: float
    safe_seconds: float | None
    is_read_back: bool
    limiting_hop_id: str | None
    limiting_name: str


def cards_of(
    plan: Plan, ingest: IngestResult, situation: Situation, wiring: WiringResult
) -> CardsResult | None:
    """How the cards fare; None where no card comes in or there is no station."""
    stations = {s.id: s for s in plan.brief.seats if isinstance(s, IngestSeat) and s.count and s.readers}
    if not ingest.bytes_per_day or not stations or ingest.stations_bytes_per_s <= 0:
        return None
    part = max(situation.work.standard.parts, key=lambda part: _odds(situation, stations, part))
    slowed, hop_id = 1.0, None
    for at, uses, capacity in _hops(situation, stations):
        mine = [use for use in uses if use.asking.id in stations and not use.asking.is_service]
        asked = sum(use.asking.count * use.outcomes[-1][0] for use in mine if use.outcomes) / capacity
        rush = situation.work.standard.rush
        others = sum(use.mean_in(part, rush) for use in uses if use.asking.id not in stations)
        left = max(1 - others / capacity, 0.0)
        if asked > 0 and left / asked < slowed:
            slowed, hop_id = left / asked, at
    a_byte_per_s = ingest.bytes_per_day / ingest.stations_bytes_per_s
    moved = sum(
        moved_bytes(
            a_byte_per_s * s.count * s.readers * s.card_bytes_per_s, s.copies_here, verifies=s.verifies
        )
        for s in stations.values()
    )
    return CardsResult(
        bytes_per_day=ingest.bytes_per_day,
        moved_bytes_per_day=round(moved),
        readers_bytes_per_s=ingest.stations_bytes_per_s,
        slowed=slowed,
        safe_seconds=seconds_until_safe(ingest.bytes_per_day, ingest.stations_bytes_per_s, slowed),
        is_read_back=all(s.verifies for s in stations.values()),
        limiting_hop_id=hop_id,
        limiting_name=next((hop.name for hop in wiring.hops if hop.id == hop_id), "the card readers"),
    )


def _odds(situation: Situation, stations: Mapping[str, IngestSeat], part: DayPart) -> float:
    return sum(a.odds.get(part.id, 0.0) for a in situation.work.asking if a.id in stations)


def _hops(situation: Situation, stations: Mapping[str, IngestSeat]) -> Iterator[tuple[str, list[Use], float]]:
    """(id, uses, capacity in their unit) of links that cards cross, in each direction, and of every pool."""
    asking = situation.work.asking
    for wire in situation.network.wires:
        users = situation.crossing[wire.link.id]
        for way in WAYS if any(asking[n].id in stations for n in users) else ():
            uses = [use_of_link(n, its, 1.0, situation, way) for n, its in users.items()]
            count = sum(use.asking.count for use in uses) if wire.near.kind == "seat" else wire.link.links
            yield wire.link.id, uses, wire.link_bytes_per_s * max(count, 1)
    for pool, cold in zip(situation.work.tiers.pools, situation.work.cold, strict=True):
        yield pool.id, uses_of_pool(pool, cold, situation).uses, float(cold.as_hop.places)


def _judge(judged: Judged) -> CardsResult | None:
    return cards_of(judged.bundle.plan, judged.of(INGEST), judged.of(SITUATION), judged.of(WIRING))


CARDS: Part[CardsResult | None] = Part(
    "cards", _judge, reads=("plan/brief/seats",), after=(INGEST, SITUATION, WIRING)
)
