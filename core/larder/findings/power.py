"""Findings about power and the room: supplies, circuits, air, noise, weight, batteries."""

from __future__ import annotations

from collections.abc import Iterator

from larder.base.patch import set_fields
from larder.stages.power import POWER, BoxPower
from larder.stages.registry import GROWTH_STAGE

from .finding import Evidence, Figures, Found, Remedy, finding

_ROOM = "plan/brief/limits/room"


@finding("supply-overloaded", GROWTH_STAGE, "warn")
def supply_overloaded(f: Figures) -> Iterator[Found]:
    """At power-on all disks start at once, and one supply of two may be dead."""
    most = f.bundle.house_rules.supply_percent_max
    for box in f.of(POWER).boxes:
        if box.carried_share * 100 <= most:
            continue
        together = next((b for b in f.bundle.plan.boxes if b.id == box.id and b.spins_up_together), None)
        carries = box.surge_watts / box.carried_share
        yield Found(
            at=box.id,
            severity="block" if box.busy_watts > carries else "warn",
            title=f"{box.name}: its supply is overloaded when its disks start",
            evidence=(
                Evidence(label="At spin-up", value=round(box.surge_watts, 1), unit="W"),
                Evidence(label="At work", value=round(box.busy_watts, 1), unit="W"),
                Evidence(label="Its supply carries", value=round(carries, 1), unit="W"),
                Evidence(label="House rule", value=most, unit="%"),
            ),
            why="A supply that gives way at power-on drops disks out of the pool, or never starts.",
            remedy=Remedy(
                words="Let its disks start one after the other",
                patch=set_fields(f"plan/boxes/{box.id}", spins_up_together=False),
            )
            if together is not None and box.busy_watts * 100 < most * carries * 0.9
            else Remedy(
                words="A box with a larger supply or fewer disks; never open or change a supply yourself.",
                at=f"plan/boxes/{box.id}/supply_watts",
            ),
        )


@finding("circuit-over-80-percent", GROWTH_STAGE, "warn")
def circuit_over_80_percent(f: Figures) -> Iterator[Found]:
    """More is drawn all day than the house lets a circuit carry."""
    power, most = f.of(POWER), f.bundle.house_rules.circuit_percent_max
    if power.circuit_share is None or power.circuit_watts is None or power.circuit_share * 100 <= most:
        return
    yield Found(
        severity="block" if power.circuit_share > 1 else "warn",
        title=f"The circuit carries {power.circuit_share:.0%} of what it may",
        evidence=(
            Evidence(label="Drawn at work", value=round(power.circuit_share * power.circuit_watts), unit="W"),
            Evidence(label="The circuit", value=power.circuit_watts, unit="W"),
            Evidence(label="House rule", value=most, unit="%"),
        ),
        why="Whatever else hangs on it comes on top; a breaker that trips takes every box down at once.",
        remedy=Remedy(
            words="A second circuit, by a licensed electrician and the local code.",
            at=f"{_ROOM}/circuit_watts",
        ),
    )


@finding("closet-without-air", GROWTH_STAGE, "warn")
def closet_without_air(f: Figures) -> Iterator[Found]:
    """A closet that becomes warmer than the house lets it."""
    power, most = f.of(POWER), f.bundle.house_rules.closet_degrees_max
    if power.closet_degrees is None or power.closet_degrees <= most:
        return
    yield Found(
        title=f"The closet becomes {power.closet_degrees:.0f} degrees warmer than the room",
        evidence=(
            Evidence(label="Warmer by", value=round(power.closet_degrees, 1), unit="°C"),
            Evidence(label="House rule", value=most, unit="°C"),
            Evidence(label="Heat", value=round(power.heat_btu_per_h), unit="BTU/h"),
            Evidence(label="Air moved", value=f.bundle.plan.brief.limits.room.air_m3_per_h, unit="m³/h"),
        ),
        why="Disks run ten degrees above the air around them; hot ones die sooner, and fans get loud.",
        remedy=Remedy(
            words="A fan and an opening for its air, which is a ventilation trade's work; or an open room.",
            at=f"{_ROOM}/air_m3_per_h",
        ),
    )


def _loudest(boxes: tuple[BoxPower, ...]) -> Iterator[Evidence]:
    if boxes:
        loudest = max(boxes, key=lambda box: box.noise_dba)
        yield Evidence(label=f"The loudest: {loudest.name}", value=round(loudest.noise_dba, 1), unit="dB(A)")


@finding("noise-over-the-rooms-limit", GROWTH_STAGE, "warn")
def noise_over_the_rooms_limit(f: Figures) -> Iterator[Found]:
    """All that stands in the house together is louder than people there can work beside."""
    power = f.of(POWER)
    if power.noise_dba_max is None or power.noise_dba <= power.noise_dba_max:
        return
    yield Found(
        title=f"Together the boxes are {power.noise_dba:.0f} dB(A), over the room's limit",
        evidence=(
            Evidence(label="Together", value=round(power.noise_dba, 1), unit="dB(A)"),
            Evidence(label="The room's limit", value=power.noise_dba_max, unit="dB(A)"),
            *_loudest(power.boxes),
        ),
        why="Who listens to sound all day cannot do it beside fans.",
        remedy=Remedy(
            words="Another room, a longer cable, quieter fans or fewer disks.", at=f"{_ROOM}/noise_dba_max"
        ),
    )


@finding("unit-too-heavy-for-one-person", GROWTH_STAGE, "note")
def unit_too_heavy_for_one_person(f: Figures) -> Iterator[Found]:
    """A filled box that two people have to lift."""
    most = f.bundle.house_rules.lift_kg_max
    for box in f.of(POWER).boxes:
        if box.mass_kg > most:
            yield Found(
                at=box.id,
                title=f"{box.name} weighs {box.mass_kg:.0f} kg with its drives: two people",
                evidence=(
                    Evidence(label="Mass with drives", value=round(box.mass_kg, 1), unit="kg"),
                    Evidence(label="House rule", value=most, unit="kg"),
                ),
                why="Backs and toes; and a rack that is filled from the top tips over.",
                remedy=Remedy(
                    words="Two people; drives go in when it is in its place, the heaviest box lowest.",
                    at=f"plan/boxes/{box.id}/mass_kg",
                ),
            )


@finding("battery-supply-too-weak", GROWTH_STAGE, "warn")
def battery_supply_too_weak(f: Figures) -> Iterator[Found]:
    """A battery supply that cannot carry what hangs on it, or not for as long as shutting down takes."""
    power, least = f.of(POWER), f.bundle.house_rules.battery_minutes_min
    if power.battery_minutes is None or power.battery_minutes >= least:
        return
    yield Found(
        title=f"The battery supply holds {power.battery_minutes:.0f} minutes"
        if power.battery_minutes
        else "The battery supply cannot carry what hangs on it",
        evidence=(
            Evidence(label="Holds", value=round(power.battery_minutes, 1), unit="min"),
            Evidence(label="House rule", value=least, unit="min"),
            Evidence(label="Drawn at work", value=round(power.busy_watts), unit="W"),
            Evidence(label="It carries", value=power.battery_watts, unit="W"),
        ),
        why="Caches are written out and boxes shut down in order, or what was being written is lost.",
        remedy=Remedy(words="A larger battery supply, or one for each box.", at="plan/mains/batteries"),
    )
