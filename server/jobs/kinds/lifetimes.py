"""A pool's groups lived through for millions of years, a part so many groups."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from jobs.kind import Asks, Json, Kind, Work, question
from larder.asks.safeguard import GROUPS_A_PART, Lifetimes, LivedPart, PoolLived
from larder.readers.plan_file import bundle_from
from plans.schemas import Ask

MOST_MILLION_YEARS = 100


class AskLifetimes(Ask):
    """So many million years of a pool's groups."""

    pool_id: Annotated[str, Field(max_length=40)]
    million_years: Annotated[int, Field(ge=1, le=MOST_MILLION_YEARS)] = 10
    seed: Annotated[int, Field(ge=0, le=10**9)] = 1


def _ready(asked: Json) -> Work:
    lived = PoolLived(bundle_from(asked["document"]), asked["pool_id"], asked["seed"])
    return Work(
        part=lambda number: lived.part(number).model_dump(mode="json"),
        summed=lambda parts: lived.summed(map(LivedPart.model_validate, parts)).model_dump(mode="json"),
    )


KIND = Kind(
    id="lifetimes",
    told="lifetimes",
    result=Lifetimes,
    ready=_ready,
    asks=Asks(
        path="safeguard/lifetimes",
        body=AskLifetimes,
        asked=lambda bundle, body: question(bundle, pool_id=body.pool_id, seed=body.seed),
        wanted=lambda _, body: body.million_years * 1_000_000 // GROUPS_A_PART,
        check=lambda bundle, body: PoolLived(bundle, body.pool_id, body.seed),
        about=lambda asked: str(asked["pool_id"]),
        example={"pool_id": "main", "million_years": 1},
    ),
)
