"""``larder advise``: the best design of each school for a brief, from a line, a brief or a plan file."""

from __future__ import annotations

import json
from argparse import ArgumentParser, Namespace
from pathlib import Path
from typing import Any

from pydantic import ValidationError

from larder.asks.advisor.advise import MOST_DESIGNS, Advised, advise
from larder.asks.advisor.answers import JudgedDesign, SchoolAnswer
from larder.asks.begin import begun, priced
from larder.asks.standards import Standards
from larder.base.errors import Refused, RefusedMany
from larder.base.problems import refusals
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.readers.brief_line import BriefFile, brief_of, understand
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES, read_bundle
from larder_cli.arguments import Answer, JsonObject, day_or_today, opened, whole

ACCEPTED = "a brief in one line, or the path of a brief or a plan file"


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument(
        "brief", metavar='BRIEF.json|"ONE LINE"', help="a brief, a plan file, or a line of words"
    )
    sub.add_argument("--max", default=str(MOST_DESIGNS), help=f"designs at most (default {MOST_DESIGNS})")
    sub.add_argument("--on", default="", help="the day it is asked on, such as 2026-11-26; else today")


def run(options: Namespace) -> JsonObject:
    """Designs by what they cost over five years, and why other schools do not serve.

    A brief or a line is designed for from the generic classes at the usual prices; a plan file from its own.
    """
    most = whole(options.max, "max", 1, MOST_DESIGNS)
    advised = advise(_bundle(options))
    advice = advised.advice
    serving = ("serves", "just")
    rejected = [school for school in advice.schools if school.verdict not in serving]
    result: JsonObject = {
        "looked_at": advice.looked_at,
        "worth": advice.worth,
        "target": advice.target,
        "conflict": advice.conflict,
        "smallest": advice.smallest,
        "left_out": list(advice.left_out),
    }
    tell, reject = (_design, _rejected) if options.json else (_design_in_words, _rejected_in_words)
    result["designs"] = [tell(advised, design) for design in advice.designs[:most]]
    result["rejected"] = [reject(school) for school in rejected]
    return result


def _bundle(options: Namespace) -> Bundle:
    text, day = options.brief, day_or_today(options.on)
    if not text.strip():
        raise Refused("brief", text, ACCEPTED)
    if not text.endswith(".json"):
        return priced(begun("Advised", brief_of(understand(text, day)), day, Standards.model_validate({})))
    with opened(text, "brief", ACCEPTED, LARGEST_BUNDLE_BYTES) as stream:
        raw = stream.read()
    document = _object(raw, text)
    if "schema" in document:
        return read_bundle(raw)
    try:
        brief = BriefFile.model_validate(document)
    except ValidationError as error:
        raise RefusedMany(refusals(error, document)) from None
    return priced(begun(Path(text).stem[:80], brief, day, Standards.model_validate({})))


def _object(raw: bytes, path: str) -> dict[str, Any]:
    try:
        document = json.loads(raw)
    except (ValueError, RecursionError):
        raise Refused("brief", f"{path} (no JSON)", ACCEPTED) from None
    if not isinstance(document, dict):
        raise Refused("brief", f"{path} (no JSON object)", ACCEPTED)
    return document


def _design(advised: Advised, design: JudgedDesign) -> JsonObject:
    bundle = advised.bundle(design.key, f"Design {design.letter}")
    return {
        "key": design.key,
        "letter": design.letter,
        "school": design.school_id,
        "why": [*design.why, *([design.gap] if design.gap else [])],
        "bundle": bundle.document(),
        "evaluation": evaluate(bundle).model_dump(mode="json"),
    }


def _rejected(school: SchoolAnswer) -> JsonObject:
    nearest = school.design
    return {
        "school": school.id,
        "reason": school.sentence,
        "nearest": nearest.model_dump(mode="json") if nearest else None,
    }


def _design_in_words(_: Advised, design: JudgedDesign) -> JsonObject:
    measured = design.measured
    return {
        "": design.letter,
        "school": design.school_id,
        "five_years": str(measured.five_years),
        "now": str(measured.capex),
        "plannable_bytes": measured.plannable_bytes,
        "speed": f"×{measured.speed_ratio:.2f}" if measured.speed_ratio is not None else "nothing asked",
        "lost": measured.chance,
        "is": design.title,
    }


def _rejected_in_words(school: SchoolAnswer) -> str:
    return f"{school.name}: {school.sentence}"


ANSWER = Answer("The best design of each school for a brief, and why the others lose.", add_arguments, run)
