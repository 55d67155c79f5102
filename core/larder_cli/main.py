"""Read the command line, ask the core, print; bad input is one sentence and exit status 2."""

from __future__ import annotations

import argparse
import json
import sys
from typing import Any, NoReturn

from larder.errors import Refused, RefusedMany

from .answers import ANSWERS, Answer
from .wording import in_words

EXIT_REFUSED = 2


class Parser(argparse.ArgumentParser):
    """argparse, with its complaints as one plain sentence and no usage text."""

    def error(self, message: str) -> NoReturn:
        print(f"{self.prog}: {message[:1].lower()}{message[1:]}.", file=sys.stderr)
        raise SystemExit(EXIT_REFUSED)


def parser() -> Parser:
    """The whole grammar of the command."""
    top = Parser(prog="larder", description="The rules of Grand Larder at the command line.")
    commands = top.add_subparsers(dest="command", required=True, metavar="COMMAND", parser_class=Parser)
    for name, answer in ANSWERS.items():
        sub = commands.add_parser(name, help=answer.help, description=answer.help, allow_abbrev=False)
        sub.add_argument("--json", action="store_true", help="print exactly one JSON object")
        answer.add_arguments(sub)
    return top


def main(arguments: list[str]) -> int:
    """Run one command; returns the exit status."""
    try:
        options = parser().parse_args(arguments)
        answer: Answer = ANSWERS[options.command]
        result = answer.run(options)
    except (Refused, RefusedMany) as refused:
        print(_sentence(refused), file=sys.stderr)
        return EXIT_REFUSED
    except BrokenPipeError:
        return 0
    print(json.dumps(result, allow_nan=False) if options.json else _printed(result))
    return 0


def _sentence(refused: Refused | RefusedMany) -> str:
    if isinstance(refused, RefusedMany):
        more = len(refused.problems) - 1
        return refused.problems[0].sentence + (f" ({more} more)" if more else "")
    return refused.sentence


def _printed(result: dict[str, Any]) -> str:
    return "\n".join(in_words(result))
