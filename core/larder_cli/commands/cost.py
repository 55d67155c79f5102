"""``larder cost``: what a plan costs at first, over five years, per TB, and when it pays."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder import evaluate, read_bundle
from larder.readers.plan_file import LARGEST_BUNDLE_BYTES
from larder_cli.arguments import Answer, JsonObject, opened


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument("file", metavar="BUNDLE.json")


def run(options: Namespace) -> JsonObject:
    """The ledger's sums; money is a decimal string beside its currency."""
    with opened(options.file, "plan file", "the path of a plan file", LARGEST_BUNDLE_BYTES) as stream:
        evaluation = evaluate(read_bundle(stream.read()))
    costs, money = evaluation.costs, evaluation.money
    per_tb = ("per_raw_tb", "per_usable_tb", "per_protected_tb", "per_plannable_tb")
    even = costs.break_even
    return {
        "currency": costs.currency,
        "capex": str(costs.capex),
        "five_years": str(costs.five_years),
        **{name: None if getattr(money, name) is None else str(getattr(money, name)) for name in per_tb},
        "unpriced": money.unpriced,
        "lines": [{"name": line.name, "amount": str(line.amount)} for line in costs.lines],
        "portable_five_years": str(costs.portable_five_years),
        "service_five_years": str(costs.service_five_years),
        "break_even": {
            "portable": None if even.portable is None else even.portable.isoformat(),
            "service": None if even.service is None else even.service.isoformat(),
            "either": None if even.either is None else even.either.isoformat(),
        },
        "because": costs.sentence,
    }


ANSWER = Answer("What a plan costs, now and over five years.", add_arguments, run)
