"""Plans of a studio judged again after the rules were mended, a part a plan: the house does so by itself."""

from __future__ import annotations

from pydantic import BaseModel

from jobs.kind import Json, Kind, Work
from plans.judging import judge_again
from plans.models import Revision


class JudgedAgain(BaseModel):
    """How many plans have been judged again."""

    plans: int


def _ready(asked: Json) -> Work:
    def part(number: int) -> Json:
        revision = Revision.objects.filter(pk=asked["revisions"][number]).first()
        if revision is not None:
            judge_again(revision)
        return {}

    return Work(part, lambda parts: {"plans": sum(1 for _ in parts)})


KIND = Kind(id="judge-again", told="judged_again", result=JudgedAgain, ready=_ready)
