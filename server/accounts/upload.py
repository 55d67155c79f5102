"""A seal that tells, without asking the database, that somebody signed in: large bodies need one.

The server looks at it before it reads a request's body, so that nobody can make it store what it will refuse.
It opens no door: who asks, and what they may do, is asked afterwards as ever.
"""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie

from django.conf import settings
from django.core.signing import BadSignature, TimestampSigner
from django.http import HttpResponse

from .models import Person

SMALL_BODY_BYTES = 65_536
"""Enough for a sign-in; whoever sends more has signed in."""
FORM_BYTES = 100_000
"""Room for a form's own words around a file."""
_signer = TimestampSigner(salt="larder.upload")


def seal(response: HttpResponse, person: Person) -> None:
    """Give the person's browser a seal that lasts as long as a session."""
    response.set_cookie(
        settings.SEAL_COOKIE_NAME,
        _signer.sign(str(person.pk)),
        max_age=settings.SESSION_COOKIE_AGE,
        httponly=True,
        secure=settings.SESSION_COOKIE_SECURE,
        samesite="Lax",
    )


def is_sealed(cookie_header: str) -> bool:
    """Whether a request's cookies hold a seal of ours that has not run out."""
    try:
        found = SimpleCookie(cookie_header).get(settings.SEAL_COOKIE_NAME)
        if found is None:
            return False
        _signer.unsign(found.value, max_age=settings.SESSION_COOKIE_AGE)
    except (BadSignature, CookieError):
        return False
    return True
