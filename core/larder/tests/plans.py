"""Plans that tests start from, changes to them, and what they raise."""

import unittest
from datetime import date
from pathlib import Path
from typing import Any

from larder.base.patch import Operation, apply_patch
from larder.base.units import TB
from larder.findings.finding import Finding
from larder.judge.evaluation import Evaluation, evaluate
from larder.plan.bundle import Bundle
from larder.plan.catalogue import Catalogue
from larder.readers.generic_lists import missing_patch
from larder.readers.plan_file import bundle_from, read_bundle

from .recorded import finding_lines, hold_recorded

DEMO = Path(__file__).resolve().parents[3] / "demo"
DEMOS = ("one-box", "tern-and-tide", "halyard-street", "long-shore")


def demo(name: str) -> Bundle:
    return read_bundle((DEMO / f"{name}.json").read_bytes())


def changed(bundle: Bundle, **changes: Any) -> Bundle:
    """The bundle with fields set; keys are paths with ``__`` for the slashes."""
    operations = tuple(
        Operation(op="set", path=path.replace("__", "/").replace("PLUG", "plug-colour"), value=value)
        for path, value in changes.items()
    )
    return bundle_from(apply_patch(bundle.document(), operations))


def copied(bundle: Bundle, *copies: dict[str, Any], stores: tuple[dict[str, Any], ...] = ()) -> Bundle:
    """The bundle with these copies and stores in place of its own."""
    document = bundle.document()
    document["plan"]["safekeeping"] |= {"copies": list(copies), "stores": list(stores)}
    return bundle_from(document)


def chained(document: dict[str, Any], hops: list[dict[str, Any]]) -> dict[str, Any]:
    """The plan file with hops in a row, as files of version 3 had them: the step to version 4 wires them."""
    named = [{"name": str(hop["id"]).capitalize(), "serves": "all"} | hop for hop in hops]
    plan = document["plan"] | {"wiring": {"hops": named, "mtu": 1500}}
    return document | {"schema": "grand-larder/bundle/3", "plan": plan}


def stocked(
    pool: dict[str, Any] | None = None, prices: list[dict[str, Any]] | None = None, **plan: Any
) -> Bundle:
    """The one-box demo with the generic classes, a price list, and its pool of a class changed by ``pool``."""
    document = demo("one-box").document()
    document = apply_patch(document, missing_patch(Catalogue()))
    document["catalogue"]["prices"] = prices or []
    document["plan"]["pools"][0] |= {"drive_id": "disk-16-array", "drive_bytes": 16 * TB} | (pool or {})
    document["plan"] |= plan
    return bundle_from(document)


def with_lots(bundle: Bundle, *lots: dict[str, Any], reuse: str = "where it pays") -> Bundle:
    """The plan with such drives on the shelf; each of a kind, an interface, a size in TB and a count."""
    document = bundle.document()
    document["facts"] = {"stock": {"reusable": [_lot(n, lot) for n, lot in enumerate(lots)]}}
    document["plan"]["brief"].setdefault("limits", {})["reuse"] = reuse
    return bundle_from(document)


def _lot(number: int, lot: dict[str, Any]) -> dict[str, Any]:
    usual = {"id": f"lot-{number}", "kind": "hdd", "interface": "sata", "size_bytes": lot["tb"] * TB}
    return usual | {key: value for key, value in lot.items() if key != "tb"}


def price(item_id: str, amount: str, on: date, currency: str = "EUR") -> dict[str, Any]:
    stamp = on.isoformat()
    return {
        "id": f"{item_id}-{stamp}",
        "item_id": item_id,
        "amount": amount,
        "currency": currency,
        "priced_on": stamp,
    }


def ids(evaluation: Evaluation) -> set[str]:
    return {finding.id for finding in evaluation.findings}


def raised(case: unittest.TestCase, bundle: Bundle, finding_id: str, key: str = "") -> Finding:
    """The finding that ``bundle`` has to raise, with evidence and a reason; all others are as recorded."""
    findings = evaluate(bundle).findings
    found = [f for f in findings if f.id == finding_id and key in ("", f.key)]
    case.assertTrue(found, f"{finding_id} {key} is not raised")
    case.assertTrue(found[0].evidence and found[0].why and found[0].remedy.words)
    hold_recorded(case, "findings", finding_lines(findings))
    return found[0]


def mended(case: unittest.TestCase, bundle: Bundle, finding: Finding) -> Evaluation:
    """The plan judged anew with the finding's one-click remedy; there has to be one."""
    case.assertTrue(finding.remedy.patch, finding.remedy.words)
    after = evaluate(bundle_from(apply_patch(bundle.document(), finding.remedy.patch)))
    hold_recorded(case, "findings", finding_lines(after.findings))
    return after


def cleared(case: unittest.TestCase, bundle: Bundle, finding_id: str, key: str = "") -> dict[str, float]:
    """The evidence of a finding that ``bundle`` raises and its own remedy clears."""
    finding = raised(case, bundle, finding_id, key)
    case.assertNotIn(finding.key, {f.key for f in mended(case, bundle, finding).findings})
    return {e.label: e.value for e in finding.evidence}
