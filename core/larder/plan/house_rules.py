"""Every threshold that a verdict or finding may use: one named value, with its reason.

``docs/house-rules.md`` lists the same values; a test holds the two together. A studio overrides a
threshold in its bundle; a constant of nature or of a standard stands beside its formula instead.
"""

from __future__ import annotations

from typing import Annotated

from pydantic import Field

from larder.base.fields import Number, Share, Value, labelled
from larder.laws.deaths import UsualDeaths

ENOUGH_RATIO = 1.15
TIGHT_RATIO = 1.0


class HouseRules(Value):
    """The studio's own thresholds; every one has a default that a plan starts from."""

    enough_ratio: Annotated[Number, Field(ge=1, le=10), labelled("Enough from", "×", 0.05)] = ENOUGH_RATIO
    sized_on_percentile: Annotated[Number, Field(ge=50, le=99.9), labelled("Load sized on", "%", 1)] = 99.0
    common_peak_probability: Annotated[Share, labelled("A rush", "share", 1)] = 0.02
    rush_odds: Annotated[Share, labelled("In a rush at peak, at least", "share", 5)] = 0.9
    failures_survived_min: Annotated[int, Field(ge=0, le=3), labelled("Failures to survive", "", 1)] = 1
    money_tight_percent: Annotated[Number, Field(ge=50, le=100), labelled("Money tight from", "%", 1)] = 90.0
    drive_age_years_max: Annotated[
        Number, Field(ge=1, le=20), labelled("Drives trusted for", "years", 0.5)
    ] = 5.0
    drive_hours_max: Annotated[
        int, Field(ge=1000, le=200_000), labelled("Hours a drive may run", "h", 1000)
    ] = 43_800
    copy_size_tolerance_percent: Annotated[
        Number, Field(ge=0, le=50), labelled("Copies may differ by", "%", 0.5)
    ] = 2.0
    read_back_days_max: Annotated[int, Field(ge=1, le=3650), labelled("Read back every", "days", 30)] = 365
    remote_round_trip_ms_max: Annotated[
        Number, Field(ge=1, le=1000), labelled("Round trip to work afar", "ms", 5)
    ] = 50.0
    rebuild_share_percent: Annotated[
        Number, Field(gt=0, le=100), labelled("A rebuild gets", "% of the rate", 5)
    ] = 30.0
    single_parity_rebuild_hours_max: Annotated[
        Number, Field(ge=0, le=2000), labelled("Single parity rebuilds in", "h", 1)
    ] = 24.0
    single_parity_unreadable_percent_max: Annotated[
        Number, Field(ge=0, le=100), labelled("Single parity rebuilds fail in", "% of rebuilds", 1)
    ] = 25.0
    scrub_every_days: Annotated[Number, Field(ge=1, le=3650), labelled("Scrubbed every", "days", 7)] = 30.0
    latent_per_tb_year: Annotated[
        Number, Field(ge=0, le=10), labelled("Sectors that go bad unseen, per TB and year", "", 0.01)
    ] = 0.02
    mixed_sizes_waste_percent_max: Annotated[
        Number, Field(ge=0, le=100), labelled("Mixed sizes may waste", "%", 1)
    ] = 10.0
    popularity_exponent: Annotated[
        Number, Field(ge=0, le=2), labelled("Few clips take most plays", "exponent", 0.05)
    ] = 0.8
    flash_service_years_min: Annotated[
        Number, Field(ge=0, le=30), labelled("Flash must last", "years", 0.5)
    ] = 5.0
    delivery_days_max: Annotated[
        int, Field(ge=0, le=365), labelled("Without a spare, delivery in", "days", 1)
    ] = 3
    memory_gb_min: Annotated[Number, Field(ge=0, le=4096), labelled("Memory of a box, at least", "gb", 8)] = (
        8.0
    )
    memory_gb_per_raw_tb: Annotated[
        Number, Field(ge=0, le=16), labelled("Memory for each raw TB under checksums", "gb", 0.05)
    ] = 0.25
    memory_gain_percent_min: Annotated[
        Number, Field(ge=0, le=100), labelled("More memory must hit", "% more", 0.5)
    ] = 2.0
    error_correction_from_tb: Annotated[
        Number, Field(ge=0, le=100_000), labelled("Error-correcting memory from", "TB raw", 10)
    ] = 100.0
    thin_overcommit_max: Annotated[
        Number, Field(ge=1, le=100), labelled("Thin volumes may promise", "× plannable", 0.1)
    ] = 1.0
    working_days_per_week: Annotated[
        Number, Field(ge=1, le=7), labelled("Working days a week", "days", 1)
    ] = 5.0
    cards_safe_hours_max: Annotated[
        Number, Field(ge=0.5, le=168), labelled("Cards safe to wipe within", "h", 1)
    ] = 12.0
    disk_deaths_percent: Annotated[
        Number, Field(gt=0, le=50), labelled("Disks that die in a year", "%", 0.1)
    ] = 1.5
    old_disk_deaths_percent: Annotated[
        Number, Field(gt=0, le=50), labelled("The same past the hours they may run", "%", 0.1)
    ] = 3.0
    flash_deaths_percent: Annotated[
        Number, Field(gt=0, le=50), labelled("Flash drives that die in a year", "%", 0.1)
    ] = 0.8
    same_batch_times: Annotated[
        Number, Field(ge=1, le=100), labelled("Of one batch, others die as often beside a dead one", "×", 0.5)
    ] = 3.0
    odds_enough_one_in: Annotated[
        Number, Field(ge=1, le=1e9), labelled("A pool is safe when it is lost once in", "years", 1000)
    ] = 10_000.0
    odds_short_one_in: Annotated[
        Number, Field(ge=1, le=1e9), labelled("And too likely lost at once in", "years", 100)
    ] = 1_000.0
    copies_min: Annotated[int, Field(ge=1, le=9), labelled("Copies, with the one in use", "", 1)] = 3
    media_kinds_min: Annotated[int, Field(ge=1, le=5), labelled("On kinds of media", "", 1)] = 2
    copies_elsewhere_min: Annotated[int, Field(ge=0, le=5), labelled("Of them elsewhere", "", 1)] = 1
    copies_offline_min: Annotated[int, Field(ge=0, le=5), labelled("Of them offline or immutable", "", 1)] = 0
    first_copy_days_max: Annotated[
        Number, Field(ge=1, le=3650), labelled("A first copy over the line within", "days", 7)
    ] = 14.0
    box_delivery_days_max: Annotated[
        int, Field(ge=0, le=365), labelled("A box, switch or controller comes in", "days", 1)
    ] = 7
    snapshot_every_hours: Annotated[Number, Field(gt=0, le=168), labelled("A snapshot every", "h", 1)] = 24.0
    clean_up_hours: Annotated[
        Number, Field(ge=0, le=720), labelled("To clean up after an intruder", "h", 4)
    ] = 16.0
    box_dies_percent: Annotated[Number, Field(ge=0, le=100), labelled("A box dies in a year", "%", 0.5)] = 3.0
    fire_percent: Annotated[Number, Field(ge=0, le=100), labelled("Fire or water in a year", "%", 0.1)] = 0.3
    theft_percent: Annotated[Number, Field(ge=0, le=100), labelled("Burglars in a year", "%", 0.1)] = 0.5
    drop_percent: Annotated[
        Number, Field(ge=0, le=100), labelled("A loose drive dropped or left behind in a year", "%", 0.5)
    ] = 3.0
    deletion_percent: Annotated[
        Number, Field(ge=0, le=100), labelled("A folder emptied by mistake in a year", "%", 5)
    ] = 20.0
    encryption_percent: Annotated[
        Number, Field(ge=0, le=100), labelled("An intruder encrypts in a year", "%", 0.5)
    ] = 1.0
    corruption_percent: Annotated[
        Number, Field(ge=0, le=100), labelled("Silent corruption in a year", "%", 0.5)
    ] = 1.0
    account_percent: Annotated[
        Number, Field(ge=0, le=100), labelled("An account or key lost in a year", "%", 0.5)
    ] = 1.0
    supplier_percent: Annotated[
        Number, Field(ge=0, le=100), labelled("A supplier ends a plan in a year", "%", 0.5)
    ] = 3.0
    work_hour_price: Annotated[
        Number, Field(ge=0, le=10_000), labelled("An hour of work costs", "money", 5)
    ] = 45.0
    player_seconds: Annotated[Number, Field(ge=0, le=60), labelled("A player holds", "s", 0.5)] = 2.0
    first_frame_seconds_max: Annotated[
        Number, Field(gt=0, le=30), labelled("First frame after a jump within", "s", 0.1)
    ] = 0.5
    free_bay_years: Annotated[
        Number, Field(ge=0, le=20), labelled("A bay is free when it fills within", "years", 0.5)
    ] = 3.0
    brief_spread_percent: Annotated[
        Number, Field(ge=1, le=200), labelled("In 8 of 10 plans growth is right within", "%", 5)
    ] = 25.0
    week_spread_percent: Annotated[
        Number, Field(ge=1, le=500), labelled("A week brings more or less, by", "%", 5)
    ] = 50.0
    order_days: Annotated[int, Field(ge=0, le=720), labelled("To decide, order and build in", "days", 7)] = 21
    price_days_max: Annotated[int, Field(ge=1, le=3650), labelled("A price holds for", "days", 10)] = 90
    kwh_price: Annotated[Number, Field(ge=0, le=10), labelled("A kilowatt hour costs", "money", 0.01)] = 0.3
    portable_tb: Annotated[Number, Field(ge=0.1, le=200), labelled("A portable drive holds", "TB raw", 1)] = (
        5.0
    )
    portable_price: Annotated[
        Number, Field(ge=0, le=100_000), labelled("A portable drive costs", "money", 5)
    ] = 140.0
    portable_years: Annotated[
        Number, Field(ge=0.5, le=30), labelled("A portable drive is trusted for", "years", 0.5)
    ] = 4.0
    service_tb_month_price: Annotated[
        Number, Field(ge=0, le=10_000), labelled("A service costs, per TB and month", "money", 0.5)
    ] = 6.0
    service_tb_back_price: Annotated[
        Number, Field(ge=0, le=10_000), labelled("To get a TB back from it costs", "money", 0.5)
    ] = 10.0
    tape_drive_price: Annotated[
        Number, Field(ge=0, le=1_000_000), labelled("A drive for linear tape costs", "money", 100)
    ] = 3_200.0
    tape_tb_price: Annotated[Number, Field(ge=0, le=10_000), labelled("Tapes cost, per TB", "money", 0.5)] = (
        6.5
    )
    circuit_percent_max: Annotated[
        Number, Field(ge=10, le=100), labelled("A circuit may carry, all the time", "%", 5)
    ] = 80.0
    supply_percent_max: Annotated[
        Number, Field(ge=10, le=100), labelled("A supply may carry at spin-up", "%", 5)
    ] = 90.0
    lift_kg_max: Annotated[Number, Field(ge=1, le=200), labelled("One person lifts", "kg", 1)] = 20.0
    drive_damping_dba: Annotated[
        Number, Field(ge=0, le=60), labelled("A box dampens its drives by", "dB(A)", 1)
    ] = 8.0
    closet_watts_per_degree: Annotated[
        Number, Field(ge=0.1, le=10_000), labelled("A closet's walls carry off, per degree", "W", 1)
    ] = 15.0
    closet_degrees_max: Annotated[
        Number, Field(ge=1, le=40), labelled("A closet may be warmer by", "°C", 1)
    ] = 10.0
    battery_minutes_min: Annotated[
        Number, Field(ge=0, le=1440), labelled("A battery supply holds for", "min", 1)
    ] = 10.0

    @property
    def usual_deaths(self) -> UsualDeaths:
        """How many drives die in a year where their class does not say."""
        return UsualDeaths(
            self.disk_deaths_percent,
            self.old_disk_deaths_percent,
            self.flash_deaths_percent,
            self.drive_hours_max,
        )


RULE_REASONS: dict[str, str] = {
    "enough_ratio": "A seventh in hand absorbs the spread of the models below a visible stutter.",
    "sized_on_percentile": "1 % of an eight-hour day is 5 minutes in which frames may drop; 5 % would be 24.",
    "common_peak_probability": "A shared deadline makes everybody rush, about an hour in a working week.",
    "rush_odds": "Even before a deadline somebody is at the coffee machine.",
    "failures_survived_min": "Work goes on through one dead drive; two are wanted for large disks.",
    "money_tight_percent": "A tenth of the budget goes to cables, carriers and price moves.",
    "drive_age_years_max": "Past five years failures rise and warranties are over.",
    "drive_hours_max": "Five years of running day and night.",
    "copy_size_tolerance_percent": "Copies of a shoot differ by rounding and sidecar files; more is a part.",
    "read_back_days_max": "A copy that nobody has read for a year is a hope, not a copy.",
    "remote_round_trip_ms_max": "Beyond some 50 ms a picture follows the hand too late to cut by it.",
    "rebuild_share_percent": "The rest of the drives' time is left to the people at work.",
    "single_parity_rebuild_hours_max": "For so long one more death, or one unreadable sector, loses data.",
    "single_parity_unreadable_percent_max": "One rebuild in four that loses a file is too many.",
    "scrub_every_days": "Once a month: what has gone bad is found before the next drive dies.",
    "latent_per_tb_year": "Field studies of disks found a few in a hundred with such a sector a year.",
    "mixed_sizes_waste_percent_max": "A tenth left idle is about the price of one drive in ten.",
    "popularity_exponent": "While a film is cut a fifth of the clips take most of the plays.",
    "flash_service_years_min": "Flash should not wear out before the drives beside it are replaced.",
    "delivery_days_max": "Over a weekend one waits for a drive; longer the pool hangs by what is left.",
    "memory_gb_min": "What a file server of these years wants for itself and its shares.",
    "memory_gb_per_raw_tb": "Checksums and block lists of a copy-on-write pool want to stay in memory.",
    "memory_gain_percent_min": "Below two hits in a hundred more, nobody feels the money.",
    "error_correction_from_tb": "The more is kept for ever, the likelier one flipped bit is written down.",
    "thin_overcommit_max": "What is promised beyond what there is runs out for everyone at once.",
    "working_days_per_week": "A day's bytes are moved so often a week: drives wear and are rated by it.",
    "cards_safe_hours_max": "From the last clapper in the evening to the first call of the next morning.",
    "disk_deaths_percent": "Fleets of disks in their good years lose between one and two in a hundred.",
    "old_disk_deaths_percent": "Past five years about twice as many of a fleet die.",
    "flash_deaths_percent": "Flash dies about half as often as disks, and wears out besides.",
    "same_batch_times": "Drives of one batch share their faults: after the first, others follow for a month.",
    "odds_enough_one_in": "Once in the lives of ten thousand pools: other causes are likelier by far.",
    "odds_short_one_in": "One pool in a thousand a year is what no studio would insure without a question.",
    "copies_min": "The one in use and two more: one may turn out bad when the other is gone.",
    "media_kinds_min": "What ruins all disks of a kind, or all that hangs on one cable, spares another kind.",
    "copies_elsewhere_min": "Fire, water and burglars take all that is in one building.",
    "copies_offline_min": "The plain rule of three asks for none; against an intruder one is best.",
    "first_copy_days_max": "Until the first copy is complete nothing is protected elsewhere.",
    "box_delivery_days_max": "A week is usual for what a shop does not have on the shelf.",
    "snapshot_every_hours": "One a day is what every box does when it is told to keep any.",
    "clean_up_hours": "Two working days, in which the way in is found and every machine is set up anew.",
    "box_dies_percent": "Main boards, backplanes and supplies: a few in a hundred a year.",
    "fire_percent": "A fire or a burst pipe in a few of a thousand workplaces a year.",
    "theft_percent": "Burglaries of small workplaces: a few in a thousand to one in a hundred a year.",
    "drop_percent": "What is carried about is dropped or left on a train sooner or later.",
    "deletion_percent": "Somebody empties the wrong folder every few years in any house.",
    "encryption_percent": "About one small firm in a hundred a year has to start over from its copies.",
    "corruption_percent": "Bad memory, cables and firmware: seldom seen, and seldom looked for.",
    "account_percent": "Whoever knew has left, the card has expired, or the telephone is gone.",
    "supplier_percent": "Plans without limit are ended every few years, with weeks of notice.",
    "work_hour_price": "Wages with what comes on top; the studio's own figure should stand here.",
    "player_seconds": "What players read ahead by themselves; a shorter hitch than that nobody sees.",
    "first_frame_seconds_max": "Beyond half a second a jump feels like waiting, and one loses the place.",
    "brief_spread_percent": "Shooting ratios and schedules are guesses; a quarter off is an ordinary plan.",
    "week_spread_percent": "Weeks of shooting and weeks of rain: half more or half less is common.",
    "order_days": "A quote, a yes, a parcel and an evening to build it in: three weeks pass.",
    "price_days_max": "Drives move by several per cent a quarter; an older list is a memory.",
    "kwh_price": "A usual price with all dues; the bill's own figure should stand here.",
    "portable_tb": "The largest portable disks that are still quick to fill.",
    "portable_price": "The price of such a disk with its cable and case.",
    "portable_years": "Carried about, plugged and dropped: trusted for less long than a disk in a box.",
    "service_tb_month_price": "What storing costs by the month, before anything is fetched back.",
    "service_tb_back_price": "What leaving costs: every TB that comes back is paid for.",
    "tape_drive_price": "A drive of a recent generation, bought once; used ones of an older one cost half.",
    "tape_tb_price": "Cartridges by what they hold before anything is compressed.",
    "circuit_percent_max": "Codes in many countries keep a fifth free where a load runs for hours.",
    "supply_percent_max": "For the seconds in which all disks start; old supplies give less than they say.",
    "lift_kg_max": "Guides to lifting let most people hold about so much close to the body.",
    "drive_damping_dba": "A closed case with soft mounts; open frames dampen nothing.",
    "closet_watts_per_degree": "Some ten square metres of plasterboard and a door, with no air through them.",
    "closet_degrees_max": "From 22 to 32 degrees: disks run ten above the air, and age faster past 40.",
    "battery_minutes_min": "Caches are written out and the boxes shut down in order within ten minutes.",
    "free_bay_years": "Adding a drive to a free bay takes minutes, a further box weeks and its price.",
}
