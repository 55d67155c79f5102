"""A brief as people say it, in one line: what is understood of it, what is assumed, and what is not known."""

from __future__ import annotations

from .line import footage_of, understand
from .said import Assumed, BriefFile, BriefLine, Understood, Unknown, brief_of, brief_schema

__all__ = [
    "Assumed",
    "BriefFile",
    "BriefLine",
    "Understood",
    "Unknown",
    "brief_of",
    "brief_schema",
    "footage_of",
    "understand",
]
