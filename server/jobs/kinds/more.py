"""What a little more of each thing would cost, where the search takes long: a part a thing."""

from __future__ import annotations

from pydantic import BaseModel

from jobs.kind import Asks, Json, Kind, Work
from larder.asks.advisor.more import MoreInParts, MoreOf
from larder.readers.plan_file import bundle_from

from .advice import AskSearch, searched


class MoreFound(BaseModel):
    """What a little more costs, of each thing that can be had."""

    told: list[MoreOf]


def _ready(asked: Json) -> Work:
    whole = MoreInParts(bundle_from(asked["document"]))

    def part(number: int) -> Json:
        more = whole.part(number)
        return {} if more is None else more.model_dump(mode="json")

    return Work(part, lambda parts: {"told": [each for each in parts if each]})


KIND = Kind(
    id="more",
    told="more",
    result=MoreFound,
    ready=_ready,
    is_awaited=True,
    asks=Asks(
        path="advise/search/more",
        body=AskSearch,
        asked=lambda bundle, _: searched(bundle),
        wanted=lambda bundle, _: MoreInParts(bundle).count,
        check=lambda bundle, _: MoreInParts(bundle),
        example={},
    ),
)
