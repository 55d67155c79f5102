"""The few operations that plain numbers and arrays spell differently, so that each law is written once.

A law takes plain numbers for one case, or NumPy arrays with an entry a case for many; integers stay exact in
both. Arrays of whole numbers are int64.
"""

from __future__ import annotations

from typing import Any, TypeAlias

import numpy as np

from larder.base.errors import Refused

Whole: TypeAlias = Any
"""An int, or an int64 array with an entry a case."""
Real: TypeAlias = Any
"""A float, or a float64 array with an entry a case."""
Flag: TypeAlias = Any
"""A bool, or an array of bools with an entry a case."""
LARGEST_FACTOR = 2**31
"""Numerators and denominators of :func:`scaled` over arrays: products must stay within 63 bits."""


def is_many(*values: Any) -> bool:
    """Whether any of these is an array."""
    return any(isinstance(value, np.ndarray) for value in values)


def least(a: Any, b: Any) -> Any:
    """The smaller of two, entry by entry."""
    return np.minimum(a, b) if is_many(a, b) else min(a, b)


def most(a: Any, b: Any) -> Any:
    """The larger of two, entry by entry."""
    return np.maximum(a, b) if is_many(a, b) else max(a, b)


def pick(condition: Any, yes: Any, no: Any) -> Any:
    """``yes`` where ``condition`` holds, else ``no``."""
    if is_many(condition, yes, no):
        return np.where(condition, yes, no)
    return yes if condition else no


def scaled(amount: Whole, numerator: Any, denominator: Any) -> Whole:
    """floor(amount × numerator ÷ denominator), exactly, for amounts of 0 and more.

    With whole and rest of amount ÷ denominator apart, so that no product leaves 63 bits. Raises
    :class:`Refused` for arrays under a fraction too fine for that.
    """
    if is_many(amount) and not is_many(denominator) and denominator >= LARGEST_FACTOR:
        raise Refused("fraction", f"{numerator}/{denominator}", "a percentage of at most 7 decimals")
    whole, rest = amount // denominator, amount % denominator
    return whole * numerator + rest * numerator // denominator
