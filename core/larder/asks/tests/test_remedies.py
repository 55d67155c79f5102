"""No remedy is offered that does not clear its finding, raises a graver one, or takes the subject away."""

import unittest

from larder.asks.remedies import tried_remedies
from larder.base.errors import LarderError
from larder.base.patch import apply_patch, value_at
from larder.findings.finding import SEVERITIES, Finding
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.tests.drawn import few
from larder.tests.plans import changed, demo
from larder.tests.random_plans import random_plan

PLANS = few(60)


def faults_of(seed: int) -> tuple[int, list[str]]:
    """(remedies offered, what is wrong with any of them) for one random plan; judged here anew."""
    bundle = random_plan(seed)
    now = {finding.key: finding for finding in evaluate(bundle).findings}
    plan = bundle.plan
    counted = (plan.pools, plan.boxes, plan.caches, plan.volumes, plan.brief.seats, plan.wiring.switches)
    offered = [remedy for remedy in tried_remedies(bundle) if remedy.patch and not remedy.against]
    faults = [fault for finding in now.values() if (fault := _leads_nowhere(bundle, finding))]
    for each in offered:
        after_bundle = bundle_from(apply_patch(bundle.document(), each.patch))
        after = {finding.key: finding for finding in evaluate(after_bundle).findings}
        rank = SEVERITIES.index(now[each.key].severity)
        if each.key in after and SEVERITIES.index(after[each.key].severity) <= rank:
            faults.append(f"{seed}: {each.key} is not cleared")
        new = [f for key, f in after.items() if key not in now and SEVERITIES.index(f.severity) < rank]
        faults += [f"{seed}: {each.key} raises {finding.key}" for finding in new]
        then = after_bundle.plan
        left = (then.pools, then.boxes, then.caches, then.volumes, then.brief.seats, then.wiring.switches)
        if any(len(fewer) < len(were) for fewer, were in zip(left, counted, strict=True)):
            faults.append(f"{seed}: {each.key} takes something away")
    return len(offered), faults


def _leads_nowhere(bundle: Bundle, finding: Finding) -> str:
    """A remedy by hand says where one begins, and that is a place of the plan."""
    if finding.remedy.patch:
        return ""
    try:
        value_at(bundle.document(), tuple(finding.remedy.at.split("/")))
    except LarderError:
        return f"{finding.key} leads to {finding.remedy.at!r}"
    return ""


class Remedies(unittest.TestCase):
    def test_on_random_plans_what_is_offered_does_it(self) -> None:
        answer = [faults_of(seed) for seed in range(PLANS)]
        self.assertEqual([fault for _, faults in answer for fault in faults], [])
        self.assertGreater(sum(count for count, _ in answer), 2 * PLANS)

    def test_what_would_raise_something_as_grave_is_not_offered_and_says_why(self) -> None:
        (lanes,) = (r for r in tried_remedies(demo("tern-and-tide")) if r.key.startswith("lanes-short"))
        self.assertIn("has fewer lanes than it is wired for", lanes.against)

    def test_what_is_accepted_is_not_tried_and_work_can_be_cut_short(self) -> None:
        accepted = {"id": "no-snapshots-scratch", "reason": "Scratch."}
        document = demo("tern-and-tide").document()
        document["plan"]["acceptances"] = [accepted]
        keys = {remedy.key for remedy in tried_remedies(bundle_from(document))}
        self.assertNotIn("no-snapshots-scratch", keys)
        cut = tried_remedies(demo("tern-and-tide"), lambda: False)
        self.assertTrue(cut)
        self.assertTrue(all(each.against for each in cut if each.patch))

    def test_a_remedy_that_empties_bays_is_not_offered(self) -> None:
        bundle = changed(demo("one-box"), plan__pools__main__drive_count=6)
        self.assertTrue(tried_remedies(bundle))
