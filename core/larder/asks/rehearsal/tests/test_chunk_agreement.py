"""Two days of a house, rehearsed and as chunks in a general library: eleven more are in ./bench."""

import unittest
from collections.abc import Iterable

from larder.asks.rehearsal.failures import Failure
from larder.asks.rehearsal.rehearse import gone_by
from larder.base.units import GB, SECONDS_A_DAY
from larder.laws.tests.agreement import Apart, Scene, apart
from larder.plan.bundle import Bundle
from larder.stages.registry import PARTS
from larder.stages.stage import judge

from .test_rehearse import HOUR, plan
from .test_timetable import DISKS, with_day


def both(bundle: Bundle, failures: Iterable[Failure] = ()) -> Apart:
    gone = gone_by(judge(bundle, PARTS), failures)
    stage, day = gone
    scene = Scene(stage.flows, stage.buffers, stage.resources.capacities, SECONDS_A_DAY)
    return apart(scene, day, scene.as_chunks(day.changes))


class Agreement(unittest.TestCase):
    def within(self, found: Apart) -> None:
        self.assertLess(found.completions, 0.01)
        self.assertLess(found.frozen, 1)
        self.assertLess(found.caches, 0.005)

    def test_cards_into_a_write_cache_beside_people_who_stand(self) -> None:
        cache = {
            "mode": "write-back",
            "drive_count": 2,
            "drive_bytes": 200 * GB,
            "read_bytes_per_s": 2e9,
            "write_bytes_per_s": 1e9,
        }
        line = "3 edit seats play 2 streams 220 Mb/s at peak 15%, 1 ingest with 2 readers 240 MB/s, 40 h a week of 200 Mb/s"
        found = both(plan(line, cache, **DISKS))
        self.within(found)
        self.assertGreater(found.stood_s, 600)
        self.assertEqual((found.jobs, found.dirty_bytes), (2, 400 * GB))

    def test_a_disk_dies_while_a_render_and_a_copy_run_and_it_rebuilds(self) -> None:
        small = {"drive_count": 9, "spares": 1, "drive_bytes": 100 * GB}
        house = plan("6 edit seats play 2 streams 220 Mb/s at peak 15%", None, **DISKS, **small)
        render = {
            "kind": "render", "seat_id": "edit", "bytes": "200GB", "written_bytes": "60GB",
            "most_bytes_per_s": "120MB/s", "from_minute": "10:00",
        }  # fmt: skip
        upload = {"kind": "upload", "pool_id": "main", "bytes": "30GB", "from_minute": "10:30"}
        day = with_day(house, render, upload)
        found = both(with_line(day), [Failure("disk", "main", 10.2 * HOUR)])
        self.within(found)
        self.assertEqual(found.jobs, 4)


def with_line(bundle: Bundle) -> Bundle:
    """A line that sends 20 MB/s."""
    brief = bundle.plan.brief
    line = brief.limits.line.model_copy(update={"up_bytes_per_s": 20e6})
    limits = brief.limits.model_copy(update={"line": line})
    return bundle.model_copy(
        update={"plan": bundle.plan.model_copy(update={"brief": brief.model_copy(update={"limits": limits})})}
    )
