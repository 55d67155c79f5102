"""Many drawn days of a plan, a part a day."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from jobs.kind import Asks, Json, Kind, Work, question
from larder.asks.rehearsal.failures import Failure, parse_failure
from larder.asks.rehearsal.many_days import MOST_DAYS, DayFigures, ManyDays, RehearsedDays
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from plans.schemas import AskDay


class AskDays(AskDay):
    """So many drawn days of what is asked."""

    days: Annotated[int, Field(ge=2, le=MOST_DAYS)] = 500
    seed: Annotated[int, Field(ge=0, le=10**9)] = 1


def _failures(fails: list[str]) -> list[Failure]:
    return [parse_failure(text) for text in fails]


def _ready(asked: Json) -> Work:
    many = ManyDays(bundle_from(asked["document"]), asked["seed"], _failures(asked["fails"]))
    return Work(
        part=lambda number: many.day(number).model_dump(mode="json"),
        summed=lambda parts: many.summed(map(DayFigures.model_validate, parts)).model_dump(mode="json"),
    )


def _asked(bundle: Bundle, body: AskDays) -> Json:
    return question(bundle, fails=body.fails, seed=body.seed)


KIND = Kind(
    id="rehearse-days",
    told="days",
    result=RehearsedDays,
    ready=_ready,
    asks=Asks(
        path="rehearse/days",
        body=AskDays,
        asked=_asked,
        wanted=lambda _, body: body.days,
        check=lambda bundle, body: ManyDays(bundle, body.seed, _failures(body.fails)).check(),
        about=lambda asked: " and ".join(asked["fails"]),
        example={"days": 2},
    ),
)
