"""What a seat asks of the storage at its peak: the sum of its activities."""

from __future__ import annotations

from dataclasses import dataclass

from larder.plan.formats import Rates, files_per_s_of
from larder.plan.seats import FootageSeat, IngestSeat, PhotoSeat


@dataclass(frozen=True)
class SeatDemand:
    """What one seat asks at its peak, bytes/s, streams and files a second.

    Of what is read and written the paced part must keep its rate or frames drop; the rest, copies, renders
    and exports, is as fast as its source and the way allow. What is played from the archive is paced.
    ``stream_bytes_per_s`` is the heaviest single paced stream.
    """

    read_bytes_per_s: float = 0.0
    write_bytes_per_s: float = 0.0
    archive_bytes_per_s: float = 0.0
    streams: int = 0
    files_per_s: float = 0.0
    archive_streams: int = 0
    paced_read_bytes_per_s: float = 0.0
    paced_write_bytes_per_s: float = 0.0
    stream_bytes_per_s: float = 0.0


def demand_of(seat: FootageSeat | PhotoSeat | IngestSeat, rates: Rates) -> SeatDemand:
    """The sum of the seat's activities at their peak rates."""
    if isinstance(seat, FootageSeat):
        return _footage(seat, rates)
    if isinstance(seat, PhotoSeat):
        return SeatDemand(
            read_bytes_per_s=seat.image_bytes * seat.images_per_s,
            write_bytes_per_s=seat.export_bytes * seat.exports_per_s + seat.image_bytes * seat.tethered_per_s,
            streams=1,
            files_per_s=seat.images_per_s + seat.exports_per_s + seat.tethered_per_s,
            paced_read_bytes_per_s=seat.image_bytes * seat.images_per_s,
            paced_write_bytes_per_s=seat.image_bytes * seat.tethered_per_s,
            stream_bytes_per_s=seat.image_bytes * max(seat.images_per_s, seat.tethered_per_s),
        )
    written = seat.readers * seat.card_bytes_per_s * seat.copies_here
    # Reading back overlaps with the next card's copy, at the same rate.
    return SeatDemand(
        read_bytes_per_s=written if seat.verifies else 0.0,
        write_bytes_per_s=written,
        streams=seat.readers * seat.copies_here * (2 if seat.verifies else 1),
    )


def _footage(seat: FootageSeat, rates: Rates) -> SeatDemand:
    streams = seat.streams * seat.angles
    main = streams * rates[seat.format_id][1]
    reads, writes = (0.0, main) if seat.direction == "write" else (main * seat.shuttle_factor, 0.0)
    paced = reads, writes
    files = streams * files_per_s_of(rates[seat.format_id]) * (1 if writes else seat.shuttle_factor)
    archive = reads * seat.archive_share
    archive_streams = streams if archive else 0
    for activity in seat.activities:
        asked = activity.streams * activity.speed_factor * rates[activity.format_id][1]
        if activity.direction == "read":
            reads += asked
        else:
            writes += asked
        files += activity.streams * activity.speed_factor * files_per_s_of(rates[activity.format_id])
        streams += activity.streams
    return SeatDemand(
        reads,
        writes,
        archive,
        streams,
        files_per_s=files,
        archive_streams=archive_streams,
        paced_read_bytes_per_s=paced[0],
        paced_write_bytes_per_s=paced[1],
        stream_bytes_per_s=rates[seat.format_id][1] if streams else 0.0,
    )
