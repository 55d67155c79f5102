"""Findings about what the stock holds and what the brief asks: where storage is not the answer."""

from __future__ import annotations

import math
from collections.abc import Iterator

from larder.base.patch import Operation, Patch, set_fields
from larder.plan.formats import Format
from larder.plan.seats import FootageSeat, IngestSeat, RemoteSeat
from larder.stages.cards import CARDS, CardsResult
from larder.stages.registry import BRIEF_STAGE, STOCK_STAGE
from larder.stages.remote import RemoteResult, remote_results

from .copies import VERSIONS_DAYS
from .finding import Evidence, Figures, Found, Remedy, finding
from .nightly import copied_patch

MOST_READERS = 8
"""More readers at once than one person keeps apart are not proposed."""


@finding("sole-copies-on-one-drive", STOCK_STAGE, "warn")
def sole_copies_on_one_drive(f: Figures) -> Iterator[Found]:
    """The stock that the plan stands on holds material that exists only once."""
    stock = f.bundle.facts.stock
    if not stock.sole_bytes:
        return
    yield Found(
        title="Some of what is kept today exists only once",
        evidence=(
            Evidence(label="Exists only once", value=stock.sole_bytes, unit="bytes"),
            Evidence(label="On devices", value=stock.sole_device_count, unit="count"),
            Evidence(label="Of unique bytes in all", value=stock.unique_bytes, unit="bytes"),
        ),
        why="A drive that dies takes it along; no layout of new drives brings it back.",
        remedy=Remedy(
            words="Copy in the order of the stock's rescue list, verify by checksum, then take the stock's "
            "figures over anew.",
            at="plan/brief/kept_today_bytes",
        ),
    )


@finding("decode-bound-playback", BRIEF_STAGE, "warn")
def decode_bound_playback(f: Figures) -> Iterator[Found]:
    """A workstation that decodes fewer streams than it is to play stutters however fast the storage is."""
    for seat in f.bundle.plan.brief.seats:
        if not isinstance(seat, FootageSeat) or seat.decoded_streams_max is None or not seat.count:
            continue
        asked = seat.streams * seat.angles
        if seat.direction == "write" or asked <= seat.decoded_streams_max:
            continue
        speed = f.wiring.ratio
        suffices = speed is None or speed >= 1
        yield Found(
            at=seat.id,
            title=f"{seat.name} cannot decode what it plays",
            evidence=(
                Evidence(label="Streams it is to play", value=asked, unit="count"),
                Evidence(label="Streams it can decode", value=seat.decoded_streams_max, unit="count"),
            ),
            why="Frames are dropped in the workstation"
            + (": every hop delivers what is needed, " if suffices else "; ")
            + "and faster storage does not mend it.",
            remedy=_lighter_format(f, seat),
        )


def _lighter_format(f: Figures, seat: FootageSeat) -> Remedy:
    """Cut on proxies: the lightest footage of the library, if it is lighter than half."""
    rates = {r.id: r.mean_bytes_per_s for r in f.brief.formats}
    lightest = _lightest_footage(f)
    words = "Cut on proxies or a timeline of lower resolution, or give it a machine that decodes more."
    path = f"plan/brief/seats/{seat.id}"
    if lightest is None or rates[lightest.id] > rates[seat.format_id] / 2:
        return Remedy(words=words, at=f"{path}/format_id")
    return Remedy(
        words=f"Cut on {lightest.name}",
        patch=(
            Operation(op="set", path=f"{path}/format_id", value=lightest.id),
            # Whether it decodes the lighter format has to be tried anew.
            Operation(op="set", path=f"{path}/decoded_streams_max", value=None),
        ),
    )


@finding("remote-line-too-slow-for-the-format", BRIEF_STAGE, "warn")
def remote_line_too_slow_for_the_format(f: Figures) -> Iterator[Found]:
    """A line that carries less than the way of working asks, or answers too late."""
    rule = f.bundle.house_rules.remote_round_trip_ms_max
    for remote in f.brief.remote:
        is_late = remote.way != "proxies" and remote.round_trip_ms > rule
        if not is_late and (remote.ratio is None or remote.ratio >= 1):
            continue
        evidence = [
            Evidence(label="The line carries", value=remote.line_bytes_per_s, unit="bytes_per_s"),
            Evidence(label="Needed", value=remote.needed_bytes_per_s, unit="bytes_per_s"),
        ]
        if remote.way != "proxies":
            evidence.append(Evidence(label="Round trip", value=remote.round_trip_ms, unit="ms"))
        yield Found(
            at=remote.id,
            title=f"{remote.name}: the line is too slow for its way of working",
            evidence=tuple(evidence),
            why=f"{remote.limited_by.capitalize()} decides; no network in the house helps.",
            remedy=_proxies_ahead(f, remote),
        )


def _proxies_ahead(f: Figures, remote: RemoteResult) -> Remedy:
    """Send the lightest footage of the library ahead, where the line carries a day of it in a day."""
    seat = next(s for s in f.bundle.plan.brief.seats if s.id == remote.id)
    lightest = _lightest_footage(f)
    if isinstance(seat, RemoteSeat) and lightest is not None:
        ahead = seat.model_copy(update={"way": "proxies", "format_id": lightest.id})
        rates = {r.id: (r.mean_bytes_per_s, r.peak_bytes_per_s) for r in f.brief.formats}
        (result,) = remote_results([ahead], rates, f.bundle.plan.brief.limits.line)
        if result.ratio is not None and result.ratio >= 1:
            path = f"plan/brief/seats/{seat.id}"
            return Remedy(
                words=f"Send {lightest.name} ahead",
                patch=(
                    Operation(op="set", path=f"{path}/way", value="proxies"),
                    Operation(op="set", path=f"{path}/format_id", value=lightest.id),
                ),
            )
    words = "Send lighter proxies or less footage a day, or get a line that carries more."
    return Remedy(words=words, at=f"plan/brief/seats/{seat.id}/format_id")


def _lightest_footage(f: Figures) -> Format | None:
    rates = {r.id: r.mean_bytes_per_s for r in f.brief.formats}
    footage = [m for m in f.bundle.catalogue.formats if m.kind in ("class", "computed", "measured")]
    return min(footage, key=lambda m: rates[m.id], default=None)


@finding("cards-late", BRIEF_STAGE, "warn")
def cards_late(f: Figures) -> Iterator[Found]:
    """A shooting day's cards are not safe to wipe when the next day wants them."""
    cards, most = f.of(CARDS), f.bundle.house_rules.cards_safe_hours_max
    if cards is None or (cards.safe_seconds is not None and cards.safe_seconds <= most * 3600):
        return
    evidence = [
        Evidence(label="House rule", value=most, unit="h"),
        Evidence(label="To be moved and read back", value=cards.moved_bytes_per_day, unit="bytes"),
        Evidence(label="The readers give", value=cards.readers_bytes_per_s, unit="bytes_per_s"),
    ]
    if cards.safe_seconds is not None:
        took = Evidence(label="Safe to wipe after", value=round(cards.safe_seconds / 3600, 1), unit="h")
        evidence.insert(0, took)
    yield Found(
        title="A shooting day's cards are not safe to wipe before the next",
        evidence=tuple(evidence),
        why=f"How fast they come in hangs on {cards.limiting_name}; a card may be wiped when every copy has "
        "been read back, not when it is made.",
        remedy=_more_readers(f, cards, most),
    )


def _more_readers(f: Figures, cards: CardsResult, hours: float) -> Remedy:
    """So many readers more that the cards are in time, where the readers themselves decide."""
    stations = [s for s in f.bundle.plan.brief.seats if isinstance(s, IngestSeat) and s.count and s.readers]
    wanted = cards.bytes_per_day / (hours * 3600 * cards.readers_bytes_per_s)
    if cards.limiting_hop_id is None and len(stations) == 1:
        readers = math.ceil(stations[0].readers * wanted)
        if readers <= MOST_READERS:
            return Remedy(
                words=f"Read {readers} cards at once",
                patch=set_fields(f"plan/brief/seats/{stations[0].id}", readers=readers),
            )
    words = f"Widen what holds them back ({cards.limiting_name}), or shoot on more cards."
    return Remedy(
        words=words, at=f"plan/brief/seats/{stations[0].id}/readers" if stations else "plan/brief/seats"
    )


@finding("projects-catalogues-on-the-share", BRIEF_STAGE, "warn")
def projects_catalogues_on_the_share(f: Figures) -> Iterator[Found]:
    """A database worked on over a file share: locks and half-written pages are not made for it."""
    if f.bundle.plan.brief.projects_live != "on the share":
        return
    yield Found(
        title="Projects and catalogues are opened on the share",
        evidence=(Evidence(label="Seats that may open them", value=f.people, unit="count"),),
        why="A catalogue is a database: on a file share two may open it at once, a lost link leaves "
        "pages half written, and every search waits for the network.",
        remedy=Remedy(
            words="Keep them on each workstation, copied every night",
            patch=(
                Operation(op="set", path="plan/brief/projects_live", value="on each workstation"),
                *_copied(f),
            ),
        ),
    )


@finding("project-files-in-no-copy-plan", BRIEF_STAGE, "warn")
def project_files_in_no_copy_plan(f: Figures) -> Iterator[Found]:
    """Project files that live somewhere and are copied nowhere."""
    if f.bundle.plan.brief.projects_live == "unsaid" or not _uncopied(f):
        return
    yield Found(
        title="Project files are in no copy plan",
        evidence=(Evidence(label="Seats whose work hangs on them", value=f.people, unit="count"),),
        why="Footage can be read from cards again; the cuts are in the project files, and these are small.",
        remedy=Remedy(words="Copy them to a pool or a box every night", patch=_copied(f)),
    )


def _uncopied(f: Figures) -> str:
    """The ids of project files that are copied nowhere."""
    kinds = {m.id: m.kind for m in f.bundle.plan.safekeeping.materials}
    return " ".join(
        material.kept.id
        for material in f.keeping.materials
        if kinds[material.kept.id] == "project files" and len(material.whole) < 2
    )


def _copied(f: Figures) -> Patch:
    """A copy of the project files every night, on a box of their own."""
    material_ids = _uncopied(f)
    if not material_ids:
        return ()
    store = {"name": "Box for project files", "kind": "a box", "access": "online"}
    copy = {"name": "Project files, every night", "way": "keeps versions", "versions_days": VERSIONS_DAYS}
    return copied_patch(f.bundle, material_ids, store, copy)
