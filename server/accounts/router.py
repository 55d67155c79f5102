"""Sign in, sign out, and who is here."""

from __future__ import annotations

from typing import Annotated

from django.contrib.auth import login, logout
from django.http import HttpRequest, HttpResponse
from django.middleware.csrf import get_token
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf
from pydantic import BaseModel, StringConstraints

from api.envelope import ALWAYS, STALE_TOKEN, ErrorOut

from .models import Membership, Person, Role
from .throttle import checked_person
from .upload import seal

router = Router(tags=["session"])

_Text = Annotated[str, StringConstraints(min_length=1, max_length=150, pattern=r"^[^\x00-\x1f\x7f]*$")]


class Credentials(BaseModel):
    """What a person signs in with."""

    username: _Text
    password: _Text


class StudioOut(BaseModel):
    """A studio the person belongs to."""

    slug: str
    name: str
    role: Role


class SessionOut(BaseModel):
    """Who is signed in; ``person`` is null for nobody. ``token`` goes into the header of every change."""

    person: str | None
    studios: list[StudioOut]
    token: str


def _session(request: HttpRequest) -> SessionOut:
    token = get_token(request)  # which also sends the cookie that it belongs to
    if not isinstance(request.user, Person):
        return SessionOut(person=None, studios=[], token=token)
    memberships = Membership.objects.select_related("studio").filter(person=request.user)
    return SessionOut(
        person=request.user.username,
        studios=[
            StudioOut(slug=m.studio.slug, name=m.studio.name, role=Role(m.role))
            for m in memberships.order_by("studio__name")
        ],
        token=token,
    )


@router.get("/session", auth=None, response={200: SessionOut, **ALWAYS}, operation_id="get_session")
def get_session(request: HttpRequest) -> SessionOut:
    """Who is signed in, and the studios they belong to."""
    return _session(request)


@router.post(
    "/session",
    auth=None,
    response={200: SessionOut, **ALWAYS, 401: ErrorOut, 403: ErrorOut, 422: ErrorOut, 429: ErrorOut},
    operation_id="sign_in",
)
def sign_in(request: HttpRequest, response: HttpResponse, body: Credentials) -> SessionOut:
    """Sign in; the answer to a wrong name is the same as to a wrong password."""
    _refuse_forgery(request)
    person = checked_person(request, body.username, body.password)
    if person is None:
        raise HttpError(401, "Name and password do not belong together")
    login(request, person)
    seal(response, person)
    return _session(request)


@router.delete(
    "/session",
    auth=None,
    response={200: SessionOut, **ALWAYS, 403: ErrorOut},
    operation_id="sign_out",
)
def sign_out(request: HttpRequest) -> SessionOut:
    """Sign out; harmless where nobody is signed in."""
    _refuse_forgery(request)
    logout(request)
    return _session(request)


def _refuse_forgery(request: HttpRequest) -> None:
    if check_csrf(request) is not None:
        raise HttpError(403, STALE_TOKEN)
