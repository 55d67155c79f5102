"""A day as a fluid: flows share what they cross max-min fair, and between two events all rates stand still.

Events are starts, stops and ends of flows, buffers that fill or run empty, players' buffers that do, and
capacities that change. A buffer's fill is a state (empty, between, full), never a comparison of figures, so
that time always moves on: while it is full it takes in what it is drained of, while it is empty it is drained
of what it takes in. The model is the fluid limit of packets (L. Kleinrock, *Queueing Systems II*, 2.7).
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from enum import Enum

Costs = Sequence[tuple[int, float]]
"""(place of a resource, what a byte takes of it), for every resource that is crossed."""
_NOTHING = 1e-9
"""Bytes, seconds and parts of a rate below this are rounding."""
_MOST_TURNS = 40
"""Turns in which a full or empty buffer and its drain settle; each is a contraction."""


@dataclass(frozen=True)
class Flow:
    """Bytes on their way from ``starts_s`` on, at most at ``cap_bytes_per_s``, bytes and seconds.

    A session stops at ``stops_s``; a job ends when ``size_bytes`` are moved. ``costs`` is what a byte takes
    of every resource; ``through`` the buffer that it is written into, -1 for none. A flow with ``player_s``
    feeds a player that holds so many seconds. A lower ``level`` is served first.
    """

    costs: Costs
    cap_bytes_per_s: float
    starts_s: float = 0.0
    stops_s: float = math.inf
    size_bytes: float = math.inf
    weight: float = 1.0
    level: int = 0
    through: int = -1
    player_s: float | None = None


@dataclass(frozen=True)
class Buffer:
    """What takes in so many bytes and is drained at ``costs`` a byte, at most at ``cap_bytes_per_s``.

    Its drain weighs as much as those who write into it together, so that a full one is no other sharing than
    none; ``weight`` when nobody writes. With ``runs`` it is drained from those times on only, each time
    until it is empty.
    """

    capacity_bytes: float
    costs: Costs
    cap_bytes_per_s: float = math.inf
    weight: float = 1.0
    level: int = 0
    dirty_bytes: float = 0.0
    runs: tuple[float, ...] | None = None


@dataclass(frozen=True)
class ShareChange:
    """From ``at_s`` on these resources have so many times what they had, and these flows cross what is said.

    With ``after`` it comes when that flow is done, if it is; ``at_s`` is told then.
    """

    at_s: float
    factors: Mapping[int, float] = field(default_factory=dict)
    costs: Mapping[int, Costs] = field(default_factory=dict)
    after: int = -1


@dataclass(frozen=True)
class FlowResult:
    """What became of a flow. ``done_s`` is None where it was not done by the end of the day.

    ``unwatchable_s`` is playing time from an empty player until it is filled again, ``frozen_s`` the part of
    it that was missed, (1 − rate ÷ need) dt; ``blamed`` has the unwatchable seconds by the resource that
    stopped it, -1 while it was filled again. ``spells`` are the times from and to.
    """

    moved_bytes: float
    done_s: float | None
    unwatchable_s: float
    frozen_s: float
    blamed: Mapping[int, float]
    spells: tuple[tuple[float, float], ...]


@dataclass(frozen=True)
class Moment:
    """What stands still from ``at_s`` until the next moment: rates and use; dirty bytes are at its start."""

    at_s: float
    rates: tuple[float, ...]
    used: tuple[float, ...]
    dirty_bytes: tuple[float, ...]


@dataclass(frozen=True)
class FluidDay:
    """The day as it went. ``conservation_error_bytes`` is what came in and neither went out nor is held.

    ``changes`` are those that came, with their times.
    """

    flows: tuple[FlowResult, ...]
    moments: tuple[Moment, ...]
    dirty_bytes_max: tuple[float, ...]
    conservation_error_bytes: float
    changes: tuple[ShareChange, ...] = ()


def shares(
    caps: Sequence[float],
    weights: Sequence[float],
    levels: Sequence[int],
    costs: Sequence[Costs],
    capacities: Sequence[float],
) -> tuple[list[float], list[int]]:
    """(rates, the resource that stops each or -1) of flows that share max-min fair by their weights.

    As :func:`larder.laws.max_min.max_min`, for the few flows of a moment, each with the few resources that it
    crosses.
    """
    rates, stopped = [0.0] * len(caps), [-1] * len(caps)
    left = list(capacities)
    for level in sorted(set(levels)):
        active = [n for n, own in enumerate(levels) if own == level and caps[n] > 0]
        if _all_fit(active, caps, costs, left):
            for n in active:
                rates[n] = caps[n]
            continue
        while active:
            water, at = _water(active, weights, costs, left)
            # Who asks no more than the water stands is served; else the narrowest resource stops its own.
            met = [n for n in active if caps[n] <= water * weights[n] * (1 + _NOTHING)]
            if not met:
                met = [n for n in active if any(resource == at for resource, _ in costs[n])]
                for n in met:
                    rates[n], stopped[n] = water * weights[n], at
            else:
                for n in met:
                    rates[n] = caps[n]
            for n in met:
                for resource, cost in costs[n]:
                    left[resource] = max(left[resource] - rates[n] * cost, 0.0)
            served = set(met)
            active = [n for n in active if n not in served]
    return rates, stopped


def _all_fit(active: list[int], caps: Sequence[float], costs: Sequence[Costs], left: list[float]) -> bool:
    """Whether everybody gets all that is asked, which is taken away from what is ``left`` then."""
    after = left.copy()
    for n in active:
        cap = caps[n]
        for resource, cost in costs[n]:
            after[resource] -= cap * cost
            if after[resource] < 0:
                return False
    left[:] = after
    return True


def _water(
    active: list[int], weights: Sequence[float], costs: Sequence[Costs], left: list[float]
) -> tuple[float, int]:
    """(how high the water may stand, the resource that is full then)."""
    use: dict[int, float] = {}
    for n in active:
        for resource, cost in costs[n]:
            use[resource] = use.get(resource, 0.0) + weights[n] * cost
    narrow = ((left[resource] / asked, resource) for resource, asked in use.items() if asked > 0)
    return min(narrow, default=(math.inf, -1))


class _Fill(Enum):
    EMPTY = 0
    BETWEEN = 1
    FULL = 2


@dataclass
class _Player:
    """Seconds that a player holds; it stands from empty until it is filled again."""

    holds_s: float
    stands: bool = False
    unwatchable_s: float = 0.0
    frozen_s: float = 0.0
    blamed: dict[int, float] = field(default_factory=dict)
    spells: list[tuple[float, float]] = field(default_factory=list)


class _Run:
    """The state of a day while it goes on."""

    def __init__(
        self,
        flows: Sequence[Flow],
        buffers: Sequence[Buffer],
        capacities: Sequence[float],
        ends_s: float,
        changes: Sequence[ShareChange],
    ) -> None:
        self.flows, self.buffers, self.ends_s = flows, buffers, ends_s
        self.capacities = list(capacities)
        self.costs = [flow.costs for flow in flows]
        self.waiting = sorted((c for c in changes if c.after < 0), key=lambda change: change.at_s)
        self.following = [change for change in changes if change.after >= 0]
        self.changes: list[ShareChange] = []
        self.now = 0.0
        self.moved = [0.0] * len(flows)
        self.done: list[float | None] = [None] * len(flows)
        self.dirty = [buffer.dirty_bytes for buffer in buffers]
        self.fill = [_fill_of(buffer) for buffer in buffers]
        self.drained = [0.0] * len(buffers)
        self.is_drained = [buffer.runs is None for buffer in buffers]
        self.dirty_max = list(self.dirty)
        self.players = {
            n: _Player(flow.player_s) for n, flow in enumerate(flows) if flow.player_s is not None
        }
        self.moments: list[Moment] = []
        runs = (at for buffer in buffers for at in buffer.runs or ())
        ends = (at for flow in flows for at in (flow.starts_s, flow.stops_s))
        self.times = sorted({at for at in (*ends, *runs) if 0 < at < math.inf}, reverse=True)
        """When flows start and stop and runs begin, the next one last."""
        self.coming = sorted(range(len(flows)), key=lambda n: (-flows[n].starts_s, -n))
        self.running: list[int] = []
        self.shared: tuple[object, tuple[list[float], list[int], list[float]]] | None = None

    def change(self) -> None:
        """Let come what has its time, or follows what is done."""
        for change in [c for c in self.following if self.done[c.after] is not None]:
            self.following.remove(change)
            self.waiting.insert(0, replace(change, at_s=self.now))
        while self.waiting and self.waiting[0].at_s <= self.now + _NOTHING:
            change = self.waiting.pop(0)
            self.changes.append(change)
            for resource, factor in change.factors.items():
                self.capacities[resource] *= factor
            for n, costs in change.costs.items():
                self.costs[n] = costs
        for n, buffer in enumerate(self.buffers):
            begins = any(abs(self.now - at) <= _NOTHING for at in buffer.runs or ())
            if begins and self.fill[n] is not _Fill.EMPTY:
                self.is_drained[n] = True

    def active(self) -> list[int]:
        """The flows that run now, in their order."""
        came = False
        while self.coming and self.flows[self.coming[-1]].starts_s <= self.now:
            n = self.coming.pop()
            if self.flows[n].cap_bytes_per_s > 0:
                self.running.append(n)
                came = True
        kept = [n for n in self.running if self.now < self.flows[n].stops_s and self.done[n] is None]
        self.running = sorted(kept) if came else kept
        return self.running

    def share(self, active: list[int]) -> tuple[list[float], list[int], list[float]]:
        """As :meth:`_share`; where nothing has changed but players, as it was."""
        now = tuple(active), tuple(self.fill), tuple(self.is_drained), len(self.changes)
        if self.shared is None or self.shared[0] != now:
            self.shared = now, self._share(active)
        return self.shared[1]

    def _share(self, active: list[int]) -> tuple[list[float], list[int], list[float]]:
        """(rates of the active flows, what stops each, rates of the buffers' drains), settled."""
        count, resources = len(active), len(self.capacities)
        may = zip(self.buffers, self.is_drained, strict=True)
        most = [buffer.cap_bytes_per_s if is_drained else 0.0 for buffer, is_drained in may]
        drains = [0.0 if fill is _Fill.EMPTY else cap for fill, cap in zip(self.fill, most, strict=True)]
        intake = [math.inf] * len(self.buffers)
        costs = [self._costs(n, resources) for n in active] + [buffer.costs for buffer in self.buffers]
        weights = [self.flows[n].weight for n in active] + self._drains_weigh(active)
        levels = [self.flows[n].level for n in active] + [buffer.level for buffer in self.buffers]
        for _ in range(_MOST_TURNS):
            caps = [self.flows[n].cap_bytes_per_s for n in active] + drains
            rates, stopped = shares(caps, weights, levels, costs, [*self.capacities, *intake])
            if self._settled(self.came(active, rates), rates[count:], (drains, intake, most)):
                break
        return rates[:count], stopped[:count], rates[count:]

    def _drains_weigh(self, active: list[int]) -> list[float]:
        writers = [0.0] * len(self.buffers)
        for n in active:
            if self.flows[n].through >= 0:
                writers[self.flows[n].through] += self.flows[n].weight
        return [own or buffer.weight for own, buffer in zip(writers, self.buffers, strict=True)]

    def came(self, active: list[int], rates: list[float]) -> list[float]:
        """What is written into each buffer, bytes/s."""
        came = [0.0] * len(self.buffers)
        for at, n in enumerate(active):
            if self.flows[n].through >= 0:
                came[self.flows[n].through] += rates[at]
        return came

    def _settled(
        self,
        came: list[float],
        drained: list[float],
        set_to: tuple[list[float], list[float], list[float]],
    ) -> bool:
        """Whether empty buffers are drained of what comes and full ones take what is drained; else set so."""
        settled = True
        drains, intake, most = set_to
        for n, fill in enumerate(self.fill):
            slack = _NOTHING * (1 + max(came[n], drained[n]))
            if fill is _Fill.EMPTY and abs(drains[n] - min(came[n], most[n])) > slack:
                drains[n], settled = min(came[n], most[n]), False
            elif fill is _Fill.FULL and abs(intake[n] - drained[n]) > slack:
                intake[n], settled = drained[n], False
        return settled

    def _costs(self, n: int, resources: int) -> Costs:
        """What a flow crosses, and the intake of its buffer as one resource more."""
        through = self.flows[n].through
        return self.costs[n] if through < 0 else (*self.costs[n], (resources + through, 1.0))

    def tell(self, active: list[int], rates: list[float], drains: list[float]) -> None:
        """Keep what stands still from now on."""
        everybody, used = [0.0] * len(self.flows), [0.0] * len(self.capacities)
        for n, rate in zip(active, rates, strict=True):
            everybody[n] = rate
            for resource, cost in self.costs[n]:
                used[resource] += rate * cost
        for buffer, rate in zip(self.buffers, drains, strict=True):
            for resource, cost in buffer.costs:
                used[resource] += rate * cost
        self.moments.append(Moment(self.now, tuple(everybody), tuple(used), tuple(self.dirty)))

    def turned(self, net: list[float], drains: list[float]) -> bool:
        """Whether a buffer that was full is drained faster than it fills, or an empty one fills."""
        turned = False
        for n, fill in enumerate(self.fill):
            slack = _NOTHING * (1 + drains[n])
            if (fill is _Fill.FULL and net[n] < -10 * slack) or (fill is _Fill.EMPTY and net[n] > 10 * slack):
                self.fill[n], turned = _Fill.BETWEEN, True
        return turned

    def until(self, active: list[int], rates: list[float], net: list[float]) -> float:
        """Seconds until something happens."""
        ahead = [self.ends_s - self.now, *(change.at_s - self.now for change in self.waiting[:1])]
        while self.times and self.times[-1] <= self.now:
            self.times.pop()
        ahead += [at - self.now for at in self.times[-1:]]
        for at, n in enumerate(active):
            left = self.flows[n].size_bytes - self.moved[n]
            if math.isfinite(left) and rates[at] > 0:
                ahead.append(left / rates[at])
            ahead += self._until_player(n, rates[at])
        for n, fill in enumerate(self.fill):
            if fill is _Fill.BETWEEN and net[n]:
                room = self.buffers[n].capacity_bytes - self.dirty[n] if net[n] > 0 else -self.dirty[n]
                ahead.append(room / net[n])
        return max(min(ahead), 0.0)

    def _until_player(self, n: int, rate: float) -> Iterator[float]:
        player, flow = self.players.get(n), self.flows[n]
        if player is None or flow.player_s is None:
            return
        missed = _missed(rate, flow.cap_bytes_per_s)
        if player.stands and not missed:
            yield flow.player_s - player.holds_s
        elif not player.stands and missed:
            yield player.holds_s / missed

    def advance(self, seconds: float, active: list[int], rates: list[float], stopped: list[int]) -> None:
        """Let so many seconds go by for the flows; who has moved all is done."""
        for at, n in enumerate(active):
            flow = self.flows[n]
            self.moved[n] += rates[at] * seconds
            if flow.size_bytes - self.moved[n] <= max(rates[at], 1.0) * _NOTHING * 1e3:
                self.moved[n], self.done[n] = flow.size_bytes, self.now + seconds
            if n in self.players:
                self._play(n, rates[at], stopped[at], seconds)

    def _play(self, n: int, rate: float, stopped: int, seconds: float) -> None:
        player, flow = self.players[n], self.flows[n]
        full, missed = flow.player_s or 0.0, _missed(rate, flow.cap_bytes_per_s)
        if player.stands:
            player.unwatchable_s += seconds
            player.frozen_s += missed * seconds
            player.blamed[stopped] = player.blamed.get(stopped, 0.0) + seconds
            player.spells[-1] = (player.spells[-1][0], self.now + seconds)
            player.holds_s = player.holds_s if missed else player.holds_s + seconds
            player.stands = player.holds_s < full - _NOTHING
        elif missed:
            player.holds_s = max(player.holds_s - missed * seconds, 0.0)
            if player.holds_s <= _NOTHING:
                player.holds_s, player.stands = 0.0, True
                player.spells.append((self.now + seconds, self.now + seconds))
        else:
            player.holds_s = min(player.holds_s + seconds, full)

    def fill_up(self, seconds: float, net: list[float], drains: list[float]) -> None:
        """Let so many seconds go by for the buffers; a run ends where one is empty."""
        for n, buffer in enumerate(self.buffers):
            self.drained[n] += drains[n] * seconds
            if self.fill[n] is not _Fill.BETWEEN:
                continue
            self.dirty[n] += net[n] * seconds
            self.dirty_max[n] = max(self.dirty_max[n], min(self.dirty[n], buffer.capacity_bytes))
            slack = max(abs(net[n]), 1.0) * _NOTHING * 1e3
            if net[n] > 0 and self.dirty[n] >= buffer.capacity_bytes - slack:
                self.dirty[n], self.fill[n] = buffer.capacity_bytes, _Fill.FULL
            elif net[n] < 0 and self.dirty[n] <= slack:
                self.dirty[n], self.fill[n] = 0.0, _Fill.EMPTY
                self.is_drained[n] = buffer.runs is None


def _missed(rate: float, need: float) -> float:
    """The part of what is needed that does not come."""
    missed = 1 - rate / need
    return missed if missed > _NOTHING else 0.0


def _fill_of(buffer: Buffer) -> _Fill:
    if buffer.dirty_bytes <= 0:
        return _Fill.EMPTY
    return _Fill.FULL if buffer.dirty_bytes >= buffer.capacity_bytes else _Fill.BETWEEN


def fluid_day(
    flows: Sequence[Flow],
    buffers: Sequence[Buffer],
    capacities: Sequence[float],
    ends_s: float,
    changes: Sequence[ShareChange] = (),
) -> FluidDay:
    """The day from 0 to ``ends_s`` over resources of these capacities, above 0."""
    run = _Run(flows, buffers, capacities, ends_s, changes)
    while run.now < ends_s - _NOTHING:
        run.change()
        active = run.active()
        rates, stopped, drains = run.share(active)
        net = [came - drain for came, drain in zip(run.came(active, rates), drains, strict=True)]
        if run.turned(net, drains):
            continue
        run.tell(active, rates, drains)
        # Rounding must not keep the clock from moving.
        seconds = max(run.until(active, rates, net), _NOTHING)
        run.advance(seconds, active, rates, stopped)
        run.fill_up(seconds, net, drains)
        run.now += seconds
    return _day_of(run)


def capacities_over(capacities: Sequence[float], day: FluidDay) -> Iterator[list[float]]:
    """What the resources have at every moment of a day that began with ``capacities``."""
    now, changes = list(capacities), list(day.changes)
    for moment in day.moments:
        while changes and changes[0].at_s <= moment.at_s + _NOTHING:
            for resource, factor in changes.pop(0).factors.items():
                now[resource] *= factor
        yield list(now)


def _day_of(run: _Run) -> FluidDay:
    nobody = _Player(0.0)
    result = []
    for n, flow in enumerate(run.flows):
        player = run.players.get(n, nobody)
        done = run.done[n] if math.isfinite(flow.size_bytes) else None
        result.append(
            FlowResult(
                run.moved[n], done, player.unwatchable_s, player.frozen_s, player.blamed, tuple(player.spells)
            )
        )
    error = 0.0
    for n, buffer in enumerate(run.buffers):
        came = sum(run.moved[m] for m, flow in enumerate(run.flows) if flow.through == n)
        error += abs(came - run.drained[n] - (run.dirty[n] - buffer.dirty_bytes))
    changes = tuple(run.changes)
    return FluidDay(tuple(result), tuple(run.moments), tuple(run.dirty_max), error, changes)
