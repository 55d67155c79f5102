"""What a figure is made of: a tree of terms, in which every value follows from those under it.

A working is drawn from such a tree and its formula is written from it, so what is shown is what was reckoned.
:func:`recombined` goes the way again from the leaves alone.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from typing import Literal

from .measures import Unit
from .results import Result

How = Literal[
    "given", "sum", "difference", "product", "quotient", "power", "rest", "least", "most",
    "rounded up", "at least once", "law",
]  # fmt: skip


class Term(Result):
    """A named value; ``how`` it follows from ``of``. A law's ``formula`` is its own, in words.

    ``rest`` is what a share leaves of one; ``rounded up`` is to a multiple of the second; ``at least once``
    is the chance of the first in as many tries as the second.
    """

    label: str
    value: float
    unit: Unit
    how: How = "given"
    of: tuple[Term, ...] = ()
    formula: str = ""


def given(label: str, value: float, unit: Unit) -> Term:
    """A value that is entered, assumed or reckoned elsewhere."""
    return Term(label=label, value=float(value), unit=unit)


def made(label: str, unit: Unit, how: How, *of: Term) -> Term:
    """A value that follows from other terms."""
    value = _REDUCE[how](*(term.value for term in of))
    return Term(label=label, value=value, unit=unit, how=how, of=of, formula=_WRITE[how](of))


def by_law(label: str, unit: Unit, formula: str, law: Callable[..., float], *of: Term) -> Term:
    """A value that ``law`` makes of the terms' values, with ``formula`` saying how in words."""
    value = float(law(*(term.value for term in of)))
    return Term(label=label, value=value, unit=unit, how="law", of=of, formula=formula)


def recombined(term: Term) -> float:
    """The value made anew from the leaves, in the term's own unit; what a law made stands as it is."""
    if term.how in ("given", "law"):
        return term.value
    return _REDUCE[term.how](*(recombined(each) for each in term.of))


_REDUCE: dict[How, Callable[..., float]] = {
    "sum": lambda *values: math.fsum(values),
    "difference": lambda first, *others: first - math.fsum(others),
    "product": lambda *values: math.prod(values),
    "quotient": lambda first, *others: first / math.prod(others),
    "power": lambda base, exponent: base**exponent,
    "rest": lambda share: 1 - share,
    "least": lambda *values: min(values),
    "most": lambda *values: max(values),
    "rounded up": lambda value, step: math.ceil(value / step) * step,
    "at least once": lambda odds, tries: 1.0 if odds >= 1 else -math.expm1(tries * math.log1p(-odds)),
}


FORMULA_PARTS = 6
"""A formula of more parts says how many there are; they are listed under it in any case."""


def _said(term: Term) -> str:
    """A label within a sentence; one that begins with somebody's name for a thing ("Dune: reads") stays."""
    return term.label if ":" in term.label else term.label[:1].lower() + term.label[1:]


def _joined(sign: str) -> Callable[[tuple[Term, ...]], str]:
    return lambda of: f" {sign} ".join(_said(term) for term in of)


def _many(words: str, apart: Callable[[tuple[Term, ...]], str]) -> Callable[[tuple[Term, ...]], str]:
    return lambda of: apart(of) if len(of) <= FORMULA_PARTS else f"the {words} of these {len(of)}"


def _called(words: str) -> Callable[[tuple[Term, ...]], str]:
    return _many(words, lambda of: f"the {words} of: " + "; ".join(_said(term) for term in of))


_WRITE: dict[How, Callable[[tuple[Term, ...]], str]] = {
    "sum": _many("sum", _joined("+")),
    "difference": _joined("−"),
    "product": _joined("×"),
    "quotient": _joined("÷"),
    "power": lambda of: f"{_said(of[0])} to the power of {_said(of[1])}",
    "rest": lambda of: f"1 − {_said(of[0])}",
    "least": _called("smallest"),
    "most": _called("largest"),
    "rounded up": lambda of: f"{_said(of[0])}, rounded up to whole steps of {_said(of[1])}",
    "at least once": lambda of: f"1 − (1 − {_said(of[0])}) to the power of {_said(of[1])}",
}
