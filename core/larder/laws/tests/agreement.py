"""A fluid day beside the same day as chunks: how far they are apart in what is told of either."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from larder.laws.fluid_day import Buffer, Flow, FluidDay, ShareChange, fluid_day

from .chunk_day import CHUNK_BYTES, ChunkDay, Stream, WriteCache, chunk_day, sampled

_TIMES = 400
LEAST_CHUNKS = 200
"""A buffer of fewer chunks, such as a box's memory, has a curve of steps: only its effects are compared."""


@dataclass(frozen=True)
class Scene:
    """A day as both models take it."""

    flows: Sequence[Flow]
    buffers: Sequence[Buffer]
    capacities: Sequence[float]
    ends_s: float
    changes: Sequence[ShareChange] = ()

    def as_fluid(self) -> FluidDay:
        return fluid_day(self.flows, self.buffers, self.capacities, self.ends_s, self.changes)

    def as_chunks(self, changes: Sequence[ShareChange]) -> ChunkDay:
        """``changes`` with the times that the fluid day gave those that follow a flow."""
        return chunk_day(
            [_stream(flow) for flow in self.flows],
            [WriteCache(b.capacity_bytes, tuple(b.costs), b.weight, b.level) for b in self.buffers],
            list(self.capacities),
            self.ends_s,
            [(change.at_s, dict(change.factors)) for change in changes],
        )


def _stream(flow: Flow) -> Stream:
    return Stream(
        hops=tuple((at, cost) for at, cost in flow.costs if cost > 0),
        most_bytes_per_s=flow.cap_bytes_per_s,
        starts_s=flow.starts_s,
        stops_s=flow.stops_s,
        size_bytes=flow.size_bytes,
        weight=flow.weight,
        level=flow.level,
        cache=flow.through,
        player_s=flow.player_s,
    )


@dataclass(frozen=True)
class Apart:
    """The most that the two are apart: ``completions`` of their duration, ``caches`` of what one holds.

    ``frozen`` is 1 at the edge of 5 % or 100 s, whichever is more. ``jobs``, ``stood_s`` and ``dirty_bytes``
    say how much there was to compare.
    """

    completions: float
    frozen: float
    caches: float
    jobs: int
    stood_s: float
    dirty_bytes: float


def apart(scene: Scene, fluid: FluidDay, chunks: ChunkDay) -> Apart:
    """How far the models are apart; a job that only one of them ends is apart altogether."""
    ended = []
    for flow, answer, outcome in zip(scene.flows, fluid.flows, chunks.outcomes, strict=True):
        if answer.done_s is None and outcome.done_s is None:
            continue
        if answer.done_s is None or outcome.done_s is None:
            ended.append(1.0)
            continue
        ended.append(abs(answer.done_s - outcome.done_s) / (answer.done_s - flow.starts_s))
    froze = [
        abs(answer.frozen_s - outcome.frozen_s) / max(0.05 * answer.frozen_s, 100.0)
        for answer, outcome in zip(fluid.flows, chunks.outcomes, strict=True)
    ]
    curves = []
    for n, buffer in enumerate(scene.buffers):
        if buffer.capacity_bytes < LEAST_CHUNKS * CHUNK_BYTES:
            continue
        for at_s in sampled(scene.ends_s, _TIMES):
            off = abs(dirty_at(fluid, n, at_s) - chunks.dirty_at(n, at_s))
            curves.append(off / buffer.capacity_bytes)
    return Apart(
        completions=max(ended, default=0.0),
        frozen=max(froze, default=0.0),
        caches=max(curves, default=0.0),
        jobs=len(ended),
        stood_s=sum(answer.unwatchable_s for answer in fluid.flows),
        dirty_bytes=sum(fluid.dirty_bytes_max),
    )


def dirty_at(day: FluidDay, n: int, at_s: float) -> float:
    """Dirty bytes of the fluid day's buffer, straight between its moments."""
    before = max((m for m in day.moments if m.at_s <= at_s), key=lambda m: m.at_s)
    after = min((m for m in day.moments if m.at_s > at_s), key=lambda m: m.at_s, default=before)
    if after is before:
        return before.dirty_bytes[n]
    share = (at_s - before.at_s) / (after.at_s - before.at_s)
    return before.dirty_bytes[n] + share * (after.dirty_bytes[n] - before.dirty_bytes[n])
