"""Read the command line, ask the core, print; bad input is one sentence and exit status 2."""

from __future__ import annotations

import argparse
import io
import json
import os
import sys
from contextlib import suppress
from typing import Any, NoReturn

from larder.base.errors import Refused, RefusedMany, shortened

from .arguments import Answer
from .commands import ANSWERS
from .wording import in_words

EXIT_REFUSED, EXIT_NOT_WRITTEN, EXIT_INTERRUPTED = 2, 1, 130
LONGEST_COMPLAINT = 300


class Parser(argparse.ArgumentParser):
    """argparse, with its complaints as one plain sentence and no usage text."""

    def error(self, message: str) -> NoReturn:
        raise SystemExit(
            _say(
                f"{self.prog}: {shortened(message[:1].lower() + message[1:], LONGEST_COMPLAINT)}.",
                EXIT_REFUSED,
            )
        )


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
    for stream in (sys.stdout, sys.stderr):
        # A terminal that knows few signs gets their names instead of an error.
        if isinstance(stream, io.TextIOWrapper):
            stream.reconfigure(errors="backslashreplace")
    try:
        text = _answer(arguments)
    except (Refused, RefusedMany) as refused:
        return _say(_sentence(refused), EXIT_REFUSED)
    except (ArithmeticError, LookupError, MemoryError, RecursionError, TypeError, ValueError) as error:
        # The guards before this leave nothing known; what is left is still answered in a sentence.
        return _say(
            f"The question cannot be answered: {type(error).__name__} while working it out.", EXIT_REFUSED
        )
    except KeyboardInterrupt:
        return EXIT_INTERRUPTED
    return _print(text)


def _answer(arguments: list[str]) -> str:
    options = parser().parse_args(_spelled(arguments))
    answer: Answer = ANSWERS[options.command]
    result = answer.run(options)
    return json.dumps(result, allow_nan=False) if options.json else _printed(result)


def _spelled(arguments: list[str]) -> list[str]:
    """The words as they are, but for ``--name=--``: the parser would stumble over it."""
    for argument in arguments:
        name, sign, value = argument.partition("=")
        if sign and name.startswith("--") and value == "--":
            raise Refused(name.removeprefix("--"), value, "a value, as --help tells")
    return arguments


def _say(sentence: str, status: int) -> int:
    """A sentence on standard error, on one line."""
    with suppress(OSError, ValueError):
        print(" ".join(sentence.split()), file=sys.stderr)
    return status


def _print(text: str) -> int:
    """The answer on standard output; a reader that has gone away is no fault, a full device is."""
    if sys.stdout is None:
        return _say("The answer cannot be written: standard output is closed.", EXIT_NOT_WRITTEN)
    try:
        print(text)
        sys.stdout.flush()
    except OSError as error:
        # What is still buffered would be tried again at the end, with a traceback.
        sys.stdout = None
        with suppress(OSError):
            os.dup2(os.open(os.devnull, os.O_WRONLY), 1)
        if isinstance(error, BrokenPipeError):
            return 0
        return _say(f"The answer cannot be written: {error.strerror}.", EXIT_NOT_WRITTEN)
    return 0


def _sentence(refused: Refused | RefusedMany) -> str:
    if isinstance(refused, RefusedMany):
        more = len(refused.problems) - 1
        return refused.problems[0].sentence + (f" ({more} more)" if more else "")
    return refused.sentence


def _printed(result: dict[str, Any]) -> str:
    return "\n".join(in_words(result))
