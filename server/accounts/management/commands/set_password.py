"""Give a person a new password: ``set_password NAME``; it is asked for, or read from standard input."""

from __future__ import annotations

from typing import Any

from axes.utils import reset
from django.core.management.base import BaseCommand, CommandError, CommandParser

from accounts.models import Person
from accounts.passwords import given_password


class Command(BaseCommand):
    """A new password ends the person's sessions and any lock after wrong ones."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="whose password")

    def handle(self, *args: Any, **options: Any) -> None:
        person = Person.objects.filter(username=options["name"]).first()
        if person is None:
            raise CommandError(f"name cannot be {options['name']!r}: there is nobody of this name.")
        person.set_password(given_password(person))
        person.save(update_fields=["password"])
        reset(username=person.username)
        self.stdout.write(f"{person.username} has a new password.")
