"""Remedies, tried before they are offered: each is made on the plan and the plan is judged again.

Offered is what clears its finding, raises no graver one, and takes nothing away that the
plan is about. The rest is said as advice, with the reason why one step does not do it.
"""

from __future__ import annotations

from collections.abc import Callable

from larder.base.errors import LarderError
from larder.base.patch import Operation, Patch, apply_patch, value_at
from larder.base.results import Result
from larder.findings.finding import SEVERITIES, Finding
from larder.judge.evaluation import Evaluation, evaluate
from larder.plan.bays import parse_bays
from larder.plan.bundle import Bundle
from larder.plan.glossary import label_at
from larder.readers.plan_file import bundle_from

from .movers import goes_on_always

SUBJECTS = ("plan/brief", "plan/pools", "plan/boxes", "plan/caches", "plan/volumes", "plan/wiring/switches")
"""What stands here is what the plan is about: no remedy consists in giving it up."""


class TriedRemedy(Result):
    """A finding's remedy after it was tried; ``against`` says why it is not offered, empty where it is.

    ``patch`` is empty where no one step mends it. ``at`` is where one begins by hand, and ``label`` its name.
    """

    key: str
    patch: tuple[Operation, ...]
    against: str
    at: str
    label: str


def tried_remedies(bundle: Bundle, goes_on: Callable[[], bool] = goes_on_always) -> tuple[TriedRemedy, ...]:
    """Of every finding that is not accepted, in the order of the findings.

    Before each ``goes_on`` is asked, so that whoever calls bounds the work; what is not tried is not offered.
    """
    now, document = evaluate(bundle), bundle.document()

    def tried(finding: Finding) -> TriedRemedy:
        patch, at, why_not = finding.remedy.patch, finding.remedy.at, ""
        if patch:
            at = patch[-1].path
            why_not = against(bundle, now, finding) if goes_on() else "not yet, for so many at once"
        label = label_at(at, document)
        return TriedRemedy(key=finding.key, patch=patch, against=why_not, at=at, label=label)

    return tuple(tried(finding) for finding in now.findings if finding.accepted_reason is None)


def against(bundle: Bundle, now: Evaluation, finding: Finding) -> str:
    """Why a finding's remedy is not offered; empty where it is."""
    document = bundle.document()
    lost = taken_away(document, finding.remedy.patch)
    if lost:
        return f"it would give up {lost}"
    try:
        after = evaluate(bundle_from(apply_patch(document, finding.remedy.patch)))
    except LarderError as refused:
        return f"the plan cannot be like that: {refused}"
    before = {each.key: SEVERITIES.index(each.severity) for each in now.findings}
    left = {each.key: each for each in after.findings}
    grave = SEVERITIES.index(finding.severity)
    # One that is lived with knowingly stays, and is less grave.
    if finding.key in left and SEVERITIES.index(left[finding.key].severity) <= grave:
        return "it helps and is not enough by itself"
    for each in after.findings:
        own = SEVERITIES.index(each.severity)
        if own < grave and own < before.get(each.key, len(SEVERITIES)):
            return f"then this would stand: {each.title}"
    return ""


def taken_away(document: object, patch: Patch) -> str:
    """What a patch would take out that the plan is about, in words; empty where it takes nothing."""
    for operation in patch:
        was = value_at(document, tuple(operation.path.split("/")))
        if operation.op == "remove" and operation.path.startswith(SUBJECTS):
            return str(was.get("name", operation.path)) if isinstance(was, dict) else operation.path
        is_bays = operation.op == "set" and operation.path.endswith("/bays") and isinstance(was, str)
        if is_bays and len(parse_bays(str(operation.value))) < len(parse_bays(was)):
            return "bays that are filled"
    return ""
