"""The one gate to a studio's things: who asks, in which studio, with which role."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpRequest

from .models import Membership, Person, Role, Studio


class NotHere(Exception):
    """What was asked for does not exist for this person; foreign studios look the same."""


class NotAllowed(Exception):
    """The person's role in the studio does not include this."""

    def __init__(self, role: Role, needed: Role) -> None:
        self.role, self.needed = role, needed
        super().__init__(f"a {role.value} cannot do this; it needs the role {needed.value}")


@dataclass(frozen=True)
class Scope:
    """A person at work in a studio. Queries for a studio's rows start from one of these."""

    person: Person
    studio: Studio
    role: Role


def scope_of(request: HttpRequest, slug: str) -> Scope:
    """The scope of ``request`` in studio ``slug``; raises :class:`NotHere`.

    Reading asks for no more than membership; an action states the role it needs itself.
    """
    person = request.user
    membership = (
        Membership.objects.select_related("studio").filter(person=person.pk, studio__slug=slug).first()
    )
    if membership is None or not isinstance(person, Person):
        raise NotHere
    return Scope(person, membership.studio, Role(membership.role))
