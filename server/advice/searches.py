"""Searches that take long, as jobs, each found again by what it was asked of."""

from __future__ import annotations

import hashlib
import json
from typing import Literal

from accounts.scope import Scope
from jobs.actions import begin_job
from jobs.kinds import ADVICE, MORE, WHY_NOT, Json
from jobs.models import LongJob
from larder.asks.advisor.advise import AdviceInParts
from larder.asks.advisor.more import MoreInParts
from larder.plan.bundle import Bundle
from plans.models import Plan

What = Literal["advice", "more", "why-not"]
KIND: dict[What, str] = {"advice": ADVICE, "more": MORE, "why-not": WHY_NOT}


def asked_of(bundle: Bundle, of: str = "") -> Json:
    """All that a search is worked out from, and the digest that it is found again by."""
    document = bundle.document()
    digest = hashlib.sha256(json.dumps(document, sort_keys=True).encode()).hexdigest()
    return {"document": document, "digest": digest, "of": of}


def newest(plan: Plan, what: What, asked: Json) -> LongJob | None:
    """The newest job that was asked just this."""
    same = {"asked__digest": asked["digest"], "asked__of": asked["of"]}
    return LongJob.objects.filter(plan=plan, studio=plan.studio_id, kind=KIND[what], **same).first()


def begun(scope: Scope, plan: Plan, bundle: Bundle, what: What, asked: Json) -> LongJob:
    """A new one; raises :class:`Refused` for what no design can be looked for."""
    return begin_job(scope, plan, KIND[what], asked, _parts(bundle, what))


def _parts(bundle: Bundle, what: What) -> int:
    if what == "advice":
        return AdviceInParts(bundle).count
    return MoreInParts(bundle).count if what == "more" else 1
