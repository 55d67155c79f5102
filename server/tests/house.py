"""What the server's tests share: studios, people with each role, a client that speaks JSON."""

from __future__ import annotations

import json
from typing import Any

from django.conf import settings
from django.http import HttpResponse
from django.test import Client

from accounts.models import Membership, Person, Role, Studio
from accounts.scope import Scope
from larder.readers.plan_file import read_bundle
from plans.actions import create_plan
from plans.models import Plan

PASSWORD = "sea-campion-42"


def person(name: str, studio: Studio, role: Role) -> Person:
    somebody = Person.objects.create_user(username=name, password=PASSWORD)
    Membership.objects.create(person=somebody, studio=studio, role=role)
    return somebody


class House:
    """A studio with a person for each role and the two demo plans."""

    def __init__(self, slug: str = "slipway-house") -> None:
        self.studio = Studio.objects.create(slug=slug, name=slug.replace("-", " ").title())
        prefix = "" if slug == "slipway-house" else f"{slug}-"
        self.people = {role: person(f"{prefix}{role.value}", self.studio, role) for role in Role}
        self.tern = self.plan("one-box")
        self.halyard = self.plan("halyard-street")

    def plan(self, name: str) -> Plan:
        bundle = read_bundle((settings.ROOT / "demo" / f"{name}.json").read_bytes())
        return create_plan(self.scope(Role.TECHNICIAN), bundle)

    def scope(self, role: Role) -> Scope:
        return Scope(self.people[role], self.studio, role)

    def client(self, role: Role | None) -> JsonClient:
        client = JsonClient(self)
        if role:
            client.browser.force_login(self.people[role])
        return client


class JsonClient:
    """Somebody's browser, as far as the API can tell."""

    def __init__(self, house: House) -> None:
        self.browser = Client()
        self.root = f"/api/studios/{house.studio.slug}"
        self.tern = f"/plans/{house.tern.pk}"
        self.halyard = f"/plans/{house.halyard.pk}"

    def get(self, path: str) -> HttpResponse:
        return self.browser.get(self.root + path)

    def post(self, path: str, body: Any = None) -> HttpResponse:
        return self.browser.post(self.root + path, json.dumps(body), content_type="application/json")

    def delete(self, path: str) -> HttpResponse:
        return self.browser.delete(self.root + path)

    def save(self, base: int, path: str, value: Any, plan: str = "") -> HttpResponse:
        patch = [{"op": "set", "path": path, "value": value}]
        return self.post(f"{plan or self.tern}/revisions", {"base": base, "patch": patch})
