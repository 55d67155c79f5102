"""How a plan of a studio begins, and what a line that is still being typed would begin."""

from __future__ import annotations

from uuid import UUID

from django.utils import timezone

from accounts.scope import Scope
from larder.asks.begin import begun
from larder.asks.starting_points import started
from larder.base.errors import Refused
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.brief_line import brief_of, understand
from larder.readers.plan_file import bundle_from

from . import actions
from .schemas import LineOut, NewPlan
from .standards import standards_in


def bundle_for(scope: Scope, wanted: NewPlan) -> Bundle:
    """What the plan begins with.

    Raises the core's Refused for two ways at once and for a starting point that is none, RefusedMany for
    words of the line that cannot be taken, :class:`NotHere` for a plan of another studio.
    """
    ways = [name for name in ("line", "starting_point", "copy_of") if getattr(wanted, name)]
    if len(ways) > 1:
        raise Refused(ways[1], str(getattr(wanted, ways[1])), f"nothing beside {ways[0].replace('_', ' ')}")
    if wanted.copy_of is not None:
        return _copy(scope, wanted.copy_of, wanted.name)
    standards, today = standards_in(scope).standards, timezone.localdate()
    if wanted.starting_point:
        return started(wanted.starting_point, wanted.name, today, standards)
    line = understand(wanted.line, today, standards.currency)
    return begun(wanted.name, brief_of(line), today, standards)


def _copy(scope: Scope, plan_id: UUID, name: str) -> Bundle:
    document = actions.newest_bundle(scope, plan_id).document()
    document["plan"]["name"] = name
    return bundle_from(document)


def understood(scope: Scope, text: str) -> LineOut:
    """The line, and the scales of the plan that it would begin with what was understood so far."""
    standards, today = standards_in(scope).standards, timezone.localdate()
    line = understand(text, today, standards.currency)
    try:
        judged = evaluate(begun("New plan", line.brief, today, standards))
    except Refused as refused:
        return LineOut(line=line, reason=refused.sentence)
    return LineOut(line=line, scales=judged.scales, open_work=judged.open_work)
