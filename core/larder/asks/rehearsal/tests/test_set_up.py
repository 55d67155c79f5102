"""What a day is set up from, looked at before it runs: every job's bytes, times, way and turn, by hand."""

import unittest
from types import SimpleNamespace as Of
from typing import Any

import numpy as np

from larder.asks.rehearsal.helped import _later
from larder.asks.rehearsal.hours import Household, hours_of
from larder.asks.rehearsal.jobs import add_jobs, destaged_s, note_busy_drives
from larder.asks.rehearsal.set_up import AS_FAST_AS_THE_WAY, SetUp
from larder.base.errors import Refused
from larder.base.units import GB, TB
from larder.laws.demand import Rush
from larder.plan.bundle import Bundle
from larder.plan.timetable import Timetable
from larder.readers.plan_file import bundle_from
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.plans import demo

from .test_rehearse import HOUR, plan
from .test_timetable import DISKS, EDIT, with_day

COPIES, LEFT_OVER = 1, 2
FLASH = {"drive_count": 2, "drive_bytes": 2 * TB, "read_bytes_per_s": 2e9, "write_bytes_per_s": 1e9}


def set_up(bundle: Bundle) -> SetUp:
    stage = SetUp(judge(bundle, PARTS))
    stage.hold_back(destaged_s(stage))
    note_busy_drives(stage)
    return stage


def two_pools() -> Bundle:
    document = plan(EDIT + ", 80 Mb/s up 100 Mb/s down", **DISKS).document()
    main = document["plan"]["pools"][0]
    document["plan"]["pools"].append(main | {"id": "cold", "name": "Cold", "tier": "archive"})
    return bundle_from(document)


class Jobs(unittest.TestCase):
    """Each told as (bytes, from, by), and its flows as (bytes, most bytes/s, from, level)."""

    def one(self, job: dict[str, Any], bundle: Bundle | None = None) -> tuple[SetUp, Any, list[Any]]:
        stage = set_up(with_day(bundle or two_pools(), {"from_minute": "11:00"} | job))
        self.changes = add_jobs(stage)
        [answer] = stage.jobs
        return stage, answer, [stage.flows[at] for at in answer.flows]

    def test_a_copy_begins_at_its_time_and_has_until_the_days_end(self) -> None:
        copy = {"kind": "copy", "pool_id": "main", "to_pool_id": "cold", "bytes": "500GB"}
        stage, answer, [flow] = self.one(copy)
        self.assertEqual(
            (answer.size_bytes, answer.starts_s, answer.deadline_s), (500 * GB, 2 * HOUR, 24 * HOUR)
        )
        self.assertEqual((flow.size_bytes, flow.starts_s, flow.level), (500 * GB, 2 * HOUR, COPIES))
        self.assertEqual(
            (flow.cap_bytes_per_s, flow.through), (AS_FAST_AS_THE_WAY, stage.buffer_of.get("cold", -1))
        )
        reads, writes = stage.at_pool("main", reads=True), stage.at_pool("cold", reads=False)
        self.assertEqual(flow.costs[-len(reads) - len(writes) :], (*reads, *writes))
        _, answer, [flow] = self.one(copy | {"most_bytes_per_s": "90MB/s", "by_minute": "08:00"})
        self.assertEqual((flow.cap_bytes_per_s, answer.deadline_s), (90e6, 23 * HOUR))

    def test_to_what_is_no_pool_of_the_plan_it_is_only_read(self) -> None:
        stage = set_up(two_pools())
        job: Any = Of(kind="copy", id="j", name="J", pool_id="main", to_pool_id="", bytes=5, most_bytes_per_s=0.0,
                      from_minute=660, by_minute=None)  # fmt: skip
        stage.timetable = Of(jobs=(job,), into_day=stage.timetable.into_day)  # type: ignore[assignment]
        add_jobs(stage)
        [flow] = stage.flows
        self.assertEqual((flow.costs, flow.through), (stage.at_pool("main", reads=True), -1))

    def test_what_it_holds_fits_and_a_byte_more_is_refused(self) -> None:
        holds = set_up(two_pools()).pools["cold"].usable_bytes
        copy = {"kind": "copy", "pool_id": "main", "to_pool_id": "cold"}
        self.one(copy | {"bytes": holds})
        self.assertRaisesRegex(Refused, "what Cold holds", self.one, copy | {"bytes": holds + 1})

    def test_an_upload_gets_what_the_line_has_and_without_a_line_it_is_refused(self) -> None:
        upload = {"kind": "upload", "pool_id": "main", "bytes": "36GB"}
        for most, cap in (({}, 10e6), ({"most_bytes_per_s": 4e6}, 4e6), ({"most_bytes_per_s": 40e6}, 10e6)):
            _, _, [flow] = self.one(upload | most)
            self.assertEqual((flow.cap_bytes_per_s, flow.through), (cap, -1))
        self.assertRaisesRegex(Refused, "outside line", self.one, upload, plan(EDIT))

    def test_a_render_writes_as_it_reads(self) -> None:
        render = {"kind": "render", "seat_id": "edit", "bytes": "300GB"}
        _, answer, [read] = self.one(render)
        self.assertEqual((answer.size_bytes, read.size_bytes), (300 * GB, 300 * GB))
        _, answer, [read, write] = self.one(
            render | {"written_bytes": "100GB", "most_bytes_per_s": "150MB/s"}
        )
        self.assertEqual((answer.size_bytes, write.size_bytes), (400 * GB, 100 * GB))
        self.assertEqual((read.cap_bytes_per_s, write.cap_bytes_per_s), (150e6, 50e6))
        self.assertEqual((read.level, write.level), (COPIES, COPIES))

    def test_cards_go_to_the_stations_in_turn_and_are_safe_in_the_houses_time(self) -> None:
        house = plan("2 ingest with 1 readers 200 MB/s, 10 h a week of 100 Mb/s", **DISKS)
        card = {"kind": "cards", "seat_id": "ingest", "bytes": "360GB", "from_minute": "11:00"}
        stage = set_up(with_day(house, card, card, card, card | {"by_minute": "12:00"}))
        add_jobs(stage)
        plugs = [stage.flows[job.flows[0]].costs[0][0] for job in stage.jobs]
        self.assertEqual([plugs[0] == plug for plug in plugs], [True, False, True, False])
        by = 2 * HOUR + house.house_rules.cards_safe_hours_max * 3600
        self.assertEqual([job.deadline_s for job in stage.jobs], [by, by, by, 3 * HOUR])
        self.assertEqual({job.size_bytes for job in stage.jobs}, {360 * GB})
        document = house.document()
        document["plan"]["brief"]["seats"][0]["copies_here"] = 2
        stage = set_up(with_day(bundle_from(document), card))
        add_jobs(stage)
        self.assertEqual(stage.jobs[0].size_bytes, 720 * GB)

    def test_a_scrub_reads_what_may_be_planned_and_leaves_the_rest_to_people(self) -> None:
        stage, answer, [flow] = self.one({"kind": "scrub", "pool_id": "main", "by_minute": "17:00"})
        pool, share = stage.pools["main"], 0.01 * stage.judged.bundle.house_rules.rebuild_share_percent
        self.assertEqual((answer.size_bytes, answer.deadline_s), (pool.plannable_bytes, 8 * HOUR))
        self.assertEqual((flow.level, flow.cap_bytes_per_s), (LEFT_OVER, pool.read.middle_bytes_per_s))
        at = stage.resources.pool("main")
        first, then = self.changes
        self.assertEqual((first.at_s, then.after), (2 * HOUR, answer.flows[0]))
        self.assertAlmostEqual(first.factors[at], 1 - share)
        self.assertAlmostEqual(first.factors[at] * then.factors[at], 1)
        # Alone it takes as long as reading the pool: its cost is of all that the drives have.
        [(place, cost)] = flow.costs
        self.assertEqual(place, stage.resources.drive_time("main"))
        self.assertAlmostEqual(cost * pool.read.middle_bytes_per_s, stage.resources.drives_of("main"))

    def test_a_rebuild_writes_a_drive_and_the_pool_is_slower_meanwhile(self) -> None:
        stage, answer, [flow] = self.one({"kind": "rebuild", "pool_id": "main"})
        pool = stage.pools["main"]
        terms = pool.rebuild_terms
        assert terms is not None
        assert pool.rebuild_alone_seconds is not None
        self.assertEqual(answer.size_bytes, terms.member_bytes * terms.allocated_share)
        time = stage.resources.drive_time("main")
        degraded = self.changes[0].factors[time]
        self.assertLess(degraded, 1)
        self.assertAlmostEqual(degraded * self.changes[1].factors[time], 1)
        self.assertAlmostEqual(
            flow.size_bytes / flow.cap_bytes_per_s, pool.rebuild_alone_seconds * degraded, places=3
        )


class HeldBack(unittest.TestCase):
    def test_staging_is_emptied_when_the_work_is_done_and_as_often_as_it_says(self) -> None:
        for every, runs in ((24, 1), (6, 4), (0.1, 96)):
            cache = FLASH | {"mode": "staging", "emptied_every_hours": every}
            stage = set_up(plan(EDIT, cache, **DISKS))
            [buffer] = stage.buffers
            assert buffer.runs is not None
            self.assertEqual(len(buffer.runs), runs)
            self.assertIn(stage.hours.ends_s, [round(at) for at in buffer.runs])
            self.assertTrue(all(0 <= at < 24 * HOUR for at in buffer.runs))
        said = {"kind": "destage", "pool_id": "main", "from_minute": "03:00"}
        self.assertEqual(set_up(with_day(plan(EDIT, cache, **DISKS), said)).buffers[0].runs, (18 * HOUR,))

    def test_flash_takes_writes_in_and_reads_pass_it(self) -> None:
        stage = set_up(plan(EDIT, FLASH | {"mode": "write-back"}, **DISKS))
        self.assertEqual([(hold.id, hold.kind) for hold in stage.holds], [("cache", "write-back")])
        self.assertIsNone(stage.buffers[0].runs)
        self.assertEqual([at for at, _ in stage.at_pool("main", reads=False)], [stage.holds_at["main"]])
        self.assertEqual([at for at, _ in stage.at_pool("main", reads=True)], [stage.resources.pool("main")])
        self.assertEqual(
            (stage.through("main", reads=False), stage.through("main", reads=True)),
            (0, -1),
        )

    def test_memory_of_a_box_is_shared_by_its_pools_without_flash(self) -> None:
        document = demo("tern-and-tide").document()
        before = set_up(bundle_from(document))
        self.assertEqual([hold.capacity_bytes for hold in before.holds], [1.6 * GB, 1.6 * GB])
        self.assertEqual(before.at_pool("main", reads=False), ())
        main, hot = document["plan"]["pools"]
        main |= {"drive_count": 5, "bays": "boathouse:1-5"}
        hot |= {key: main[key] for key in main if key.startswith("drive")} | {"bays": "boathouse:6-10"}
        together = set_up(bundle_from(document))
        self.assertEqual([hold.capacity_bytes for hold in together.holds], [0.8 * GB, 0.8 * GB])
        document["plan"]["caches"] = [
            FLASH | {"id": "c", "name": "C", "pool_id": "main", "mode": "write-back"}
        ]
        beside = set_up(bundle_from(document))
        self.assertEqual(
            {hold.kind: hold.capacity_bytes for hold in beside.holds},
            {"write-back": 4 * TB, "memory": 1.6 * GB},
        )


def hours(*parts: tuple[str, float], random: Any = None, rush: float = 0.0, **one: Any) -> Any:
    usual = {"id": "edit", "count": 1, "is_service": False, "odds": {"day": 0.5}}
    asking: Any = (Of(**(usual | one)),)
    listed: Any = tuple(Of(id=name, hours=length) for name, length in parts)
    house = Household(asking, listed, {"ingest"}, Rush(rush, 0.9), Timetable())
    return hours_of(house, random)


class WhoWorks(unittest.TestCase):
    def test_seats_of_a_class_follow_one_another(self) -> None:
        answer = hours(("day", 8.0), count=3)
        spans = [(s.starts_s / HOUR, s.stops_s / HOUR) for [s] in answer.sessions.values()]
        self.assertEqual(spans, [(0, 4), (2, 6), (4, 8)])
        self.assertEqual(answer.ends_s, 8 * HOUR)
        [alone] = hours(("day", 8.0)).sessions.values()
        self.assertEqual((alone[0].starts_s, alone[0].stops_s), (2 * HOUR, 6 * HOUR))

    def test_parts_follow_one_another_and_services_run_through_theirs(self) -> None:
        two = (("day", 8.0), ("evening", 4.0))
        answer = hours(*two, is_service=True, odds={"evening": 0.2})
        self.assertEqual([(s.starts_s, s.stops_s) for s in answer.services], [(8 * HOUR, 12 * HOUR)])
        self.assertEqual(answer.sessions, {})

    def test_cards_come_in_a_third_into_the_part_that_most_are_in(self) -> None:
        two = (("day", 6.0), ("evening", 3.0))
        answer = hours(*two, id="ingest", odds={"day": 0.2, "evening": 0.4})
        self.assertEqual(answer.cards_at_s, {(0, 0): 7 * HOUR})

    def test_a_rush_lifts_those_who_work_in_that_part_at_all(self) -> None:
        random = np.random.default_rng(1)
        whole = hours(("day", 8.0), random=random, rush=1.0, odds={"day": 1.0})
        self.assertEqual([(s.starts_s, s.stops_s) for s in whole.sessions[0, 0]], [(0, 8 * HOUR)])
        idle = hours(("day", 8.0), random=random, rush=1.0, odds={})
        self.assertEqual(idle.sessions[0, 0], ())
        hundred = hours(("day", 1000.0), random=random, rush=1.0, odds={"day": 0.1})
        worked = sum(s.stops_s - s.starts_s for s in hundred.sessions[0, 0]) / (1000 * HOUR)
        self.assertAlmostEqual(worked, 0.9, delta=0.05)


class Later(unittest.TestCase):
    """A job that runs while somebody stands begins when that is over; hours of the day from nine."""

    def words(self, spell: tuple[float, float], job: tuple[float, float | None, float]) -> list[str]:
        starts, done, deadline = job
        answer = Of(id="j", starts_s=starts * HOUR, done_s=None if done is None else done * HOUR,
                  deadline_s=deadline * HOUR)  # fmt: skip
        spells = [Of(from_s=spell[0] * HOUR, to_s=spell[1] * HOUR)]
        now: Any = Of(seats=[Of(spells=spells)], jobs=[answer], begins_s=9 * HOUR)
        timetable = Of(jobs=[Of(id="j", name="Copy"), Of(id="gone", name="Gone")])
        judged: Any = Of(bundle=Of(plan=Of(brief=Of(timetable=timetable))))
        return [f"{words} {patch[0].value}" for words, patch in _later(judged, now)]

    def test_five_minutes_after_the_last_who_stood_rounded_up(self) -> None:
        self.assertEqual(self.words((10, 11), (10, 12, 33)), ["Copy from 11:05 on 665"])
        self.assertEqual(self.words((10, 11.01), (10, 12, 33)), ["Copy from 11:10 on 670"])
        self.assertEqual(self.words((10, 25), (10, 26, 33)), ["Copy from 01:05 on 65"])

    def test_only_what_runs_beside_and_has_the_time(self) -> None:
        self.assertEqual(self.words((10, 11), (11, 12, 33)), [])
        self.assertEqual(self.words((10, 11), (8, 10, 33)), [])
        self.assertEqual(len(self.words((10, 11), (8, None, 33))), 1)
        self.assertEqual(self.words((10, 11), (10, 12, 11 + 5 / 60)), [])
        self.assertEqual(len(self.words((10, 11), (10, 12, 11 + 6 / 60))), 1)
        self.assertEqual(self.words((10, 33), (10, None, 40)), [])
