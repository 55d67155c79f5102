"""What comes of using whatever one points at, where the search takes long."""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from jobs.kind import Asks, Json, Kind, Work
from larder.asks.advisor.why_not import WhyNot, pointed_at, why_not
from larder.readers.plan_file import bundle_from

from .advice import AskSearch, searched, without_acceptances


class AskPointed(AskSearch):
    """Something that one points at: the id of a layout, box, drive or network that is offered."""

    of: Annotated[str, Field(max_length=80)]


def _ready(asked: Json) -> Work:
    bundle, of = bundle_from(asked["document"]), asked["of"]
    return Work(
        part=lambda _: why_not(bundle, of).model_dump(mode="json"),
        summed=lambda parts: next(iter(parts)),
    )


KIND = Kind(
    id="why-not",
    told="why_not",
    result=WhyNot,
    ready=_ready,
    is_awaited=True,
    asks=Asks(
        path="advise/search/why-not",
        body=AskPointed,
        asked=lambda bundle, body: searched(bundle, of=body.of),
        wanted=lambda *_: 1,
        check=lambda bundle, body: pointed_at(without_acceptances(bundle), body.of),
        example={"of": "layout:raid6"},
    ),
)
