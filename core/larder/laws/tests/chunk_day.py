"""A day as chunks of 64 MiB that queue at every hop, in a general discrete-event library.

It knows nothing of :mod:`larder.laws.fluid_day`: no rates, no water levels, no states of a buffer. Each hop
serves one chunk at a time, the flows in turn by what they have had (start-time fair queuing; P. Goyal et al.,
1996), each flow has so many chunks under way, and a cache is a container that a chunk waits for.
"""

from __future__ import annotations

import math
from bisect import bisect_left
from collections.abc import Generator, Iterator
from dataclasses import dataclass, field
from typing import Any

import simpy

CHUNK_BYTES = float(64 << 20)
UNDER_WAY = 8
"""Chunks that a flow has on its way at once: enough that no hop waits for the next."""
_WINDOW_S, _WINDOW_CHUNKS = 5.0, 24
"""A player looks over so long, and over so many chunks."""
_GRAIN = 1.2
"""One chunk more or less in a window is the grain of the chunks, and not missed."""

Events = Generator[Any, Any, None]


@dataclass(frozen=True)
class Stream:
    """Chunks over ``hops`` (place, what a byte takes) in turn, into ``cache`` where that is not −1."""

    hops: tuple[tuple[int, float], ...]
    most_bytes_per_s: float
    starts_s: float = 0.0
    stops_s: float = math.inf
    size_bytes: float = math.inf
    weight: float = 1.0
    level: int = 0
    cache: int = -1
    player_s: float | None = None


@dataclass(frozen=True)
class WriteCache:
    """Holds so much, and is emptied over ``hops``; it weighs as those who write, ``weight`` while nobody does."""

    holds_bytes: float
    hops: tuple[tuple[int, float], ...]
    weight: float = 1.0
    level: int = 0


@dataclass
class Outcome:
    """``done_s`` of a job; of a player how long it stood, and what of that was missed."""

    done_s: float | None = None
    moved_bytes: float = 0.0
    unwatchable_s: float = 0.0
    frozen_s: float = 0.0


@dataclass
class ChunkDay:
    """What became of the streams, and (time, dirty bytes) of every cache whenever that changed."""

    outcomes: list[Outcome]
    dirty: list[list[tuple[float, float]]]
    chunk_hops: int = 0

    def dirty_at(self, cache: int, at_s: float) -> float:
        """Dirty bytes at a time."""
        return max((each for each in self.dirty[cache] if each[0] <= at_s), default=(0.0, 0.0))[1]


@dataclass
class _Hop:
    """One server; whose turn it is goes by level, then by what each has had for its weight."""

    env: simpy.Environment
    rate: float
    turn: float = 0.0
    had: dict[int, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        self.server = simpy.PriorityResource(self.env)

    def serve(self, who: int, weight: float, level: int, cost: float) -> Events:
        begins = max(self.turn, self.had.get(who, 0.0))
        self.had[who] = begins + CHUNK_BYTES / weight
        with self.server.request(priority=(level, begins)) as mine:
            yield mine
            self.turn = max(self.turn, begins)
            yield self.env.timeout(CHUNK_BYTES * cost / self.rate)


class _House:
    def __init__(
        self,
        streams: list[Stream],
        caches: list[WriteCache],
        rates: list[float],
        changes: list[tuple[float, dict[int, float]]],
    ) -> None:
        self.env = simpy.Environment()
        self.hops = [_Hop(self.env, rate) for rate in rates]
        self.day = ChunkDay([Outcome() for _ in streams], [[(0.0, 0.0)] for _ in caches])
        self.caches = caches
        self.players: list[_Player] = []
        self.room = [simpy.Container(self.env, c.holds_bytes, c.holds_bytes) for c in caches]
        self.dirty = [simpy.Container(self.env, math.inf, 0.0) for _ in caches]
        self.writers = [0.0 for _ in caches]
        for n, stream in enumerate(streams):
            self.env.process(self.run(n, stream))
        for n, cache in enumerate(caches):
            for _ in range(UNDER_WAY):
                self.env.process(self.drain(len(streams) + n, n, cache))
        for at_s, new in changes:
            self.env.process(self.change(at_s, new))

    def change(self, at_s: float, new: dict[int, float]) -> Events:
        """So many times as fast from then on."""
        yield self.env.timeout(at_s)
        for hop, factor in new.items():
            self.hops[hop].rate *= factor

    def run(self, n: int, stream: Stream) -> Events:
        """Send chunk after chunk, no faster than the source gives and with so many under way."""
        yield self.env.timeout(stream.starts_s)
        window = simpy.Resource(self.env, UNDER_WAY)
        player = _Player(self.env, self.day.outcomes[n], stream) if stream.player_s else None
        self.players += [player] if player else []
        left, due = stream.size_bytes, self.env.now
        pace = CHUNK_BYTES / stream.most_bytes_per_s
        if stream.cache >= 0:
            self.writers[stream.cache] += stream.weight
        while left > 1 and self.env.now < stream.stops_s:
            slot = window.request()
            yield slot
            if self.env.now < due:
                yield self.env.timeout(due - self.env.now)
            due = max(due, self.env.now) + pace
            if self.env.now >= stream.stops_s:
                break
            part = min(left / CHUNK_BYTES, 1.0)
            self.env.process(self.carry(n, stream, part, (window, slot), player))
            left -= CHUNK_BYTES
        if stream.cache >= 0:
            self.writers[stream.cache] -= stream.weight

    def carry(
        self, n: int, stream: Stream, part: float, under_way: tuple[Any, Any], player: _Player | None
    ) -> Events:
        for hop, cost in stream.hops:
            self.day.chunk_hops += 1
            yield from self.hops[hop].serve(n, stream.weight, stream.level, cost * part)
        if stream.cache >= 0:
            yield self.room[stream.cache].get(CHUNK_BYTES * part)
            self.dirty[stream.cache].put(CHUNK_BYTES * part)
            self.note(stream.cache, CHUNK_BYTES * part)
        window, slot = under_way
        window.release(slot)
        answer = self.day.outcomes[n]
        answer.moved_bytes += CHUNK_BYTES * part
        if answer.moved_bytes >= stream.size_bytes - 1:
            answer.done_s = self.env.now
        if player and self.env.now <= stream.stops_s:
            player.came()

    def note(self, cache: int, more: float) -> None:
        log = self.day.dirty[cache]
        log.append((self.env.now, log[-1][1] + more))

    def drain(self, who: int, n: int, cache: WriteCache) -> Events:
        while True:
            yield self.dirty[n].get(CHUNK_BYTES)
            for hop, cost in cache.hops:
                self.day.chunk_hops += 1
                weight = self.writers[n] or cache.weight
                yield from self.hops[hop].serve(who, weight, cache.level, cost)
            yield self.room[n].put(CHUNK_BYTES)
            self.note(n, -CHUNK_BYTES)


class _Player:
    """Footage in hand, told at the end from the times at which chunks came.

    Chunks come in bursts, so they are counted in windows of some of them; a window in which as many came as are
    played fills the player again.
    """

    def __init__(self, env: simpy.Environment, outcome: Outcome, stream: Stream) -> None:
        self.env, self.told, self.stream = env, outcome, stream
        self.times: list[float] = []

    def came(self) -> None:
        """A chunk is there."""
        self.times.append(self.env.now)

    def tell(self, ends_s: float) -> None:
        """How long it stood, and what of that was missed."""
        footage = CHUNK_BYTES / self.stream.most_bytes_per_s
        window = max(_WINDOW_S, _WINDOW_CHUNKS * footage)
        full = self.stream.player_s or 0.0
        holds, stands = full, False
        at, stops = self.stream.starts_s, min(self.stream.stops_s, ends_s)
        while at < stops - footage:
            length = min(window, stops - at)
            came = bisect_left(self.times, at + length) - bisect_left(self.times, at)
            missed = max(1 - came * footage / length, 0.0)
            if missed < _GRAIN * footage / length:
                missed = 0.0
            if not stands:
                holds = min(holds - missed * length, full) if missed else full
                if holds < 0:
                    self.told.frozen_s += -holds
                    self.told.unwatchable_s += min(-holds / missed, length)
                    holds, stands = 0.0, True
            else:
                self.told.unwatchable_s += length if missed else min(full, length)
                self.told.frozen_s += missed * length
                stands = missed > 0
                holds = 0.0 if stands else full
            at += length


def chunk_day(
    streams: list[Stream],
    caches: list[WriteCache],
    rates: list[float],
    ends_s: float,
    changes: list[tuple[float, dict[int, float]]],
) -> ChunkDay:
    """Let the day go by, chunk by chunk."""
    house = _House(streams, caches, rates, changes)
    house.env.run(until=ends_s)
    for player in house.players:
        player.tell(ends_s)
    return house.day


def sampled(ends_s: float, many: int) -> Iterator[float]:
    """Times at which curves are compared."""
    return (ends_s * (n + 0.5) / many for n in range(many))
