"""Where plans are found, and what a question about one is about."""

from __future__ import annotations

from uuid import UUID

from django.http import HttpRequest

from accounts.scope import Scope, scope_of
from larder.base.patch import apply_patch
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from

from . import actions
from .models import Plan
from .schemas import Ask

STUDIO = "/studios/{slug:studio}"
PLAN = STUDIO + "/plans/{uuid:plan_id}"


def asked_in(scope: Scope, plan_id: UUID, body: Ask) -> tuple[Plan, Bundle]:
    """The plan a question is about, and its bundle: the base revision with the patch on it."""
    plan = actions.plan_in(scope, plan_id)
    document = actions.document_of(actions.revision_in(plan, body.base))
    return plan, bundle_from(apply_patch(document, body.patch))


def asked_bundle(request: HttpRequest, studio: str, plan_id: UUID, body: Ask) -> Bundle:
    """The bundle of a question that needs no more than itself."""
    return asked_in(scope_of(request, studio), plan_id, body)[1]
