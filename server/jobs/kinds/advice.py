"""Designs for a brief, where to look at all of them takes long: designs first, then each school."""

from __future__ import annotations

from jobs.kind import Asks, Json, Kind, Work, question
from larder.asks.advisor.advise import AdviceInParts, AdvicePart
from larder.asks.advisor.answers import Advice
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from plans.schemas import Ask


class AskSearch(Ask):
    """A search of designs. Without ``begin`` only a job that there is already is told."""

    begin: bool = True


def without_acceptances(bundle: Bundle) -> Bundle:
    """What was accepted makes no other search."""
    return bundle.model_copy(update={"plan": bundle.plan.model_copy(update={"acceptances": ()})})


def searched(bundle: Bundle, **more: str) -> Json:
    """What a search for this plan is asked and found again by."""
    return question(without_acceptances(bundle), **more)


def _ready(asked: Json) -> Work:
    whole = AdviceInParts(bundle_from(asked["document"]))
    return Work(
        part=lambda number: whole.part(number).model_dump(mode="json"),
        summed=lambda parts: whole.summed(map(AdvicePart.model_validate, parts)).model_dump(mode="json"),
    )


def _so_far(parts: dict[int, Json]) -> Advice | None:
    """Designs come with the first part; before it there is nothing to tell."""
    return AdviceInParts.summed(map(AdvicePart.model_validate, parts.values())) if 0 in parts else None


KIND = Kind(
    id="advice",
    told="advice",
    result=Advice,
    ready=_ready,
    is_awaited=True,
    so_far=_so_far,
    asks=Asks(
        path="advise/search",
        body=AskSearch,
        asked=lambda bundle, _: searched(bundle),
        wanted=lambda bundle, _: AdviceInParts(bundle).count,
        check=lambda bundle, _: AdviceInParts(bundle),
        example={},
    ),
)
