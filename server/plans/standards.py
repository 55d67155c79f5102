"""A studio's standards: read by everybody in it, made out of a plan by a technician."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime

from accounts.models import Role, Studio
from accounts.permission import needs
from accounts.scope import Scope
from api.envelope import Answered
from larder.asks.standards import Part, Standards, kept_document, made_of, read_standards
from larder.base.errors import RefusedMany
from larder.plan.bundle import Bundle

from .actions import audit
from .models import Plan, StudioStandards


class StandardsMoved(Answered):
    """Somebody made other values the studio's meanwhile; nothing was changed."""

    status, code = 409, "stale"
    sentence = "Somebody made other values the studio's meanwhile; look at them and decide anew."


@dataclass(frozen=True)
class KeptStandards:
    """A studio's standards as they are kept; number 0 are those that every studio starts with."""

    standards: Standards
    number: int = 0
    changed_at: datetime | None = None
    changed_by: str = ""
    reason: str = ""
    """Why what is kept cannot be read; then those that every studio starts with count."""


def standards_in(scope: Scope) -> KeptStandards:
    """The studio's standards."""
    row = StudioStandards.objects.select_related("changed_by").filter(studio=scope.studio).first()
    if row is None:
        return KeptStandards(Standards())
    who = row.changed_by.get_username() if row.changed_by else ""
    try:
        return KeptStandards(read_standards(row.document), row.number, row.changed_at, who)
    except RefusedMany as refused:
        return KeptStandards(Standards(), row.number, row.changed_at, who, reason=str(refused))


@needs(Role.TECHNICIAN)
def make_standard(scope: Scope, plan: Plan, bundle: Bundle, part: Part, seen: int) -> KeptStandards:
    """Make one part of a plan the studio's; ``seen`` is the number that the decision was made on.

    Raises :class:`StandardsMoved` where that is not the newest, and the core's Refused for another currency.
    """
    # The studio's row is there before its first standards are, so that is what two at once wait for.
    Studio.objects.select_for_update(no_key=True).get(pk=scope.studio.pk)
    kept = standards_in(scope)
    if kept.number != seen:
        raise StandardsMoved
    made = made_of(kept.standards, bundle, part)
    if made != kept.standards or kept.reason:
        StudioStandards.objects.update_or_create(
            studio=scope.studio,
            defaults={
                "number": kept.number + 1,
                "document": kept_document(made),
                "changed_by": scope.person,
            },
        )
        audit(scope, "make standard", plan, f"{part.replace('_', ' ')} of {plan.name}")
    return standards_in(scope)
