"""The plan's copies as jobs of the day: done when the copy's own arithmetic says, and late beside others."""

import unittest

from larder.asks.rehearsal.rehearse import Rehearsal, rehearse
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.stages.copies import COPIES
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.stages.tests.test_copies import copy, kept, store
from larder.tests.plans import changed, demo

CHANGED = {"changed_bytes_per_day": 400 * 10**9}
FAR = store("far", "a service")


def jobs(rehearsal: Rehearsal) -> dict[str, float | None]:
    """When each copy is done, seconds of the clock."""
    return {job.id: job.done_s for job in rehearsal.jobs if job.id.startswith("copy-")}


def of(bundle: Bundle) -> Rehearsal:
    return rehearse(bundle, [])


class NightlyCopies(unittest.TestCase):
    def test_a_copy_alone_at_night_is_done_when_its_own_arithmetic_says(self) -> None:
        for bundle in (demo("tern-and-tide"), demo("long-shore"), demo("halyard-street")):
            answer = of(bundle)
            self.assertEqual(answer.conservation_error_bytes, 0)
            runs = {f"copy-{run.id}": run for run in judge(bundle, PARTS).of(COPIES).copies}
            done = jobs(answer)
            self.assertTrue(done)
            for job_id, done_s in done.items():
                minute = runs[job_id].done_minute
                self.assertIsNotNone(minute)
                # Memory and other copies beside it make a few minutes.
                self.assertAlmostEqual((done_s or 0) / 60 % 1440, minute or 0, delta=6)

    def test_what_runs_seldom_or_always_is_no_part_of_the_day(self) -> None:
        here = store("here", "a box")
        for hours, found in ((24, {"copy-here"}), (12, {"copy-here"}), (168, set()), (0, set())):
            bundle = kept([here], [copy("here", every_hours=hours)], CHANGED)
            self.assertEqual(set(jobs(of(bundle))), found, hours)

    def test_a_slow_line_is_late_in_the_day_and_in_the_copys_own_verdict(self) -> None:
        bundle = kept([FAR], [copy("far")], CHANGED)
        slow = changed(bundle, plan__brief__limits__line__up_bytes_per_s=8e6)
        [job] = [job for job in of(slow).jobs if job.id == "copy-far"]
        self.assertGreater(job.late_s, 0)
        self.assertFalse(judge(slow, PARTS).of(COPIES).copies[0].keeps_up)
        quick = changed(bundle, plan__brief__limits__line__up_bytes_per_s=20e6)
        [job] = [job for job in of(quick).jobs if job.id == "copy-far"]
        self.assertEqual(job.late_s, 0)
        # Without a line nothing is uploaded, and the day stands all the same.
        self.assertEqual(jobs(of(changed(bundle, plan__brief__limits__line__up_bytes_per_s=0))), {})

    def test_what_the_timetable_lists_of_a_pool_is_taken_for_all_of_it(self) -> None:
        document = kept([FAR], [copy("far")], CHANGED).document()
        listed = {
            "id": "mine",
            "name": "Mine",
            "kind": "upload",
            "pool_id": "main",
            "bytes": 10**9,
            "from_minute": 1200,
        }
        document["plan"]["brief"]["limits"]["line"]["up_bytes_per_s"] = 20e6
        document["plan"]["brief"]["timetable"]["jobs"] = [listed]
        answer = of(bundle_from(document))
        self.assertEqual(jobs(answer), {})
        self.assertIn("mine", {job.id for job in answer.jobs})

    def test_a_copy_of_a_copy_reads_where_that_lies(self) -> None:
        bundle = kept([store("here", "a box"), FAR], [copy("here"), copy("far", source_id="here")], CHANGED)
        # The box is no pool of the plan: what is read from it is none of the day's.
        self.assertEqual(set(jobs(of(bundle))), {"copy-here"})
