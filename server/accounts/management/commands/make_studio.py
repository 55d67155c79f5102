"""Make a studio: ``make_studio SLUG "Its name"``."""

from __future__ import annotations

from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from accounts.models import Studio
from accounts.passwords import check_fields


class Command(BaseCommand):
    """A house whose storage is planned; people are added with make_person."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("slug", help="its part of the address: small letters, digits, hyphens")
        parser.add_argument("name", help="as people say it")

    def handle(self, *args: Any, **options: Any) -> None:
        studio = Studio(slug=options["slug"], name=options["name"])
        check_fields(studio)
        studio.save()
        self.stdout.write(f"{studio.name} is there, at /s/{studio.slug}/plans.")
