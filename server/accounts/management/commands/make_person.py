"""Make a person, or give one a role in a studio: ``make_person NAME --studio SLUG --role ROLE``.

The password is asked for, or read as one line of standard input; somebody who is there already keeps theirs.
"""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandError, CommandParser
from django.db import transaction

from accounts.models import Membership, Person, Role, Studio
from accounts.passwords import check_fields, given_password


class Command(BaseCommand):
    """Somebody who signs in, with one role in a studio."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", help="what they sign in with")
        parser.add_argument("--studio", required=True, help="its slug")
        parser.add_argument("--role", required=True, choices=[role.value for role in Role])

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        studio = Studio.objects.filter(slug=options["studio"]).first()
        if studio is None:
            known = ", ".join(Studio.objects.values_list("slug", flat=True)[:8]) or "none yet: make_studio"
            raise CommandError(f"studio cannot be {options['studio']!r}: accepted is one of {known}.")
        person = Person.objects.filter(username=options["name"]).first()
        if person is None:
            person = Person(username=options["name"])
            check_fields(person)
            person.set_password(given_password(person))
            person.save()
        Membership.objects.update_or_create(person=person, studio=studio, defaults={"role": options["role"]})
        self.stdout.write(f"{person.username} is {options['role']} of {studio.name}.")
