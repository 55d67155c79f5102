"""Every threshold that a verdict or finding may use: one named value, with its reason.

``docs/house-rules.md`` lists the same values; a test holds the two together. A studio overrides a
threshold in its bundle; a constant of nature or of a standard stands beside its formula instead.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import BaseModel, ConfigDict, Field

ENOUGH_RATIO = 1.15
TIGHT_RATIO = 1.0


class HouseRules(BaseModel):
    """The studio's own thresholds; every one has a default that a plan starts from."""

    model_config = ConfigDict(frozen=True, extra="forbid")

    enough_ratio: Annotated[
        float, Field(title="Enough from", ge=1, le=10, json_schema_extra={"unit": "×", "step": 0.05})
    ] = ENOUGH_RATIO
    sized_on_percentile: Annotated[
        float,
        Field(title="Load sized on", ge=50, le=99.9, json_schema_extra={"unit": "%", "step": 1}),
    ] = 95.0
    common_peak_probability: Annotated[
        float,
        Field(title="All peak together", ge=0, le=1, json_schema_extra={"unit": "", "step": 0.01}),
    ] = 0.02
    failures_survived_min: Annotated[
        int,
        Field(title="Failures to survive", ge=0, le=3, json_schema_extra={"unit": "", "step": 1}),
    ] = 1
    money_tight_percent: Annotated[
        float,
        Field(title="Money tight from", ge=50, le=100, json_schema_extra={"unit": "%", "step": 1}),
    ] = 90.0
    drive_age_years_max: Annotated[
        float,
        Field(title="Drives trusted for", ge=1, le=20, json_schema_extra={"unit": "years", "step": 0.5}),
    ] = 5.0
    drive_hours_max: Annotated[
        int,
        Field(
            title="Hours a drive may run", ge=1000, le=200_000, json_schema_extra={"unit": "h", "step": 1000}
        ),
    ] = 43_800
    copy_size_tolerance_percent: Annotated[
        float,
        Field(title="Copies may differ by", ge=0, le=50, json_schema_extra={"unit": "%", "step": 0.5}),
    ] = 2.0
    read_back_days_max: Annotated[
        int,
        Field(title="Read back every", ge=1, le=3650, json_schema_extra={"unit": "days", "step": 30}),
    ] = 365
    remote_round_trip_ms_max: Annotated[
        float,
        Field(title="Round trip to work afar", ge=1, le=1000, json_schema_extra={"unit": "ms", "step": 5}),
    ] = 50.0
    rebuild_share_percent: Annotated[
        float,
        Field(title="A rebuild gets", gt=0, le=100, json_schema_extra={"unit": "% of the rate", "step": 5}),
    ] = 50.0
    single_parity_rebuild_hours_max: Annotated[
        float,
        Field(title="Single parity rebuilds in", ge=0, le=2000, json_schema_extra={"unit": "h", "step": 1}),
    ] = 24.0
    single_parity_unreadable_percent_max: Annotated[
        float,
        Field(
            title="Single parity rebuilds fail in",
            ge=0,
            le=100,
            json_schema_extra={"unit": "% of rebuilds", "step": 1},
        ),
    ] = 25.0
    mixed_sizes_waste_percent_max: Annotated[
        float,
        Field(title="Mixed sizes may waste", ge=0, le=100, json_schema_extra={"unit": "%", "step": 1}),
    ] = 10.0
    popularity_exponent: Annotated[
        float,
        Field(
            title="Few clips take most plays",
            ge=0,
            le=2,
            json_schema_extra={"unit": "exponent", "step": 0.05},
        ),
    ] = 0.8
    flash_service_years_min: Annotated[
        float,
        Field(title="Flash must last", ge=0, le=30, json_schema_extra={"unit": "years", "step": 0.5}),
    ] = 5.0
    delivery_days_max: Annotated[
        int,
        Field(
            title="Without a spare, delivery in", ge=0, le=365, json_schema_extra={"unit": "days", "step": 1}
        ),
    ] = 3
    memory_gb_min: Annotated[
        float,
        Field(title="Memory of a box, at least", ge=0, le=4096, json_schema_extra={"unit": "GB", "step": 8}),
    ] = 8.0
    memory_gb_per_raw_tb: Annotated[
        float,
        Field(
            title="Memory for each raw TB under checksums",
            ge=0,
            le=16,
            json_schema_extra={"unit": "GB", "step": 0.05},
        ),
    ] = 0.25
    memory_gain_percent_min: Annotated[
        float,
        Field(title="More memory must hit", ge=0, le=100, json_schema_extra={"unit": "% more", "step": 0.5}),
    ] = 2.0
    error_correction_from_tb: Annotated[
        float,
        Field(
            title="Error-correcting memory from",
            ge=0,
            le=100_000,
            json_schema_extra={"unit": "TB raw", "step": 10},
        ),
    ] = 100.0
    thin_overcommit_max: Annotated[
        float,
        Field(
            title="Thin volumes may promise",
            ge=1,
            le=100,
            json_schema_extra={"unit": "× plannable", "step": 0.1},
        ),
    ] = 1.0
    free_bay_years: Annotated[
        float,
        Field(
            title="A bay is free when it fills within",
            ge=0,
            le=20,
            json_schema_extra={"unit": "years", "step": 0.5},
        ),
    ] = 3.0


RULE_REASONS: dict[str, str] = {
    "enough_ratio": "A seventh in hand absorbs the spread of the models below a visible stutter.",
    "sized_on_percentile": "5 % of an eight-hour day is 24 minutes in which someone may wait.",
    "common_peak_probability": "A shared deadline makes all seats peak at once, about an hour in a working "
    "week. At 5 % and above, the 95th percentile would always be the worst case.",
    "failures_survived_min": "Work goes on through one dead drive; two are wanted for large disks.",
    "money_tight_percent": "A tenth of the budget goes to cables, carriers and price moves.",
    "drive_age_years_max": "Past five years failures rise and warranties are over.",
    "drive_hours_max": "Five years of running day and night.",
    "copy_size_tolerance_percent": "Copies of a shoot differ by rounding and sidecar files; more is a part.",
    "read_back_days_max": "A copy that nobody has read for a year is a hope, not a copy.",
    "remote_round_trip_ms_max": "Beyond some 50 ms a picture follows the hand too late to cut by it.",
    "rebuild_share_percent": "The other half of the drives' time is left to the people at work.",
    "single_parity_rebuild_hours_max": "For so long one more death, or one unreadable sector, loses data.",
    "single_parity_unreadable_percent_max": "One rebuild in four that loses a file is too many; by data "
    "sheets' rates.",
    "mixed_sizes_waste_percent_max": "A tenth left idle is about the price of one drive in ten.",
    "popularity_exponent": "While a film is cut a fifth of the clips take most of the plays.",
    "flash_service_years_min": "Flash should not wear out before the drives beside it are replaced.",
    "delivery_days_max": "Over a weekend one waits for a drive; longer the pool hangs by what is left.",
    "memory_gb_min": "What a file server of these years wants for itself and its shares.",
    "memory_gb_per_raw_tb": "Checksums and block lists of a copy-on-write pool want to stay in memory.",
    "memory_gain_percent_min": "Below two hits in a hundred more, nobody feels the money.",
    "error_correction_from_tb": "The more is kept for ever, the likelier one flipped bit is written down.",
    "thin_overcommit_max": "What is promised beyond what there is runs out for everyone at once.",
    "free_bay_years": "Adding a drive to a free bay takes minutes, a further box weeks and its price.",
}
