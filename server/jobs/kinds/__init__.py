"""The kinds of long work there are, each in a module of its own."""

from __future__ import annotations

from collections.abc import Mapping

from jobs.kind import Kind

from . import advice, days, judging, lifetimes, more, why_not

KINDS: Mapping[str, Kind] = {
    each.KIND.id: each.KIND for each in (days, lifetimes, advice, more, why_not, judging)
}
