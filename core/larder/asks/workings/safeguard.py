"""The workings of the odds: how likely a pool loses data in a year, and how long it hangs by fewer drives."""

from __future__ import annotations

from larder.base.terms import Term, by_law, given, made
from larder.judge.evaluation import Evaluation
from larder.laws.loss_odds import HOURS_A_YEAR, Group, loss_odds, rate_of_afr
from larder.plan.bundle import Bundle
from larder.stages.odds import PoolOdds

from .working import working


def _hangs(pool: PoolOdds) -> Term:
    return made(
        "A dead drive replaced and rebuilt",
        "h",
        "sum",
        given("Until a new drive is in", pool.waits_hours, "h"),
        given("Its rebuild, beside people", pool.rebuild_hours, "h"),
    )


@working(
    "odds.{id}.hangs",
    title="{name}: hours until a dead drive is replaced and rebuilt",
    unit="h",
    source="A hot spare begins at once, one from the shelf when somebody is there, else what is delivered; "
    "then the rebuild with the share that it gets beside people",
    read=lambda _, pool: pool.waits_hours + pool.rebuild_hours,
    subjects=lambda e: e.odds,
)
def _hangs_by_fewer(_: Bundle, __: Evaluation, pool: PoolOdds) -> Term | None:
    return _hangs(pool)


@working(
    "odds.{id}.loss",
    title="{name}: a loss of data in a year",
    unit="share",
    source="Markov chain of dead drives as in Patterson, Gibson, Katz (1988), its transient after a year, "
    "with a read error in the last rebuild, and drives of one batch that die after each other. Fire, theft, "
    "people, controllers and firmware are left out",
    read=lambda _, pool: pool.odds.total,
    subjects=lambda e: e.odds,
)
def _loss(_: Bundle, __: Evaluation, pool: PoolOdds) -> Term | None:
    def chain(deaths: float, hours: float, read: float, *others: float) -> float:
        members, survives, times = others
        group = Group(
            members=round(members),
            tolerates=round(survives),
            failures_per_hour=rate_of_afr(deaths),
            repairs_per_hour=1 / max(hours, 1e-3),
            fatal_read=read,
            while_repairing=times,
        )
        return loss_odds(group, HOURS_A_YEAR).total

    one = by_law(
        "One of its groups loses data",
        "share",
        "the chain of dead drives after a year",
        chain,
        given("Drives that die in a year", pool.deaths_a_year, "share"),
        _hangs(pool),
        given("The last rebuild meets an unreadable sector", pool.fatal_read, "share"),
        given("Drives in a group", pool.members, "drives"),
        given("Dead drives it survives", pool.survives, "drives"),
        given("As often beside a dead one", pool.batch_times, "×"),
    )
    return made("A loss in a year", "share", "at least once", one, given("Groups", pool.groups, "count"))
