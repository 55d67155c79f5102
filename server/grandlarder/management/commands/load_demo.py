"""Fill an empty database with the demo studio; what is already there stays as it is."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from django.conf import settings
from django.core.management.base import BaseCommand, CommandParser

from accounts.models import Membership, Person, Role, Studio
from accounts.scope import Scope
from larder.readers.plan_file import read_bundle
from plans.actions import create_plan
from plans.standards import make_standard
from stock.actions import import_csv

STUDIO = ("slipway-house", "Slipway House")
PLANS = ("long-shore", "halyard-street", "one-box", "tern-and-tide")


class Command(BaseCommand):
    """``load_demo --password TEXT``: the studio, a person for each role, and the demo plans."""

    help = __doc__ or ""

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("--password", required=True)

    def handle(self, *args: Any, **options: Any) -> None:
        studio, is_new = Studio.objects.get_or_create(slug=STUDIO[0], defaults={"name": STUDIO[1]})
        if not is_new:
            return
        for role in Role:
            person = Person.objects.create_user(username=role.value, password=options["password"])
            Membership.objects.create(person=person, studio=studio, role=role)
        technician = Person.objects.get(username=Role.TECHNICIAN.value)
        scope = Scope(technician, studio, Role.TECHNICIAN)
        for name in PLANS:
            path: Path = settings.ROOT / "demo" / f"{name}.json"
            bundle = read_bundle(path.read_bytes())
            plan = create_plan(scope, bundle)
        # What proved itself in the last of them is what the studio starts new plans from.
        make_standard(scope, plan, bundle, "catalogue", seen=0)
        import_csv(scope, (settings.ROOT / "demo" / "stock.csv").read_bytes())
