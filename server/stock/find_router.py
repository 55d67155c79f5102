"""Find across a studio: in the plan that is open, among its plans, and in its stock."""

from __future__ import annotations

from collections.abc import Iterator
from uuid import UUID

from django.db.models import Exists, OuterRef, Q
from django.http import HttpRequest
from ninja import Router

from accounts.scope import Scope, scope_of
from api.envelope import ERRORS
from larder.asks.find import Entry, Hit, found_in, words_of
from plans.asked import PLAN, asked_in
from plans.models import Plan
from plans.schemas import AskText

from .models import Device, Holding

router = Router(tags=["find"])

MOST_ROWS = 40
"""Of each kind that the database is asked for; fewer are shown."""
_TOLD = ("label", "place", "box", "holder", "serial")


@router.post(f"{PLAN}/find", response={200: list[Hit], **ERRORS}, operation_id="find")
def find(request: HttpRequest, studio: str, plan_id: UUID, body: AskText) -> list[Hit]:
    """What has the typed words in its name, kind or detail, the best first."""
    scope = scope_of(request, studio)
    _, bundle = asked_in(scope, plan_id, body)
    words = words_of(body.text)
    return list(found_in(bundle, body.text, (*_plans(scope, words), *_devices(scope, words))))


def _beside(kind: str, words: tuple[str, ...]) -> list[str]:
    """The words that are looked for in rows: all but those that begin the kind's own name."""
    return [word for word in words if not kind.startswith(word)]


def _plans(scope: Scope, words: tuple[str, ...]) -> Iterator[Entry]:
    named = Q()
    for word in _beside("plan", words):
        named &= Q(name__icontains=word)
    rows = Plan.objects.filter(named, studio=scope.studio, removed_at=None).order_by("-changed_at")
    for plan_id, name, head in rows.values_list("pk", "name", "head")[:MOST_ROWS]:
        yield Entry("plan", name, f"revision {head}", "plan", str(plan_id))


def _devices(scope: Scope, words: tuple[str, ...]) -> Iterator[Entry]:
    """A device has each word in what is told of it, or in the name of a material on it."""
    wanted = Q()
    for word in _beside("device", words):
        held = Holding.objects.filter(device=OuterRef("pk"), material__icontains=word)
        result = Q(Exists(held))
        for name in _TOLD:
            result |= Q(**{f"{name}__icontains": word})
        wanted &= result
    rows = Device.objects.filter(wanted, studio=scope.studio).prefetch_related("holdings")
    for device in rows.order_by("label", "pk")[:MOST_ROWS]:
        held = ", ".join(holding.material for holding in device.holdings.all())
        size = f"{device.size_bytes / 1e12:g} TB" if device.size_bytes else ""
        parts = (size, device.place, device.box, device.holder, device.serial, held)
        detail = " · ".join(part for part in parts if part)
        yield Entry("device", device.label, detail, "stock", str(device.pk))
