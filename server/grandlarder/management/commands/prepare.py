"""``manage.py prepare``: migrations, demo data where there is none, static files; all in one process."""

from __future__ import annotations

from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand, CommandParser


class Command(BaseCommand):
    """What ./start does to a database before it serves."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--demo-password", default="", help="load the demo, with this password for all")
        parser.add_argument("--static", action="store_true", help="collect the static files anew")

    def handle(self, *args: Any, **options: Any) -> None:
        call_command("migrate", verbosity=0, interactive=False)
        if options["demo_password"]:
            call_command("load_demo", password=options["demo_password"])
        if options["static"]:
            call_command("collectstatic", interactive=False, clear=True, verbosity=0)
