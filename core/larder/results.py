"""The base of everything a stage answers."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Result(BaseModel):
    """Immutable, ready for the API and its types."""

    model_config = ConfigDict(frozen=True)
