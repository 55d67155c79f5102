"""The one gate to a studio's things: who asks, in which studio, with which role."""

from __future__ import annotations

from dataclasses import dataclass

from django.http import HttpRequest

from api.envelope import Answered

from .models import Membership, Person, Role, Studio


class NotHere(Answered):
    """What was asked for does not exist for this person; foreign studios look the same."""

    status, code = 404, "not-here"
    sentence = "There is no such thing in this studio."


class NotAllowed(Answered):
    """The person's role in the studio does not include this."""

    status, code = 403, "not-allowed"

    def __init__(self, role: Role, needed: Role) -> None:
        self.sentence = f"Your role in this studio is {role.value}; this needs {needed.value}."
        super().__init__(self.sentence)


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
