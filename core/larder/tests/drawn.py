"""How many examples a drawn test tries: few in ``./test``, ten times what it says in ``./bench --laws``.

Few are drawn alike in every run, so that a run that fails is about the change and not about luck; many are drawn
anew each time.
"""

from __future__ import annotations

import os

from hypothesis import HealthCheck, settings

SHARE = float(os.environ.get("LARDER_DRAWN", "0.25"))
"""Of what a test says itself."""
IS_WHOLE = SHARE >= 1
FEWEST = 5


def few(many: int) -> int:
    """So many of ``many`` examples, seeds or cases are tried in this run."""
    return max(min(FEWEST, many), round(many * SHARE))


def drawn(many: int) -> settings:
    """The settings of a property that is worth ``many`` examples."""
    return settings(max_examples=few(many))


# No test asserts a time: a case that takes long on a busy machine is no fault.
settings.register_profile(
    "larder",
    deadline=None,
    max_examples=few(100),
    derandomize=not IS_WHOLE,
    database=None,
    suppress_health_check=[HealthCheck.too_slow],
)
settings.load_profile("larder")
