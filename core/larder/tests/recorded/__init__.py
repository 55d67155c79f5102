"""What was said once, line by line, of plans that do not change: a line that is new wants to be read.

A rule that is changed on purpose says something else: ``tools/record.py`` writes the lines anew, and their
difference shows in the commit what the change does. It is no proof that a line is right, which the tests by
hand hold; it is that nothing changes unseen.
"""

from __future__ import annotations

import os
import unittest
from collections.abc import Iterable, Iterator
from functools import cache
from hashlib import sha256
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from larder.findings.finding import Finding

FOLDER = Path(__file__).parent
RECORDS = os.environ.get("LARDER_RECORD", "")
"""A folder to which all lines are added, in place of comparing them; set by ``tools/record.py``."""
SHOWN = 60


@cache
def recorded(name: str) -> frozenset[str]:
    """The lines of one kind."""
    return frozenset((FOLDER / f"{name}.txt").read_text().splitlines())


def hold_recorded(case: unittest.TestCase, name: str, lines: Iterable[str]) -> None:
    """Fail with the lines that were never recorded."""
    lines = list(lines)
    if RECORDS:
        with Path(RECORDS, f"{name}.txt").open("a") as file:
            file.writelines(f"{line}\n" for line in lines)
        return
    new = [line for line in lines if line not in recorded(name)]
    case.assertFalse(
        new, f"this is not recorded ({name}): read it, and where it is right run tools/record.py"
    )


def finding_lines(findings: Iterable[Finding]) -> Iterator[str]:
    """A line a finding: what it says, what it stands on, what it offers."""
    for finding in findings:
        evidence = ", ".join(f"{one.label} {one.value:.6g} {one.unit}" for one in finding.evidence)
        patch = " ".join(f"{op.op} {op.path} {_short(op.value)}" for op in finding.remedy.patch)
        words = (
            finding.severity,
            finding.key,
            finding.title,
            evidence,
            finding.why,
            finding.remedy.words,
            finding.remedy.at,
        )
        yield " | ".join((*words, patch)).replace("\n", " ")


def answer_lines(called: str, answer: BaseModel | Iterable[BaseModel]) -> Iterator[str]:
    """A line an answer: the digest of all of it, and how it begins."""
    for one in [answer] if isinstance(answer, BaseModel) else answer:
        said = _plain(one)
        yield f"{called} {sha256(said.encode()).hexdigest()[:10]} {said[:SHOWN]}".replace("\n", " ").rstrip()


def _short(value: Any) -> str:
    said = _plain(value)
    return said if len(said) <= 2 * SHOWN else f"{said[:SHOWN]} {sha256(said.encode()).hexdigest()[:10]}"


def _plain(value: Any) -> str:
    """Figures to five digits: machines differ beyond."""
    if isinstance(value, BaseModel):
        fields = type(value).model_fields
        return "{" + ", ".join(f"{name}: {_plain(getattr(value, name))}" for name in fields) + "}"
    if isinstance(value, dict):
        return "{" + ", ".join(f"{key}: {_plain(one)}" for key, one in value.items()) + "}"
    if isinstance(value, (tuple, list, frozenset, set)):
        return (
            "["
            + ", ".join(map(_plain, sorted(value) if isinstance(value, (set, frozenset)) else value))
            + "]"
        )
    return f"{value:.5g}" if isinstance(value, float) else str(value)
