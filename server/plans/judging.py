"""A revision's document judged, or the reason why it cannot be: what is stored opens, whatever it is."""

from __future__ import annotations

import hashlib
import logging
import secrets
from dataclasses import dataclass
from functools import cache
from pathlib import Path
from typing import Any

import larder
from larder.base.errors import LarderError, RefusedMany
from larder.judge.evaluation import Evaluation, evaluate
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


@cache
def judge_version() -> str:
    """What the verdicts were worked out by: they count as long as the core's sources are these."""
    total = hashlib.sha256()
    for path in sorted(Path(larder.__file__).parent.glob("**/*")):
        if path.suffix in (".py", ".csv") and "tests" not in path.parts:
            total.update(path.read_bytes())
    return total.hexdigest()[:16]


def verdicts_of(evaluation: Evaluation) -> dict[str, Any]:
    """What the list of plans shows, kept with the revision so that a list judges nothing."""
    scales = {name: getattr(evaluation.scales, name).verdict for name in SCALES}
    findings = sum(finding.accepted_reason is None for finding in evaluation.findings)
    return {"by": judge_version(), "findings": findings, **scales}


def kept_verdicts(revision: Revision) -> dict[str, Any] | None:
    """The revision's verdicts, worked out anew only where the core has changed; None where it has none."""
    kept = revision.verdicts
    if isinstance(kept, dict) and kept.get("by") == judge_version():
        return kept if "speed" in kept else None
    evaluation = judged(revision.document).evaluation
    fresh = {"by": judge_version()} if evaluation is None else verdicts_of(evaluation)
    Revision.objects.filter(pk=revision.pk).update(verdicts=fresh)
    return fresh if evaluation is not None else None
