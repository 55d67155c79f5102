"""The workings of many small files: how many a second a seat gets."""

from __future__ import annotations

from dataclasses import dataclass

from larder.base.terms import Term, given, made
from larder.judge.evaluation import Evaluation
from larder.plan.bundle import Bundle
from larder.stages.small_files import SmallFilesResult

from .working import working


@dataclass(frozen=True)
class _Seat:
    """A seat that asks for files, called as the figure is."""

    id: str
    name: str
    files: SmallFilesResult


def _seats(e: Evaluation) -> tuple[_Seat, ...]:
    return tuple(_Seat(files.seat_id, files.seat_name, files) for files in e.small_files)


@working(
    "files.{id}",
    title="{name}: files a second",
    unit="files a second",
    source="Serial requests; round trips and their time in the office are stated assumptions, what a first "
    "byte takes is the drives' own",
    read=lambda _, seat: seat.files.given_files_per_s,
    subjects=_seats,
)
def _files(_: Bundle, __: Evaluation, seat: _Seat) -> Term:
    result = seat.files.terms
    flash = given("Answered by flash", result.flash_share, "share")
    first_byte = made(
        "A first byte", "s_as_ms", "sum",
        made("From flash", "s_as_ms", "product",
             flash, given("Flash", result.flash_latency_seconds, "s_as_ms")),
        made("From the drives", "s_as_ms", "product",
             made("Answered by the drives", "share", "rest", flash),
             given("A drive", result.drive_latency_seconds, "s_as_ms")),
    )  # fmt: skip
    waiting = made(
        "Waiting", "s_as_ms", "sum",
        made("Round trips", "s_as_ms", "product",
             given("Round trips for it", result.round_trips, "count"),
             given("One of them", result.round_trip_seconds, "s_as_ms")),
        made("First bytes", "s_as_ms", "product",
             given("Operations for it", result.operations, "count"), first_byte),
    )  # fmt: skip
    seconds = made(
        "Time a file", "s_as_ms", "sum",
        made("Its part of the waiting", "s_as_ms", "quotient",
             waiting, given("Asked for at once", result.at_once, "count")),
        made("Its bytes", "s_as_ms", "quotient",
             given("One file", seat.files.file_bytes, "bytes"),
             given("Slowest link or the pool", result.bytes_per_s, "bytes_per_s")),
    )  # fmt: skip
    return made("Files a second", "files a second", "quotient", given("One", 1, ""), seconds)
