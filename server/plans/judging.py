"""A revision's document judged, or the reason why it cannot be: what is stored opens, whatever it is."""

from __future__ import annotations

import logging
import secrets
from dataclasses import dataclass
from typing import Any

from django.db.models import F, Q, QuerySet

from accounts.models import Studio
from larder.base.errors import LarderError, RefusedMany
from larder.judge.evaluation import Evaluation, evaluate
from larder.judge.version import JUDGED_BY
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from, changes_of

from .models import Revision

SCALES = ("speed", "space", "safety", "money")
PROBLEMS_SAID = 3
log = logging.getLogger("larder")


@dataclass(frozen=True)
class Judged:
    """A document with its verdicts. Without a bundle or evaluation ``reason`` says why there is none."""

    bundle: Bundle | None = None
    evaluation: Evaluation | None = None
    reason: str = ""
    notes: tuple[str, ...] = ()
    """What was changed in an older document so that it can be judged."""


def judged(document: Any) -> Judged:
    """``document`` judged; never raises, since one plan must not shut others out."""
    bundle = None
    try:
        bundle = bundle_from(document)
        return Judged(bundle, evaluate(bundle), notes=changes_of(document))
    except RefusedMany as refused:
        said = [problem.sentence for problem in refused.problems[:PROBLEMS_SAID]]
        more = len(refused.problems) - len(said)
        return Judged(bundle, reason=" ".join(said) + (f" And {more} more." if more else ""))
    except LarderError as refused:
        return Judged(bundle, reason=str(refused))
    except Exception:
        reference = secrets.token_hex(4)
        log.exception("fault %s while judging a stored plan", reference)
        return Judged(
            bundle, reason=f"The server made a mistake; its log tells the reason under {reference}."
        )


def verdicts_of(evaluation: Evaluation) -> dict[str, Any]:
    """What the list of plans shows, kept with the revision so that a list judges nothing."""
    scales = {name: getattr(evaluation.scales, name).verdict for name in SCALES}
    findings = sum(finding.accepted_reason is None for finding in evaluation.findings)
    return {"by": JUDGED_BY, "findings": findings, **scales}


def is_old(revision: Revision) -> bool:
    """Whether its verdicts are of older rules, or it was never judged."""
    kept = revision.verdicts
    return not isinstance(kept, dict) or kept.get("by") != JUDGED_BY


def old_heads(studio: Studio) -> QuerySet[Revision]:
    """The newest revisions of a studio's plans that are old, the last changed first."""
    heads = Revision.objects.filter(studio=studio, plan__removed_at=None, number=F("plan__head"))
    by_these = Q(verdicts__by=JUDGED_BY)
    return heads.filter(~by_these | Q(verdicts=None)).order_by("-pk")


def judge_again(revision: Revision) -> None:
    """Keep the revision's verdicts by today's rules; what cannot be judged has none, and is not old."""
    evaluation = judged(revision.document).evaluation
    fresh = {"by": JUDGED_BY} if evaluation is None else verdicts_of(evaluation)
    Revision.objects.filter(pk=revision.pk).update(verdicts=fresh)
