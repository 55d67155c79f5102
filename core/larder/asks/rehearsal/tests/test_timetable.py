"""What the timetable fixes, and its jobs: by hand, at both ends, and what is refused."""

import re
import unittest
from typing import Any

from larder.asks.rehearsal.account import minutes_text
from larder.asks.rehearsal.drawn_day import drawn_day
from larder.asks.rehearsal.failures import Failure
from larder.asks.rehearsal.helped import helped
from larder.asks.rehearsal.many_days import rehearse_days
from larder.asks.rehearsal.rehearse import Rehearsal, RehearsedJob, rehearse
from larder.base.errors import Refused, RefusedMany
from larder.base.patch import apply_patch
from larder.base.units import GB, MB, TB
from larder.judge.evaluation import evaluate
from larder.laws.device import VISIT_BYTES
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.tests.random_plans import random_plan

from .test_rehearse import HOUR, plan, seat

EDIT = "2 edit seats play 2 streams 220 Mb/s at peak 100%"
DISKS = {"drive_kind": "hdd", "drive_read_bytes_per_s": 240e6, "drive_write_bytes_per_s": 235e6}


def with_day(bundle: Bundle, *jobs: dict[str, Any], **timetable: Any) -> Bundle:
    """The plan with jobs (a name is given) and what else the timetable says."""
    document = bundle.document()
    listed = [{"id": f"job-{n}", "name": job["kind"].title()} | job for n, job in enumerate(jobs)]
    document["plan"]["brief"]["timetable"] = {"jobs": listed, **timetable}
    return bundle_from(document)


def session(n: int, number: int, since: str, to: str) -> dict[str, Any]:
    return {"id": f"s-{n}", "seat_id": "edit", "number": number, "from_minute": since, "to_minute": to}


def job(day: Rehearsal, kind: str) -> RehearsedJob:
    return next(each for each in day.jobs if each.kind == kind)


def lasted(answer: RehearsedJob) -> float:
    assert answer.done_s is not None
    return answer.done_s - answer.starts_s


class Sessions(unittest.TestCase):
    def test_a_seat_works_when_the_timetable_says_and_others_by_their_odds(self) -> None:
        house = plan(EDIT + ", 1 colour plays 220 Mb/s at peak 50%")
        rows = [session(1, 1, "10:15", "11:00"), session(2, 1, "13:00", "15:30")]
        day = rehearse(with_day(house, sessions=rows, begins_minute="8:30"))
        spans = [(s.from_s / HOUR, s.to_s / HOUR) for s in seat(day, "Edit").sessions]
        self.assertEqual(spans, [(10.25, 11), (13, 15.5)])
        # The other of the class is not in it, so it does not work; colour goes by its odds from 8:30 on.
        self.assertEqual(seat(day, "Edit", 2).sessions, ())
        colour = seat(day, "Colour")
        self.assertEqual((day.begins_s, colour.at_peak_s), (8.5 * HOUR, 4 * HOUR))
        self.assertEqual(colour.sessions[0].from_s, (8.5 + 2) * HOUR)
        drawn = rehearse(with_day(house, sessions=rows), seed=3)
        self.assertEqual([s.from_s / HOUR for s in seat(drawn, "Edit").sessions], [10.25, 13])

    def test_what_overlaps_is_one_and_the_small_hours_are_of_the_next_morning(self) -> None:
        rows = [session(1, 1, "22:00", "02:00"), session(2, 1, "23:00", "03:00")]
        [late, _] = rehearse(with_day(plan(EDIT), sessions=rows)).seats
        self.assertEqual([(s.from_s / HOUR, s.to_s / HOUR) for s in late.sessions], [(22, 26), (26, 27)])

    def test_what_lies_within_another_is_nothing_more(self) -> None:
        rows = [session(1, 1, "12:00", "16:00"), session(2, 1, "13:00", "15:00")]
        [one, _] = rehearse(with_day(plan(EDIT), sessions=rows)).seats
        self.assertEqual([(s.from_s / HOUR, s.to_s / HOUR) for s in one.sessions], [(12, 16)])
        self.assertEqual(one.at_peak_s, 4 * HOUR)

    def test_past_the_end_of_the_day_is_refused_by_name(self) -> None:
        for since, to in (("08:00", "10:00"), ("12:00", "12:00"), ("13:00", "12:00")):
            self.assertRaisesRegex(
                RefusedMany,
                rf"To.*{to}.*a time after {since} and before the day is over at 09:00",
                with_day,
                plan(EDIT),
                sessions=[session(1, 1, since, to)],
            )
        with_day(plan(EDIT), sessions=[session(1, 1, "12:00", "09:00")])
        self.assertRaisesRegex(
            RefusedMany, "at most 2", with_day, plan(EDIT), sessions=[session(1, 3, "10:00", "11:00")]
        )
        self.assertRaisesRegex(
            RefusedMany, "a time of day such as 11:30", with_day, plan(EDIT), begins_minute="25:00"
        )
        nobody = session(1, 1, "10:00", "11:00") | {"seat_id": "nobody"}
        self.assertRaisesRegex(
            RefusedMany, r"the id of a seat \(edit\)", with_day, plan(EDIT), sessions=[nobody]
        )


class Jobs(unittest.TestCase):
    def test_a_card_comes_when_it_is_listed_and_is_late_after_its_time(self) -> None:
        house = plan("1 ingest with 1 readers 200 MB/s, 10 h a week of 100 Mb/s")
        card = {
            "kind": "cards",
            "seat_id": "ingest",
            "bytes": "360GB",
            "from_minute": "11:00",
            "by_minute": "11:20",
        }
        answer = job(rehearse(with_day(house, card)), "cards")
        # One copy, read back beside it: 360 GB at 200 MB/s are half an hour, ten minutes too long.
        self.assertAlmostEqual(lasted(answer), 1_800, delta=1)
        self.assertAlmostEqual(answer.late_s, 600, delta=1)
        self.assertEqual(len(rehearse(with_day(house, card)).jobs), 1)
        self.assertEqual(len(rehearse(with_day(house, card, card | {"name": "Card B"})).jobs), 2)

    def test_a_copy_between_pools_goes_at_the_slower_of_reading_and_writing(self) -> None:
        document = plan(EDIT, **DISKS).document()
        document["plan"]["pools"].append(
            document["plan"]["pools"][0] | {"id": "cold", "name": "Cold", "drive_count": 4, "tier": "archive"}
        )
        copy = {
            "kind": "copy",
            "pool_id": "main",
            "to_pool_id": "cold",
            "bytes": "2TB",
            "from_minute": "20:00",
        }
        bundle = with_day(bundle_from(document), copy)
        [main, cold] = evaluate(bundle).tiers.pools
        slower = min(main.as_hop.read_bytes_per_s, cold.write.middle_bytes_per_s)
        self.assertAlmostEqual(lasted(job(rehearse(bundle), "copy")), 2 * TB / slower, delta=2)
        held = with_day(bundle_from(document), copy | {"most_bytes_per_s": "100MB/s"})
        self.assertAlmostEqual(lasted(job(rehearse(held), "copy")), 20_000, delta=1)

    def test_a_render_reads_and_writes_beside_each_other(self) -> None:
        render = {
            "kind": "render", "seat_id": "edit", "bytes": "300GB", "written_bytes": "100GB",
            "most_bytes_per_s": "150MB/s", "from_minute": "18:00",
        }  # fmt: skip
        answer = job(rehearse(with_day(plan(EDIT), render)), "render")
        self.assertAlmostEqual(lasted(answer), 2_000, delta=1)
        self.assertEqual(answer.bytes, 400 * GB)
        # It writes as it reads: a third of the bytes at a third of the rate.
        self.assertEqual([round(pace.bytes_per_s / MB) for pace in answer.paces], [200])

    def test_an_upload_has_the_line_and_a_scrub_what_people_leave(self) -> None:
        house = plan(EDIT + ", 80 Mb/s up 100 Mb/s down", **DISKS)
        upload = {"kind": "upload", "pool_id": "main", "bytes": "36GB", "from_minute": "19:00"}
        self.assertAlmostEqual(lasted(job(rehearse(with_day(house, upload)), "upload")), 3_600, delta=1)
        scrub = {"kind": "scrub", "pool_id": "main", "from_minute": "19:00"}
        pool = evaluate(house).tiers.pools[0]
        alone = pool.plannable_bytes / pool.read.middle_bytes_per_s
        self.assertAlmostEqual(
            lasted(job(rehearse(with_day(house, scrub)), "scrub")), alone, delta=alone / 50
        )
        by_day = rehearse(with_day(house, scrub | {"from_minute": "9:00"}))
        self.assertGreater(lasted(job(by_day, "scrub")), 1.1 * alone)

    def test_beside_people_who_ask_for_all_a_scrub_gets_its_share_and_they_the_rest(self) -> None:
        house = plan("40 edit seats play 2 streams 220 Mb/s at peak 100%", **DISKS)
        scrub = {"kind": "scrub", "pool_id": "main", "from_minute": "9:00", "by_minute": "17:00"}
        drawn = drawn_day(with_day(house, scrub))
        own = next(flow for flow in drawn.day.jobs if flow.kind == "scrub")
        pool = evaluate(house).tiers.pools[0]
        share = house.house_rules.rebuild_share_percent / 100
        self.assertAlmostEqual(own.paces[0].bytes_per_s, share * pool.read.middle_bytes_per_s, delta=1e5)
        got = sum(lane.got_bytes_per_s[0] for lane in drawn.seats)
        self.assertAlmostEqual(got, (1 - share) * pool.as_hop.read_bytes_per_s, delta=1e6)

    def test_after_a_scrub_and_a_planned_rebuild_the_pool_is_whole_again(self) -> None:
        quick = DISKS | {"drive_bytes": 200 * GB}
        house = plan("5 edit seats play 2 streams 220 Mb/s at peak 100%", **quick)
        for kind in ("scrub", "rebuild"):
            day = rehearse(with_day(house, {"kind": kind, "pool_id": "main", "from_minute": "10:00"}))
            done = job(day, kind).done_s
            assert done is not None
            self.assertLess(done, 15 * HOUR)
            self.assertGreater(day.unwatchable_s, 0)
            self.assertLess(max(spell.to_s for s in day.seats for spell in s.spells), done + 10)

    def test_a_staging_drive_is_emptied_when_the_work_is_done_or_when_it_is_said(self) -> None:
        cache = {
            "mode": "staging",
            "drive_count": 2,
            "drive_bytes": 2 * TB,
            "read_bytes_per_s": 2e9,
            "write_bytes_per_s": 1e9,
        }
        house = plan("1 ingest with 2 readers 240 MB/s, 40 h a week of 400 Mb/s", cache, **DISKS)
        day = drawn_day(house)
        [lane] = day.caches
        most = max(lane.dirty_bytes)
        self.assertAlmostEqual(most, job(day.day, "cards").bytes, delta=1e3)
        at_five = next(n for n, at in enumerate(day.moments_s) if at >= 17 * HOUR)
        self.assertAlmostEqual(lane.dirty_bytes[at_five], most, delta=1e3)
        self.assertEqual(lane.dirty_bytes[-1], 0)
        run = {"kind": "destage", "pool_id": "main", "from_minute": "03:00"}
        late = drawn_day(with_day(house, run))
        before = next(n for n, at in enumerate(late.moments_s) if at >= 27 * HOUR)
        self.assertAlmostEqual(late.caches[0].dirty_bytes[before], most, delta=1e3)
        self.assertEqual(late.caches[0].dirty_bytes[-1], 0)

    def test_what_cannot_be_done_is_refused_by_name(self) -> None:
        house = plan(EDIT, layout="stripe")
        for given, said in (
            ({"kind": "rebuild", "pool_id": "main"}, "a pool that survives a dead drive"),
            ({"kind": "destage", "pool_id": "main"}, "a pool with a staging drive"),
            (
                {"kind": "render", "seat_id": "edit", "bytes": 1, "written_bytes": "900TB"},
                "at most .* TB, what Main pool holds",
            ),
        ):
            self.assertRaisesRegex(Refused, said, rehearse, with_day(house, given | {"from_minute": "12:00"}))
        for given, said in (
            ({"kind": "copy", "pool_id": "main", "bytes": 1}, "the id of another pool"),
            ({"kind": "scrub"}, "the id of a pool"),
            ({"kind": "scrub", "pool_id": "attic"}, r"the id of a pool of this plan \(main\)"),
            ({"kind": "cards", "seat_id": "edit", "bytes": 1}, "the id of an ingest station"),
            ({"kind": "upload", "pool_id": "main"}, "more than nothing"),
        ):
            self.assertRaisesRegex(RefusedMany, said, with_day, house, given | {"from_minute": "12:00"})


class Broken(unittest.TestCase):
    def breaks(self, of: Any, what: str, hour: float = 11, **pool: Any) -> Rehearsal:
        bundle = plan(EDIT, **DISKS, **pool)
        return rehearse(bundle, [Failure(of, what, hour * HOUR)])

    def test_a_dead_switch_or_cable_stands_still_from_its_minute_on(self) -> None:
        wiring = plan(EDIT).plan.wiring
        trunk = next(link for link in wiring.links if link.ends[0].kind == "switch")
        plug = next(link for link in wiring.links if link.ends[0].kind == "seat")
        for of, what, many in (
            ("switch", wiring.switches[0].id, 2),
            ("link", trunk.id, 2),
            ("link", plug.id, 1),
        ):
            stand = [s for s in self.breaks(of, what).seats if s.spells]
            self.assertEqual(len(stand), many, (of, what))
            for each in stand:
                self.assertAlmostEqual(each.spells[0].from_s, 11 * HOUR + 2, delta=0.1)

    def test_of_cables_together_the_others_take_over(self) -> None:
        document = plan(EDIT, **DISKS).document()
        trunk = next(w for w in document["plan"]["wiring"]["links"] if w["near"].startswith("switch"))
        trunk |= {"speed": "2.5GbE", "links": 2}
        for link in document["plan"]["wiring"]["links"]:
            link["far_ports"] = link["near_ports"] = ""
        document["plan"]["wiring"]["switches"][0]["ports"] = ""
        for box in document["plan"]["boxes"]:
            box["ports"] = ""
        both = bundle_from(document)
        self.assertEqual(rehearse(both).unwatchable_s, 0)
        # Two seats at 55 MB/s each fit on the other of 2.5 gigabits: nobody stands after one is gone.
        dead = [Failure("link", trunk["id"], 11 * HOUR)]
        drawn = drawn_day(both, dead)
        self.assertEqual(drawn.day.unwatchable_s, 0)
        lane = next(hop for hop in drawn.hops if hop.id == trunk["id"])
        before, after = lane.used[0], lane.used[-2]
        self.assertAlmostEqual(after / before, 2, places=3)
        document["plan"]["wiring"]["links"] = [
            link | ({"speed": "1GbE"} if link["id"] == trunk["id"] else {})
            for link in document["plan"]["wiring"]["links"]
        ]
        self.assertGreater(rehearse(bundle_from(document), dead).unwatchable_s, 0)

    def test_past_what_a_pool_survives_all_is_lost_and_a_second_supply_carries_on(self) -> None:
        bundle = plan(EDIT, **DISKS, layout="raid5")
        two = [Failure("disk", "main", hour * HOUR) for hour in (10, 12)]
        for answer in rehearse(bundle, two).seats:
            self.assertAlmostEqual(answer.spells[-1].from_s, 12 * HOUR + 2, delta=0.1)
        document = bundle.document()
        document["plan"]["boxes"] = [{"id": "box", "name": "Box", "bays": 8}]
        document["plan"]["pools"][0]["bays"] = "box:1-8"
        dead = [Failure("supply", "box", 12 * HOUR)]
        self.assertGreater(rehearse(bundle_from(document), dead).unwatchable_s, 5 * HOUR)
        document["plan"]["boxes"][0]["supplies"] = 2
        spared = drawn_day(bundle_from(document), dead)
        self.assertEqual(spared.day.unwatchable_s, 0)
        self.assertIn("the other carries on", spared.account[0])

    def test_a_rebuild_is_quicker_where_nobody_works_and_its_pool_is_whole_after_it(self) -> None:
        small = {"drive_count": 9, "spares": 1, "drive_bytes": 100 * GB}
        bundle = plan("3 edit seats play 2 streams 220 Mb/s at peak 100%", **DISKS, **small)
        pool = evaluate(bundle).tiers.pools[0]
        assert pool.rebuild_seconds is not None
        assert pool.rebuild_alone_seconds is not None
        night = drawn_day(bundle, [Failure("disk", "main", 20 * HOUR)])
        self.assertAlmostEqual(lasted(job(night.day, "rebuild")), pool.rebuild_alone_seconds, delta=2)
        day = drawn_day(bundle, [Failure("disk", "main", 10 * HOUR)])
        self.assertGreater(lasted(job(day.day, "rebuild")), 1.3 * pool.rebuild_alone_seconds)
        self.assertLessEqual(lasted(job(day.day, "rebuild")), pool.rebuild_seconds * 1.01)
        self.assertIn("its rebuild on a spare is done at", day.account[0])
        [state] = day.pools
        self.assertEqual((state.id, state.state, state.from_s), ("main", "rebuilding", 10 * HOUR))
        lane = next(hop for hop in day.hops if hop.id == "main")
        after = max(n for n, at in enumerate(day.moments_s) if at < state.to_s + 10)
        self.assertLess(state.to_s, 17 * HOUR)
        self.assertAlmostEqual(lane.used[after], lane.used[0], places=3)
        self.assertLess(lane.used[0], lane.used[after - 1])

    def test_what_is_not_there_is_refused_by_name(self) -> None:
        bundle = plan(EDIT)
        for of in ("disk", "link", "switch", "box", "supply"):
            failure = Failure(of, "attic", 0)  # type: ignore[arg-type]
            self.assertRaisesRegex(Refused, "attic.*the id of a|attic.*none yet", rehearse, bundle, [failure])
        many = [Failure("disk", "main", 0)] * 9
        self.assertRaisesRegex(Refused, "at most 8 in a day", rehearse, bundle, many)

    def test_many_days_with_something_broken_are_worse(self) -> None:
        bundle = plan("6 edit seats play 2 streams 220 Mb/s at peak 70%", **DISKS)
        whole = rehearse_days(bundle, 6, 1)
        broken = rehearse_days(bundle, 6, 1, [Failure("disk", "main", 9 * HOUR)])
        self.assertGreater(broken.unwatchable_p50_s.value, whole.unwatchable_p50_s.value)
        card = {
            "kind": "cards",
            "seat_id": "ingest",
            "bytes": "900GB",
            "from_minute": "10:00",
            "by_minute": "10:15",
        }
        late = with_day(plan("1 ingest with 2 readers 200 MB/s, 10 h a week of 100 Mb/s"), card)
        self.assertEqual([answer.late_days for answer in rehearse_days(late, 4, 1).jobs], [4])


class WouldHaveHelped(unittest.TestCase):
    def test_a_card_that_comes_later_is_the_same_day_with_it(self) -> None:
        line = "5 edit seats play 2 streams 220 Mb/s, 1 ingest with 4 readers 240 MB/s, 1 h a week of 20 Mb/s"
        card = {
            "kind": "cards", "seat_id": "ingest", "bytes": "500GB", "from_minute": "10:00", "by_minute": "13:00",
        }  # fmt: skip
        rows = [session(n, n, "09:00", "11:00") for n in range(1, 6)]
        house = with_day(plan(line, **DISKS), card, sessions=rows)
        before = rehearse(house)
        self.assertGreater(before.unwatchable_s, 4 * HOUR)
        found = {each.words: each for each in helped(house)}
        self.assertEqual(found["Cards from 11:05 on"].unwatchable_s, 0)
        for each in found.values():
            after = rehearse(bundle_from(apply_patch(house.document(), each.patch)))
            self.assertAlmostEqual(after.unwatchable_s, each.unwatchable_s, delta=0.5)
            self.assertAlmostEqual(sum(answer.late_s for answer in after.jobs), each.late_s, delta=0.5)
            self.assertLess(each.unwatchable_s, before.unwatchable_s)
        self.assertEqual(helped(plan("1 edit seats play 220 Mb/s")), ())

    def test_a_job_that_is_late_by_itself_is_helped_by_twice_the_cache(self) -> None:
        cache = {
            "mode": "write-back",
            "drive_count": 1,
            "drive_bytes": 200 * GB,
            "read_bytes_per_s": 2e9,
            "write_bytes_per_s": 2e9,
        }
        slow = DISKS | {"drive_count": 4, "drive_write_bytes_per_s": 60e6}
        render = {
            "kind": "render", "seat_id": "edit", "bytes": 1, "written_bytes": "900GB",
            "from_minute": "18:00", "by_minute": "18:45",
        }  # fmt: skip
        house = with_day(plan("1 edit seats play 100 Mb/s", cache, **slow), render)
        self.assertGreater(job(rehearse(house), "render").late_s, 60)
        self.assertIn("Cache twice as large", [each.words for each in helped(house)])
        [answer] = [line for line in drawn_day(house).account if line.startswith("Render begins")]
        self.assertRegex(
            answer, r"Render begins at [\d,]+ MB/s and goes at [\d.]+ MB/s from 18:\d\d on; it is done at"
        )


class Account(unittest.TestCase):
    def test_its_figures_are_the_days(self) -> None:
        answer = 0
        for seed in range(40):
            bundle = random_plan(seed)
            pools = [pool.id for pool in bundle.plan.pools]
            drawn = drawn_day(bundle, [Failure("disk", pools[0], 10 * HOUR)] if seed % 2 else [])
            day = drawn.day
            for line in drawn.account:
                name = line.split(" is ")[0]
                if stood := re.search(r"is unwatchable for (a minute|\d+ minutes)", line):
                    seats = [s for s in day.seats if name in (s.name, f"{s.name} {s.number}")]
                    self.assertIn(stood[1], [minutes_text(s.unwatchable_s) for s in seats], line)
                    self.assertTrue(any(s.blamed_name in line for s in seats), line)
                    answer += 1
                if late := re.search(r"(\d\d:\d\d), (.*) after its deadline", line):
                    jobs = [j for j in day.jobs if j.name == name]
                    self.assertIn(late[2], [minutes_text(j.late_s) for j in jobs], line)
            if not day.unwatchable_s:
                self.assertFalse(any("unwatchable" in line for line in drawn.account))
        self.assertGreater(answer, 10)


class FirstFrame(unittest.TestCase):
    def test_it_is_the_turn_the_wait_and_the_footage(self) -> None:
        from larder.laws.first_frame import JUMP_FOOTAGE_S, first_frame_seconds

        self.assertAlmostEqual(
            first_frame_seconds(0.001, 0.02, 0, 100e6, 1e9), 0.001 + 0.02 + JUMP_FOOTAGE_S / 10
        )
        self.assertAlmostEqual(first_frame_seconds(0, 0.02, 4, 100e6, 1e9), 0.1 + JUMP_FOOTAGE_S / 10)
        self.assertEqual(first_frame_seconds(0, 0.02, 0, 100e6, 0), float("inf"))

    def test_more_people_on_the_same_disks_wait_longer_and_are_told_so(self) -> None:
        waits = []
        for seats in (1, 3, 6, 9):
            house = plan(f"{seats} edit seats play 1 streams 220 Mb/s at peak 100%", **DISKS, drive_count=4)
            waits.append(max(s.first_frame_s or 0 for s in rehearse(house).seats))
        self.assertEqual(waits, sorted(waits))
        self.assertLess(waits[0], 0.1)
        house = plan("3 edit seats play 1 streams 220 Mb/s at peak 100%", **DISKS, drive_count=8)
        drawn = drawn_day(house)
        pool = evaluate(house).tiers.pools[0]
        busy = next(hop for hop in drawn.hops if hop.id == "main").used[0]
        turn = VISIT_BYTES / pool.as_hop.read_bytes_per_s
        alone = (drawn.day.seats[0].first_frame_s or 0) - 0.0003 - turn * (1 + 2 * busy)
        # What is left is the footage, at what the other two leave of the drives.
        gets = pool.as_hop.read_bytes_per_s - 2 * 27.5e6
        self.assertAlmostEqual(alone / (0.2 * 27.5e6 / gets), 1, places=2)
        slow = drawn_day(plan("9 edit seats play 1 streams 220 Mb/s at peak 100%", **DISKS, drive_count=4))
        limit = slow.day.first_frame_limit_s
        answer = [line for line in slow.account if line.startswith("A jump of")]
        self.assertEqual(bool(answer), waits[-1] > limit)
