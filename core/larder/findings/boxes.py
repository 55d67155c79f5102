"""Findings about what a box has besides bays: buses, lanes, processor, memory, and room for more."""

from __future__ import annotations

import math
from collections.abc import Iterator

from larder.base.patch import Operation, set_fields
from larder.base.units import TB, size_text
from larder.laws.fill import DAYS_A_WEEK, WEEKS_A_YEAR
from larder.laws.path import BUS_BYTES_PER_S
from larder.laws.processor import CORES
from larder.plan.bays import Box, parse_bays
from larder.plan.bundle import Plan
from larder.plan.enclosure import Bus, CardSlot, Slot, lanes_for, lanes_of
from larder.stages.growth import GROWTH
from larder.stages.hops import HopResult
from larder.stages.registry import TIERS_STAGE
from larder.stages.tiers import EnclosureResult

from .finding import Evidence, Figures, Found, Remedy, finding

EXPANSION_BAYS = 8
MOST_LANES_OF_A_DRIVE = 4

MEMORY = "memory-below-recommendation-no-error-correction-where-wanted"
LANES_SHORT = "lanes-short"


def _boxes(f: Figures) -> Iterator[tuple[Box, EnclosureResult]]:
    return zip(f.bundle.plan.boxes, f.tiers.enclosures, strict=True)


def _set(box: Box, **fields: object) -> tuple[Operation, ...]:
    return set_fields(f"plan/boxes/{box.id}", **fields)


def _hop(f: Figures, hop_id: str) -> HopResult | None:
    """The hop, where more is asked of it than it carries."""
    hop = next((h for h in f.wiring.hops if h.id == hop_id), None)
    return hop if hop is not None and hop.ratio is not None and hop.ratio < 1 else None


def _family(bus: Bus) -> str:
    return "pcie" if bus.startswith("pcie") else "usb" if bus.startswith("usb") else bus


@finding("controller-or-usb-bus-saturated", TIERS_STAGE, "warn")
def controller_or_usb_bus_saturated(f: Figures) -> Iterator[Found]:
    """What all drives of a box pass is narrower than what is asked of them together."""
    for box, _ in _boxes(f):
        hop = _hop(f, f"bus-{box.id}")
        if hop is None:
            continue
        yield Found(
            at=box.id,
            title=f"{box.name}: its drives pass too narrow a way",
            evidence=(
                Evidence(label="Asked of its drives", value=hop.required_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="The way carries of it", value=hop.capacity_bytes_per_s, unit="bytes_per_s"),
            ),
            why="Copies and parity pass it too; more drives behind one controller or cable give nothing.",
            remedy=_wider(box, 1 / (hop.ratio or 1.0)),
        )


def _at(box: Box, field: str) -> str:
    return f"plan/boxes/{box.id}/{field}"


def _wider(box: Box, times: float) -> Remedy:
    """The narrowest bus of the same family, or the fewest links, that carry ``times`` as much."""
    wanted = BUS_BYTES_PER_S[box.shared_bus] * box.shared_links * times
    family = [b for b in BUS_BYTES_PER_S if _family(b) == _family(box.shared_bus)]  # type: ignore[arg-type]
    for bus in sorted(family, key=lambda b: BUS_BYTES_PER_S[b]):
        if BUS_BYTES_PER_S[bus] * box.shared_links >= wanted:
            return Remedy(words=f"Join them by {bus}", patch=_set(box, shared_bus=bus))
    links = math.ceil(wanted / BUS_BYTES_PER_S[box.shared_bus])
    if box.shared_bus.startswith("sas") and links <= 16:
        return Remedy(words=f"Join them by {links} links", patch=_set(box, shared_links=links))
    return Remedy(words="Spread the drives over two boxes or two controllers.", at=_at(box, "shared_bus"))


@finding("weak-processor-for-parity-or-encryption", TIERS_STAGE, "warn")
def weak_processor_for_parity_or_encryption(f: Figures) -> Iterator[Found]:
    """Protocol, parity, checksums and encryption together want more cores than the box has."""
    for box, _ in _boxes(f):
        hop = _hop(f, f"processor-{box.id}")
        if hop is None:
            continue
        wanted = box.cores / (hop.ratio or 1.0)
        better = next((name for name, cores in CORES.items() if cores >= wanted), None)
        yield Found(
            at=box.id,
            title=f"{box.name}: its processor is the narrowest hop",
            evidence=(
                Evidence(label="Asked of it", value=hop.required_bytes_per_s, unit="bytes_per_s"),
                Evidence(label="It serves", value=hop.capacity_bytes_per_s, unit="bytes_per_s"),
            ),
            why="Every byte costs it time for the protocol, more for parity, checksums and encryption.",
            remedy=Remedy(
                words=f"Take a box with a {better} processor",
                patch=_set(box, processor=better, ordinary_cores=None),
            )
            if better
            else Remedy(
                words="Spread the seats over two boxes, or encrypt on the drives themselves.",
                at=_at(box, "processor"),
            ),
        )


@finding(LANES_SHORT, TIERS_STAGE, "warn")
def lanes_short(f: Figures) -> Iterator[Found]:
    """More lanes wired than the processor has."""
    for box, result in _boxes(f):
        if not box.lanes or result.lanes_wanted <= box.lanes:
            continue
        yield Found(
            at=box.id,
            title=f"{box.name} has fewer lanes than it is wired for",
            evidence=(
                Evidence(label="Lanes wanted", value=result.lanes_wanted, unit="count"),
                Evidence(label="Lanes there are", value=box.lanes, unit="count"),
            ),
            why="Slots then share lanes or fall back to fewer: one is slow or dark when the other is busy.",
            remedy=_fewer_lanes(box),
        )


def _fewer_lanes(box: Box) -> Remedy:
    """Flash slots on half the lanes, or a quarter, where that is enough."""
    generation = box.flash_bus.rpartition("x")[0]
    for lanes in (2, 1):
        if lanes < lanes_of(box.flash_bus):
            narrower = box.model_copy(update={"flash_bus": f"{generation}x{lanes}"})
            if narrower.lanes_wanted <= box.lanes:
                return Remedy(
                    words=f"Run its flash slots on {lanes} {'lanes' if lanes > 1 else 'lane'} each",
                    patch=_set(box, flash_bus=narrower.flash_bus),
                )
    return Remedy(words="Leave a card slot unwired, or take a board with more lanes.", at=_at(box, "lanes"))


@finding(LANES_SHORT, TIERS_STAGE, "note")
def flash_in_too_narrow_a_slot(f: Figures) -> Iterator[Found]:
    """A flash drive that reads faster than the lanes of its slot carry."""
    boxes = {box.id: box for box in f.bundle.plan.boxes}
    placed = [
        (p.name, p.bays, p.drive_read_bytes_per_s) for p in f.bundle.plan.pools if p.drive_kind == "ssd"
    ]
    placed += [(c.name, c.bays, c.read_bytes_per_s) for c in f.bundle.plan.caches]
    seen: set[tuple[str, Slot]] = set()
    for name, bays, rate in placed:
        for bay in parse_bays(bays):
            box = boxes[bay.box_id]
            bus = box.slot_bus(bay.slot)
            if (box.id, bay.slot) in seen or not lanes_of(bus) or BUS_BYTES_PER_S[bus] >= rate:
                continue
            seen.add((box.id, bay.slot))
            wanted = next((b for b in _slots_for_a_drive(bus) if BUS_BYTES_PER_S[b] >= rate), None)
            field = "bay_bus" if bay.slot == "bay" else "flash_bus"
            yield Found(
                at=f"{box.id}-{field}",
                title=f"{name} reads faster than its slots in {box.name}",
                evidence=(
                    Evidence(label="A drive reads", value=rate, unit="bytes_per_s"),
                    Evidence(label="Its slot carries", value=BUS_BYTES_PER_S[bus], unit="bytes_per_s"),
                    Evidence(label="Lanes wanted", value=lanes_for(rate, int(bus[4])), unit="count"),
                ),
                why="What the slot is wired for decides, not how long it is; the rest is paid in vain.",
                remedy=Remedy(words=f"Use slots wired as {wanted}", patch=_set(box, **{field: wanted}))
                if wanted
                else Remedy(
                    words="Take slots of a newer generation, or slower and cheaper flash.", at=_at(box, field)
                ),
            )


def _slots_for_a_drive(bus: Bus) -> list[str]:
    """What a slot might be wired as instead: more lanes of its generation, then a newer one."""
    return [
        b
        for b in BUS_BYTES_PER_S
        if b.startswith("pcie") and b[:5] >= bus[:5] and int(b.rpartition("x")[2]) <= MOST_LANES_OF_A_DRIVE
    ]


@finding(LANES_SHORT, TIERS_STAGE, "note", key="carrier-shares-its-lanes")
def carrier_shares_its_lanes(f: Figures) -> Iterator[Found]:
    """Flash drives on one carrier that read faster together than its slot carries."""
    for box, card, rate in _on_carriers(f):
        carried = BUS_BYTES_PER_S[card.bus]
        if carried >= rate * card.flash_drives:
            continue
        together = rate * card.flash_drives
        newer = (b for b in BUS_BYTES_PER_S if b.startswith("pcie") and b[:5] >= card.bus[:5])
        wanted = next((b for b in newer if BUS_BYTES_PER_S[b] >= together), None)
        yield Found(
            at=f"{box.id}-{card.id}",
            title=f"{card.name} of {box.name} is shared by {card.flash_drives} drives that could read faster",
            evidence=(
                Evidence(
                    label="The drives read together", value=rate * card.flash_drives, unit="bytes_per_s"
                ),
                Evidence(label="The slot carries", value=carried, unit="bytes_per_s"),
                Evidence(label="Lanes", value=lanes_of(card.bus), unit="count"),
            ),
            why="Two drives on a carrier with four lanes have two each, however many the drives could take.",
            remedy=Remedy(
                words=f"Put the carrier into a slot wired as {wanted}",
                patch=(Operation(op="set", path=f"plan/boxes/{box.id}/cards/{card.id}/bus", value=wanted),),
            )
            if wanted
            else Remedy(words="Spread the drives over two carriers.", at=_at(box, f"cards/{card.id}/bus")),
        )


def _on_carriers(f: Figures) -> Iterator[tuple[Box, CardSlot, float]]:
    """Carriers with drives in use on them, and what the fastest of these reads."""
    boxes = {box.id: box for box in f.bundle.plan.boxes}
    placed = [(p.bays, p.drive_read_bytes_per_s) for p in f.bundle.plan.pools if p.drive_kind == "ssd"]
    placed += [(c.bays, c.read_bytes_per_s) for c in f.bundle.plan.caches]
    fastest: dict[tuple[str, str], float] = {}
    for bays, rate in placed:
        for bay in parse_bays(bays):
            card = boxes[bay.box_id].carrier_of(bay.slot, bay.number)
            if card is not None and lanes_of(card.bus):
                at = bay.box_id, card.id
                fastest[at] = max(fastest.get(at, 0.0), rate)
    for (box_id, card_id), rate in fastest.items():
        yield boxes[box_id], next(c for c in boxes[box_id].cards if c.id == card_id), rate


@finding("bifurcation-needed", TIERS_STAGE, "warn")
def bifurcation_needed(f: Figures) -> Iterator[Found]:
    """Two drives on one carrier want the slot's lanes split between them."""
    for box in f.bundle.plan.boxes:
        for card in box.cards:
            if card.holds != "flash carrier" or card.flash_drives < 2 or card.splits:
                continue
            path = f"plan/boxes/{box.id}/cards/{card.id}/splits"
            yield Found(
                at=f"{box.id}-{card.id}",
                title=f"{card.name} of {box.name} has to split its lanes",
                evidence=(
                    Evidence(label="Flash drives on it", value=card.flash_drives, unit="count"),
                    Evidence(label="Lanes wired", value=lanes_of(card.bus), unit="count"),
                ),
                why="Where a slot does not split its lanes, only the first drive of a plain carrier is seen.",
                remedy=Remedy(
                    words="Split the lanes in the box's setup, or take a carrier with its own switch",
                    patch=(Operation(op="set", path=path, value=True),),
                ),
            )


@finding(MEMORY, TIERS_STAGE, "warn", key="memory-below-recommendation")
def memory_below_recommendation(f: Figures) -> Iterator[Found]:
    """Less memory than the house wants for what lies in the box."""
    for box, result in _boxes(f):
        memory = result.memory
        if memory is None or memory.memory_bytes >= memory.recommended_bytes:
            continue
        yield Found(
            at=box.id,
            title=f"{box.name} has less memory than its pools want",
            evidence=(
                Evidence(label="Memory", value=memory.memory_bytes, unit="bytes"),
                Evidence(label="By the house rules", value=memory.recommended_bytes, unit="bytes"),
            ),
            why="Checksums and block lists that do not stay in memory are read from disk again and again.",
            remedy=_memory(box, memory.recommended_bytes),
        )


def _memory(box: Box, wanted_bytes: int) -> Remedy:
    if box.memory_most_bytes and wanted_bytes > box.memory_most_bytes:
        words = "It takes no more memory: spread the pools over two boxes."
        return Remedy(words=words, at=_at(box, "memory_bytes"))
    return Remedy(
        words=f"Use {size_text(wanted_bytes)} of memory", patch=_set(box, memory_bytes=wanted_bytes)
    )


@finding(MEMORY, TIERS_STAGE, "note", key="no-error-correction-where-wanted")
def no_error_correction_where_wanted(f: Figures) -> Iterator[Found]:
    """Much is kept, and a flipped bit in memory would be written down unseen."""
    from_bytes = f.bundle.house_rules.error_correction_from_tb * TB
    for box, result in _boxes(f):
        lies = sum(b.drive_bytes for r in f.bays.boxes if r.id == box.id for b in r.bays)
        if result.memory is None or box.has_error_correction or lies < from_bytes:
            continue
        yield Found(
            at=box.id,
            title=f"{box.name} has no error-correcting memory",
            evidence=(
                Evidence(label="Drives in it", value=lies, unit="bytes"),
                Evidence(label="House rule, from", value=from_bytes, unit="bytes"),
            ),
            why="A bit that flips in memory is written with a good checksum; nothing notices it later.",
            remedy=Remedy(
                words="Take a box with error-correcting memory", patch=_set(box, has_error_correction=True)
            ),
        )


@finding("memory-buys-nothing", TIERS_STAGE, "note")
def memory_buys_nothing(f: Figures) -> Iterator[Found]:
    """Above the recommendation, and hardly a read more is answered from it."""
    least = f.bundle.house_rules.memory_gain_percent_min / 100
    for box, result in _boxes(f):
        memory = result.memory
        if memory is None or memory.memory_bytes <= memory.recommended_bytes:
            continue
        if memory.hit_ratio - memory.hit_ratio_recommended >= least:
            continue
        yield Found(
            at=box.id,
            title=f"{box.name}: memory beyond what helps",
            evidence=(
                Evidence(label="Memory", value=memory.memory_bytes, unit="bytes"),
                Evidence(label="Hits with it", value=memory.hit_ratio, unit="share"),
                Evidence(label="Would do", value=memory.recommended_bytes, unit="bytes"),
                Evidence(label="Hits with that", value=memory.hit_ratio_recommended, unit="share"),
            ),
            why="Footage that is hot is far larger than any memory: the money buys more as flash.",
            remedy=_memory(box, memory.recommended_bytes),
        )


@finding("no-free-bay-at-fill-date", TIERS_STAGE, "note")
def no_free_bay_at_fill_date(f: Figures) -> Iterator[Found]:
    """When the drives are full there is no bay for another."""
    boxes = f.bays.boxes
    room = sum(
        bay.lies in ("free", "kept for growth") for box in boxes for bay in box.bays if bay.slot == "bay"
    )
    fulls = [tier.full_on for tier in f.of(GROWTH).tiers if tier.full_on is not None]
    if not boxes or room or not fulls:
        return
    weeks = (min(fulls) - f.bundle.as_of).days / DAYS_A_WEEK
    within = f.bundle.house_rules.free_bay_years * WEEKS_A_YEAR
    if weeks >= within:
        return
    yield Found(
        title="No bay is left when the drives are full",
        evidence=(
            Evidence(label="Weeks until they are full", value=round(max(weeks, 0.0), 1), unit="count"),
            Evidence(label="House rule, weeks", value=round(within, 1), unit="count"),
            Evidence(label="Free bays", value=0, unit="count"),
        ),
        why="Then larger drives go in one by one, a rebuild each, or a further box is bought in haste.",
        remedy=Remedy(
            words=f"Plan an expansion unit with {EXPANSION_BAYS} bays",
            patch=(expansion_unit(f.bundle.plan, EXPANSION_BAYS),),
        ),
    )


def expansion_unit(plan: Plan, bays: int) -> Operation:
    """The change that adds one, with so many bays."""
    taken = {box.id for box in plan.boxes}
    free = next(name for n in range(len(taken) + 1) if (name := f"expansion-{n + 1}") not in taken)
    unit = {"id": free, "name": "Expansion unit", "form": "expansion unit", "bays": bays}
    return Operation(op="add", path="plan/boxes", value=unit)
