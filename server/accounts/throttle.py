"""Sign-in at a pace that guesses nothing: locked after some wrong passwords, and never dear for the others.

Whoever is locked out is told for how long; the lock ends by itself and the log tells of it. A name is locked
only for the address that guessed, so that nobody can shut another person out from elsewhere.
"""

from __future__ import annotations

import logging
from threading import BoundedSemaphore, Lock

from axes.handlers.proxy import AxesProxyHandler
from axes.models import AccessAttempt
from django.conf import settings
from django.contrib.auth import authenticate
from django.db.models import Sum
from django.http import HttpRequest
from django.utils import timezone
from ninja.errors import HttpError

from .models import Person

WRONG_FOR_A_NAME = 5
WRONG_FROM_AN_ADDRESS = 30
log = logging.getLogger("larder")

# A password takes a third of a second of a processor on purpose. One at a time, and one waiting, leaves the
# rest of the process to the others.
_one_at_a_time, _at_the_door = Lock(), BoundedSemaphore(2)


def failure_limit(_request: HttpRequest, _credentials: object) -> int:
    """Wrong passwords for one name from one address before it is locked."""
    return WRONG_FOR_A_NAME


def client_address(request: HttpRequest) -> str:
    """The client's address; a proxy's word for it counts only where the middleware has believed it."""
    return str(request.META.get("REMOTE_ADDR", ""))


def checked_person(request: HttpRequest, name: str, password: str) -> Person | None:
    """The person whose name and password these are, or None; raises a 429 where that door is locked."""
    credentials = {"username": name}
    minutes = max(1, round(settings.AXES_COOLOFF_TIME.total_seconds() / 60))
    locked = HttpError(429, f"Too many wrong passwords: sign in again after {minutes} minutes")
    address = client_address(request)
    if not AxesProxyHandler.is_allowed(request, credentials) or _wrong_from(address) >= WRONG_FROM_AN_ADDRESS:
        raise locked
    if not _at_the_door.acquire(blocking=False):
        raise HttpError(429, "Many people are signing in at this moment: try again in a few seconds")
    try:
        with _one_at_a_time:
            person = authenticate(request, username=name, password=password)
    finally:
        _at_the_door.release()
    if isinstance(person, Person):
        return person
    if _wrong_from(address) == WRONG_FROM_AN_ADDRESS:
        log.warning("sign-in locked for %s minutes: everyone from %s", minutes, address)
    if not AxesProxyHandler.is_allowed(request, credentials):
        log.warning("sign-in locked for %s minutes: %r from %s", minutes, name[:80], address)
    return None


def _wrong_from(address: str) -> int:
    """Wrong passwords from the address, for whatever names, since a lock would have ended."""
    since = timezone.now() - settings.AXES_COOLOFF_TIME
    recent = AccessAttempt.objects.filter(ip_address=address, attempt_time__gte=since)
    return int(recent.aggregate(wrong=Sum("failures_since_start"))["wrong"] or 0)
