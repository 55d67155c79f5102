"""``larder brief``: a brief as people say it, in one line."""

from __future__ import annotations

from argparse import ArgumentParser, Namespace

from larder.base.errors import Refused
from larder.readers.brief_line import brief_of, understand
from larder_cli.arguments import Answer, JsonObject, day_or_today


def add_arguments(sub: ArgumentParser) -> None:
    """The words of the command."""
    sub.add_argument(
        "line", metavar='"ONE LINE"', help="such as: 4 edit seats play 2 streams 220 Mb/s, 3 years"
    )
    sub.add_argument("--on", default="", help="the day it is said on, such as 2026-11-26; else today")


def run(options: Namespace) -> JsonObject:
    """The brief, and what each part of the line was taken as."""
    line = understand(options.line, day_or_today(options.on))
    if not line.understood or not options.line.strip():
        raise Refused(
            "brief", options.line, "a line about people, footage, hours, what is kept, money or the room"
        )
    brief = brief_of(line)
    parts = [
        {"words": part.words, "meaning": part.meaning, "assumed": [each.said for each in part.assumed]}
        for part in line.understood
    ]
    return {"brief": brief.model_dump(mode="json"), "understood": parts}


ANSWER = Answer("A brief as people say it, in one line.", add_arguments, run)
