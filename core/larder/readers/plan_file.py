"""Read a plan file: bytes or plain JSON in, a validated bundle or the list of its faults out."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from larder.base.errors import Refused, RefusedMany
from larder.base.guard import Wanted, guarded_json
from larder.base.measures import said
from larder.base.problems import is_number, refusals
from larder.plan.bundle import Bundle
from larder.plan.glossary import words_at
from larder.plan.upgrade import Change, upgraded

LARGEST_BUNDLE_BYTES = 5_000_000
_WANTED = Wanted("plan file", "the JSON text of a plan, as it was downloaded", LARGEST_BUNDLE_BYTES)


def bundle_from(document: Any) -> Bundle:
    """Validate a plain JSON ``document``; raises :class:`RefusedMany` naming each field's path."""
    if not isinstance(document, dict):
        raise RefusedMany([Refused("plan file", document, "a JSON object with schema and plan")])
    try:
        document = upgraded(document).document
        return Bundle.model_validate(document)
    except Refused as refused:
        raise RefusedMany([refused]) from None
    except ValidationError as error:
        raise RefusedMany(refusals(error, document, words=lambda path: words_at(path, document))) from None


def read_bundle(raw: bytes) -> Bundle:
    """The bundle in the bytes of a plan file; raises :class:`RefusedMany`."""
    try:
        document = guarded_json(raw, _WANTED)
    except Refused as refused:
        raise RefusedMany([refused]) from None
    return bundle_from(document)


def changes_of(document: Any) -> tuple[str, ...]:
    """What bringing an older ``document`` to today's version changes in it, in sentences; mostly nothing."""
    result = upgraded(document)
    return tuple(_sentence(change, result.document) for change in result.changes)


def _sentence(change: Change, document: Any) -> str:
    if change.said:
        return change.said
    label, unit = words_at(change.path, document)
    field = change.path.rsplit("/", 1)[-1]
    was, now = (said(v, unit, field) if is_number(v) else v for v in (change.was, change.now))
    return f"{label} was {was} and is now {now}, the nearest that is accepted."
