"""Searches that take long, as jobs, each found again by what it was asked of."""

from __future__ import annotations

import hashlib
import json
from typing import Literal

from accounts.scope import Scope
from jobs.actions import begin_job
from jobs.kinds import ADVICE, MORE, WHY_NOT
from jobs.models import LongJob
from larder.asks.advisor.advise import AdviceInParts
from larder.asks.advisor.more import MoreInParts
from larder.plan.bundle import Bundle
from plans.models import Plan

What = Literal["advice", "more", "why-not"]
KIND: dict[What, str] = {"advice": ADVICE, "more": MORE, "why-not": WHY_NOT}


def _digest(bundle: Bundle) -> str:
    return hashlib.sha256(json.dumps(bundle.document(), sort_keys=True).encode()).hexdigest()


def newest(plan: Plan, bundle: Bundle, what: What, of: str) -> LongJob | None:
    """The newest job that was asked just this."""
    asked = {"asked__digest": _digest(bundle), "asked__of": of}
    return LongJob.objects.filter(plan=plan, studio=plan.studio_id, kind=KIND[what], **asked).first()


def begun(scope: Scope, plan: Plan, bundle: Bundle, what: What, of: str) -> LongJob:
    """A new one; raises :class:`Refused` for what no design can be looked for."""
    asked = {"document": bundle.document(), "digest": _digest(bundle), "of": of}
    return begin_job(scope, plan, KIND[what], asked, _parts(bundle, what))


def _parts(bundle: Bundle, what: What) -> int:
    if what == "advice":
        return AdviceInParts(bundle).count
    return MoreInParts(bundle).count if what == "more" else 1
