"""A password given at the command line: asked for twice at a terminal, or one line of standard input."""

from __future__ import annotations

import getpass
import sys

from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.core.management.base import CommandError
from django.db.models import Model

from .models import Person


def given_password(person: Person) -> str:
    """A password that the validators accept for ``person``; raises CommandError with what they say."""
    if sys.stdin.isatty():
        password = getpass.getpass("Password: ")
        if getpass.getpass("Once more: ") != password:
            raise CommandError("The two passwords differ; nothing was changed.")
    else:
        password = sys.stdin.readline(1_000).rstrip("\r\n")
    try:
        validate_password(password, person)
    except ValidationError as refused:
        raise CommandError(" ".join(refused.messages)) from None
    return password


def check_fields(thing: Model) -> None:
    """Raise CommandError naming field, value and reason where a field of ``thing`` does not fit."""
    try:
        thing.full_clean(exclude=["password"])
    except ValidationError as refused:
        said = [
            f"{field} cannot be {getattr(thing, field, '')!r}: {' '.join(messages)}"
            for field, messages in refused.message_dict.items()
        ]
        raise CommandError(" ".join(said)) from None
