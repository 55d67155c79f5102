"""Read a plan file: bytes or plain JSON in, a validated bundle or the list of its faults out."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from .bundle import Bundle
from .errors import Refused, RefusedMany
from .glossary import words_at
from .guard import Wanted, guarded_json
from .problems import refusals
from .upgrade import upgraded

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
