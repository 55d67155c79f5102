"""The HTTP API: one Ninja instance, one error envelope, routers by subject."""

from .root import api

__all__ = ["api"]
