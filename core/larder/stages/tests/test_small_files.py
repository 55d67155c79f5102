"""Many small files by hand: round trips, first bytes, their own bytes; alone and all together."""

import unittest
from typing import Any

from larder.base.units import GB, MB
from larder.judge.evaluation import evaluate
from larder.readers.plan_file import bundle_from
from larder.stages.small_files import SmallFilesResult
from larder.tests.plans import chained, demo

TRIPS, OPERATIONS = 4 * 0.0003, 2


def culling(
    plan: dict[str, Any] | None = None,
    pool: dict[str, Any] | None = None,
    hops: list[dict[str, Any]] | None = None,
    **seat: Any,
) -> Any:
    """The one-box demo with one class of photo seats, judged."""
    document = demo("one-box").document()
    hops = [{"id": "box-port", "speed": "10GbE"}] if hops is None else hops
    document["plan"] |= plan or {}
    document["plan"]["pools"][0] |= pool or {}
    document["plan"]["brief"]["seats"] = [
        {"kind": "photo", "id": "cull", "name": "Culling", "count": 1, "image_bytes": 50 * MB, "images_per_s": 4.0,
         "probability": 1.0} | seat
    ]  # fmt: skip
    return evaluate(bundle_from(chained(document, hops)))


class ByHand(unittest.TestCase):
    def only(self, answer: Any) -> SmallFilesResult:
        (result,) = answer.small_files
        return result

    def test_one_seat_over_the_office_network(self) -> None:
        answer = culling()
        result, pool = self.only(answer), answer.tiers.pools[0]
        first = pool.drive_latency_seconds
        links = [hop.link_bytes_per_s for hop in answer.wiring.hops if hop.kind == "link"]
        slowest = min(pool.read.middle_bytes_per_s, *links)
        seconds = TRIPS + OPERATIONS * first + 50 * MB / slowest
        self.assertAlmostEqual(result.seconds_per_file, seconds)
        self.assertAlmostEqual(result.given_files_per_s, 1 / seconds)
        self.assertAlmostEqual(result.latency_share, (TRIPS + OPERATIONS * first) / seconds)
        self.assertEqual((result.asked_files_per_s, result.file_bytes), (4.0, 50 * MB))
        self.assertEqual(result.joint_given_files_per_s, pool.small_reads_per_s / OPERATIONS)
        self.assertAlmostEqual(result.ratio, min(1 / seconds / 4, result.joint_given_files_per_s / 4))

    def test_the_slowest_wire_on_the_way_decides(self) -> None:
        answer = culling(hops=[{"id": "a", "speed": "10GbE"}, {"id": "b", "speed": "1GbE"}])
        result, pool = self.only(answer), answer.tiers.pools[0]
        link = 125e6 * 1448 / 1538 * 0.9
        self.assertAlmostEqual(
            result.seconds_per_file, TRIPS + OPERATIONS * pool.drive_latency_seconds + 50 * MB / link
        )

    def test_inside_the_box_there_is_no_wire(self) -> None:
        answer = culling(seated="inside")
        result, pool = self.only(answer), answer.tiers.pools[0]
        seconds = OPERATIONS * pool.drive_latency_seconds + 50 * MB / pool.read.middle_bytes_per_s
        self.assertAlmostEqual(result.seconds_per_file, seconds)

    def test_without_any_wire_the_pool_alone_decides(self) -> None:
        answer = culling(hops=[])
        result, pool = self.only(answer), answer.tiers.pools[0]
        self.assertAlmostEqual(
            result.seconds_per_file,
            TRIPS + OPERATIONS * pool.drive_latency_seconds + 50 * MB / pool.read.middle_bytes_per_s,
        )

    def test_what_decides_is_said(self) -> None:
        self.assertEqual(self.only(culling(image_bytes=10_000, images_per_s=1.0)).limit, "waiting")
        self.assertEqual(self.only(culling(image_bytes=500 * MB, images_per_s=1.0)).limit, "rate")
        # Waiting is less than half of its time, but more than a third.
        near = self.only(culling(image_bytes=16 * MB, images_per_s=1.0))
        self.assertTrue(1 / 3 < near.latency_share < 1 / 2, near.latency_share)
        self.assertEqual(near.limit, "rate")
        crowd = self.only(culling(count=200, image_bytes=10_000, images_per_s=30.0))
        self.assertEqual(crowd.limit, "operations")
        self.assertEqual(crowd.joint_asked_files_per_s, 200 * 30.0)
        self.assertAlmostEqual(crowd.ratio, crowd.joint_given_files_per_s / 6000)

    def test_flash_before_the_pool_answers_its_part_of_the_first_bytes(self) -> None:
        cache = {
            "id": "flash", "name": "Flash", "pool_id": "main", "mode": "read", "drive_count": 2, "drive_bytes": 4000 * GB,
            "read_bytes_per_s": 3e9, "write_bytes_per_s": 1e9,
        }  # fmt: skip
        answer = culling({"caches": [cache]}, seated="inside")
        result, pool = self.only(answer), answer.tiers.pools[0]
        hit = pool.cache.hit_ratio
        self.assertTrue(0 < hit < 1)
        first = hit * 0.0001 + (1 - hit) * pool.drive_latency_seconds
        self.assertAlmostEqual(
            result.seconds_per_file, OPERATIONS * first + 50 * MB / pool.read.middle_bytes_per_s
        )
        self.assertAlmostEqual(
            result.joint_given_files_per_s, pool.small_reads_per_s / OPERATIONS / (1 - hit)
        )

    def test_nobody_who_asks_for_nothing_is_told_of(self) -> None:
        self.assertEqual(culling(count=0).small_files, ())
        self.assertEqual(culling(images_per_s=0.0, exports_per_s=0.0, tethered_per_s=0.0).small_files, ())

    def test_of_several_pools_the_one_that_serves_worst_is_told_and_no_archive(self) -> None:
        answer = evaluate(demo("tern-and-tide"))
        work = {pool.id for pool in answer.tiers.pools if pool.tier == "work"}
        for small_file in answer.small_files:
            self.assertIn(small_file.pool_id, work)
        two = culling(
            {
                "boxes": [],
                "pools": [
                    demo("one-box").document()["plan"]["pools"][0] | {"bays": ""},
                    demo("one-box").document()["plan"]["pools"][0]
                    | {
                        "id": "slow",
                        "name": "Slow",
                        "bays": "",
                        "drive_read_bytes_per_s": 50e6,
                        "drive_count": 4,
                    },
                ],
            },
        )
        self.assertEqual(self.only(two).pool_id, "slow")


class Frames(unittest.TestCase):
    def played(self, seat: dict[str, Any], **fields: Any) -> Any:
        """The one-box demo with one seat that plays 2K frames of 12 MB, each in a file of its own."""
        document = demo("one-box").document()
        frames = {
            "id": "frames", "kind": "computed", "name": "Frames", "width": 2048, "height": 1080, "fps": 24,
            "sampling": "444", "bits": 10, "packing": "rgb32", "one_file_a_frame": True,
        } | fields  # fmt: skip
        document["catalogue"]["formats"] = [frames]
        document["plan"]["brief"] |= {"shoots": [], "productions": [], "services": [], "seats": [
            {"kind": "footage", "id": "grade", "name": "Grade", "format_id": "frames", "probability": 1.0} | seat
        ]}  # fmt: skip
        return evaluate(bundle_from(document))

    def test_a_stream_of_frames_asks_for_as_many_files_as_frames_and_waits_for_them_together(self) -> None:
        answer = self.played({"streams": 2})
        (result,) = answer.small_files
        pool = answer.tiers.pools[0]
        size = 2048 * 1080 * 4
        self.assertEqual((result.asked_files_per_s, result.file_bytes, result.terms.at_once), (48.0, size, 8))
        waiting = (TRIPS + OPERATIONS * pool.drive_latency_seconds) / 8
        self.assertAlmostEqual(result.seconds_per_file, waiting + size / pool.read.middle_bytes_per_s)
        self.assertEqual(answer.brief.files_per_s_at_once, 48.0)

    def test_clips_and_what_is_written_open_no_files_by_the_frame(self) -> None:
        self.assertEqual(self.played({"streams": 2}, one_file_a_frame=False).small_files, ())
        self.assertEqual(self.played({"streams": 2, "direction": "write"}).small_files, ())
