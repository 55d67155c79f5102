"""The stages of the work: what is judged in which order, and what navigation and findings call them.

A new stage has its entry here and a field in :class:`larder.judge.evaluation.Evaluation`; see
``docs/how-to/add-a-stage.md``.
"""

from __future__ import annotations

from typing import Any

from .bay_fronts import BAYS
from .brief import BRIEF
from .calendar import CALENDAR
from .cards import CARDS
from .copied import COPIED
from .copies import COPIES
from .costs import COSTS
from .courses import COURSES
from .growth import BANDS, GROWTH
from .hit_curves import HIT_CURVES
from .ingest import INGEST
from .keeping import KEEPING
from .load_bars import BARS
from .loads import LOADS, SEATS_INSIDE, STREAMS
from .materials import MATERIALS
from .money import MONEY
from .need import NEED
from .odds import ODDS
from .own_figures import OWN_FIGURES
from .plugs import PLUGS
from .pool_setting import SETTINGS
from .power import POWER
from .prices import PRICES
from .rates import RATES
from .situation import SITUATION, WORK
from .small_files import SMALL_FILES
from .snapshots import SNAPSHOTS
from .stage import Part, Stage
from .taken_stock import STOCK
from .tiers import POOLS_ALONE, TIERS
from .upkeep import UPKEEP
from .ways import NETWORK
from .wiring import WIRING

STOCK_STAGE = Stage("stock", 1, "Stock", (STOCK,), is_of_studio=True)
BRIEF_STAGE = Stage(
    "brief",
    2,
    "Brief",
    (RATES, LOADS, SEATS_INSIDE, STREAMS, BARS, NEED, INGEST, MATERIALS, COPIED, BRIEF, CALENDAR),
)
SCHOOL_STAGE = Stage("school", 3, "School", ())
"""What the advisor designs is asked for when it is looked at."""
TIERS_STAGE = Stage(
    "tiers", 4, "Tiers", (PRICES, SETTINGS, POOLS_ALONE, TIERS, HIT_CURVES, BAYS, OWN_FIGURES)
)
WIRING_STAGE = Stage("wiring", 5, "Wiring", (NETWORK, WORK, SITUATION, WIRING, SMALL_FILES, CARDS, PLUGS))
REHEARSAL_STAGE = Stage("rehearsal", 6, "Rehearsal", ())
"""Its days are rehearsed when they are looked at, not with every verdict."""
SAFEGUARD_STAGE = Stage("safeguard", 7, "Safeguard", (ODDS, KEEPING, COPIES))
GROWTH_STAGE = Stage("growth", 8, "Growth", (MONEY, COURSES, GROWTH, BANDS, SNAPSHOTS, POWER, UPKEEP, COSTS))
COMPARE_STAGE = Stage("compare", 9, "Compare", ())
STAGES: tuple[Stage, ...] = (
    STOCK_STAGE,
    BRIEF_STAGE,
    SCHOOL_STAGE,
    TIERS_STAGE,
    WIRING_STAGE,
    REHEARSAL_STAGE,
    SAFEGUARD_STAGE,
    GROWTH_STAGE,
    COMPARE_STAGE,
)
PARTS: tuple[Part[Any], ...] = tuple(part for stage in STAGES for part in stage.parts)
