"""The base of everything a stage answers."""

from __future__ import annotations

from pydantic import BaseModel, ConfigDict


class Result(BaseModel):
    """Immutable, ready for the API and its types; every figure is finite, since JSON knows no other."""

    model_config = ConfigDict(frozen=True, allow_inf_nan=False)
