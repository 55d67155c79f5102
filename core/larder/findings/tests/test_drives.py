"""Findings about drives, volumes and small files: what raises each, its evidence, and what clears it."""

import unittest
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import RefusedMany
from larder.base.units import MB, TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import Bundle
from larder.plan.volumes import Volume
from larder.stages.tests.test_pool_setting import boxed
from larder.stages.volumes import volumes_of
from larder.tests.plans import changed, cleared, ids, stocked


class Drives(unittest.TestCase):
    def of_class(self, drive_id: str, **fields: Any) -> Bundle:
        """The demo with this class in its pool, as taking it over would make it."""
        drive = next(d for d in stocked().catalogue.drives if d.id == drive_id)
        return stocked(
            {
                "drive_id": drive_id, "drive_bytes": drive.size_bytes, "drive_kind": drive.kind, "bays": "",
                "drive_read_bytes_per_s": drive.read_bytes_per_s,
                "drive_write_bytes_per_s": drive.write_bytes_per_s,
            } | fields
        )  # fmt: skip

    def test_shingled_disk_in_a_parity_group(self) -> None:
        evidence = cleared(self, self.of_class("disk-6-desktop"), "shingled-disk-in-a-parity-group")
        self.assertEqual(evidence, {"Shingled disks": 9, "To write in a rebuild": 6 * TB})
        spanned = self.of_class("disk-6-desktop", layout="span")
        self.assertNotIn("shingled-disk-in-a-parity-group", ids(evaluate(spanned)))

    def test_desktop_class_disk_in_continuous_duty(self) -> None:
        name = "desktop-class-disk-in-continuous-duty-or-over-workload-rating"
        self.assertEqual(cleared(self, self.of_class("disk-8-desktop"), name), {"Such disks": 9})

    def test_disk_over_its_workload_rating(self) -> None:
        name = "desktop-class-disk-in-continuous-duty-or-over-workload-rating"
        bundle = self.of_class("disk-8-array")
        evidence = cleared(self, bundle, name, f"{name}-workload-main")
        self.assertEqual(evidence["Rated for"], 180 * TB)
        self.assertGreater(evidence["Moved by each in a year"], 180 * TB)

    def test_used_disk_without_surface_test_or_hours_over_rule(self) -> None:
        name = "used-disk-without-surface-test-or-hours-over-rule"
        self.assertEqual(cleared(self, stocked({"are_used": True}), name), {"Used drives": 9})
        old = stocked({"are_used": True, "surface_tested": True, "hours_run": 50_000})
        self.assertEqual(cleared(self, old, name)["Has run"], 50_000)
        self.assertNotIn(name, ids(evaluate(changed(old, house_rules__drive_hours_max=60_000))))

    def test_same_batch_throughout(self) -> None:
        self.assertEqual(
            cleared(self, stocked({"batches": 1}), "same-batch-throughout"), {"Drives of one batch": 9}
        )

    def test_no_spare_and_long_delivery(self) -> None:
        evidence = cleared(self, self.of_class("disk-22-array"), "no-spare-and-long-delivery")
        self.assertEqual(evidence, {"Delivered in": 5, "House rule": 3, "Survives until then": 1})
        spared = self.of_class("disk-22-array", spares=1)
        self.assertNotIn("no-spare-and-long-delivery", ids(evaluate(spared)))

    def test_striped_tier_with_no_nightly_copy(self) -> None:
        evidence = cleared(self, stocked({"layout": "stripe"}), "striped-tier-with-no-nightly-copy")
        self.assertEqual(evidence["Lost with any one of"], 9)

    def test_flash_of_a_pool_worn_before_its_time(self) -> None:
        bundle = changed(
            self.of_class("flash-4-nvme"),
            plan__brief__seats__edit__direction="write",
            plan__brief__seats__edit__streams=5,
        )
        evidence = cleared(self, bundle, "flash-wear-before-its-service-life")
        self.assertLess(evidence["Lasts"], evidence["House rule"])


def volume(**fields: Any) -> dict[str, Any]:
    return {"id": "series", "name": "Series", "pool_id": "main", "snapshot_days": 7} | fields


class Volumes(unittest.TestCase):
    def with_volumes(self, *volumes: dict[str, Any]) -> Bundle:
        return stocked(volumes=list(volumes))

    @given(
        st.lists(st.tuples(st.integers(1, 90), st.integers(0, 90), st.booleans(), st.booleans()), max_size=6)
    )
    def test_what_is_set_aside_and_promised_by_hand(self, rows: list[tuple[int, int, bool, bool]]) -> None:
        made = tuple(
            Volume.model_validate(
                volume(
                    id=f"v{n}",
                    size_bytes=size,
                    reserved_bytes=min(kept, size),
                    is_thin=thin,
                    is_encrypted=locked,
                )
            )
            for n, (size, kept, thin, locked) in enumerate(rows)
        )
        other = Volume.model_validate(volume(id="other", pool_id="attic", size_bytes=5))
        volumes = volumes_of((*made, other), "main", 100)
        aside = sum(min(kept, size) if thin else size for size, kept, thin, _ in rows)
        self.assertEqual((volumes.promised_bytes, volumes.set_aside_bytes), (sum(r[0] for r in rows), aside))
        self.assertEqual(volumes.left_bytes + volumes.set_aside_bytes, 100)
        self.assertTrue(0 <= volumes.encrypted_share <= 1)

    def test_what_a_volume_cannot_be(self) -> None:
        for fields, field in (
            ({"kind": "block"}, "size_bytes"),
            ({"is_thin": False}, "size_bytes"),
            ({"size_bytes": TB, "reserved_bytes": 2 * TB}, "reserved_bytes"),
            ({"pool_id": "attic"}, "pool_id"),
        ):
            with self.assertRaises(RefusedMany) as caught:
                self.with_volumes(volume(**fields))
            self.assertEqual(caught.exception.problems[0].field, f"plan/volumes/series/{field}")

    def test_thin_volumes_overcommitted(self) -> None:
        bundle = self.with_volumes(
            volume(size_bytes=80 * TB), volume(id="two", name="Two", size_bytes=30 * TB)
        )
        evidence = cleared(self, bundle, "thin-volumes-overcommitted")
        self.assertEqual(evidence["Promised"], 110 * TB)
        allowed = changed(bundle, house_rules__thin_overcommit_max=2)
        self.assertNotIn("thin-volumes-overcommitted", ids(evaluate(allowed)))

    def test_volumes_that_reserve_more_than_there_is(self) -> None:
        thick = volume(size_bytes=150 * TB, is_thin=False)
        cleared(self, self.with_volumes(thick), "volumes-reserve-more-than-the-pool-holds")
        reserved = volume(size_bytes=150 * TB, reserved_bytes=140 * TB)
        evidence = cleared(self, self.with_volumes(reserved), "volumes-reserve-more-than-the-pool-holds")
        self.assertEqual(evidence["To be set aside"], 140 * TB)

    def test_key_held_by_nobody(self) -> None:
        bundle = self.with_volumes(volume(is_encrypted=True, size_bytes=TB, key_holder="  "))
        self.assertEqual(cleared(self, bundle, "key-held-by-nobody"), {"Locked up at most": TB})

    def test_no_snapshots(self) -> None:
        cleared(self, self.with_volumes(volume(snapshot_days=0)), "no-snapshots")
        block = volume(kind="block", size_bytes=TB, snapshot_days=0)
        self.assertNotIn("no-snapshots", ids(evaluate(self.with_volumes(block))))


class SmallFiles(unittest.TestCase):
    """Round trips, seeks and operations by hand, and the finding with both of its remedies."""

    def culling(self, image_bytes: int, rate: float, **pool: Any) -> Bundle:
        return changed(
            boxed({"bays": "", **pool}),
            plan__brief__seats__stills__image_bytes=image_bytes,
            plan__brief__seats__stills__images_per_s=rate,
        )

    def test_a_files_time_is_trips_seeks_and_size(self) -> None:
        answer = evaluate(self.culling(5 * MB, 1))
        result = answer.small_files[0]
        rate = min(answer.tiers.pools[0].read.middle_bytes_per_s, answer.wiring.hops[0].link_bytes_per_s)
        waiting = 4 * 0.0003 + 2 * (0.008 + 0.00833 / 2)
        self.assertAlmostEqual(result.seconds_per_file, waiting + 5 * MB / rate)
        self.assertAlmostEqual(result.given_files_per_s * result.seconds_per_file, 1)
        self.assertAlmostEqual(result.latency_share, waiting / result.seconds_per_file)

    def test_latency_can_be_the_verdict(self) -> None:
        answer = evaluate(self.culling(2 * MB, 60))
        self.assertEqual(answer.scales.speed.measure, "files_per_s")
        self.assertIn("round trips and seeks", answer.scales.speed.because)

    def test_latency_bound_small_files(self) -> None:
        evidence = cleared(self, self.culling(2 * MB, 60), "latency-bound-small-files")
        self.assertEqual(evidence["Files a second asked"], 60)
        self.assertGreater(evidence["Of a file's time is waiting"], 0.5)

    def test_a_copy_on_write_group_seeks_like_one_member(self) -> None:
        bundle = self.culling(MB // 10, 30, layout="cow2", filesystem="cow", drive_count=8)
        answer = evaluate(bundle).small_files[0]
        self.assertEqual(answer.limit, "operations")
        cleared(self, bundle, "latency-bound-small-files")
        mirrored = changed(
            bundle, plan__pools__main__layout="raid10", plan__pools__main__filesystem="journal"
        )
        self.assertAlmostEqual(
            evaluate(mirrored).small_files[0].joint_given_files_per_s, 8 * answer.joint_given_files_per_s
        )


class Carriers(unittest.TestCase):
    def test_carrier_shares_its_lanes(self) -> None:
        card = {
            "id": "c",
            "name": "Slot 1",
            "holds": "flash carrier",
            "flash_drives": 2,
            "splits": True,
            "bus": "pcie3x4",
        }
        box = {"id": "b", "name": "B", "bays": 12, "flash_slots": 2, "cards": [card]}
        flash = {"drive_kind": "ssd", "drive_id": "", "drive_bytes": 4 * TB, "drive_count": 2, "layout": "mirror",
                 "bays": "b:f1-2", "spares": 0, "drive_read_bytes_per_s": 3000 * MB}  # fmt: skip
        evidence = cleared(self, stocked(flash, boxes=[box]), "lanes-short", "carrier-shares-its-lanes-b-c")
        self.assertEqual((evidence["The drives read together"], evidence["Lanes"]), (6e9, 4))
