"""All findings on a plan: every rule that a module of this room registers, the gravest finding first."""

from __future__ import annotations

from importlib import import_module
from pathlib import Path
from pkgutil import iter_modules

from .finding import RULES, SEVERITIES, Figures, Finding

for _module in iter_modules([str(Path(__file__).parent)]):
    if not _module.ispkg:
        import_module(f"{__package__}.{_module.name}")


def findings_of(figures: Figures) -> tuple[Finding, ...]:
    """Every finding on a plan, the gravest first, then in the order of the work; accepted ones say why."""
    accepted = {a.id: a for a in figures.bundle.plan.acceptances}
    rules = sorted(RULES, key=lambda rule: rule.stage.number)
    found = [
        finding.model_copy(
            update={"accepted_reason": a.reason, "accepted_by": a.by}
            if (a := accepted.get(finding.key))
            else {}
        )
        for rule in rules
        for finding in rule.findings(figures)
    ]
    return tuple(sorted(found, key=lambda each: SEVERITIES.index(each.severity)))
