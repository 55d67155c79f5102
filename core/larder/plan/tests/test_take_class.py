"""A box or a cache that takes a class is what the class is, under its own name, and can be judged."""

import unittest

from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.base.units import TB
from larder.plan.bundle import Bundle
from larder.plan.enclosure import Enclosure
from larder.plan.take_class import class_patch
from larder.readers.generic_lists import missing_patch
from larder.readers.plan_file import bundle_from
from larder.tests.plans import changed, demo


def taken(bundle: Bundle, path: str, class_id: str) -> Bundle:
    return bundle_from(apply_patch(bundle.document(), class_patch(bundle, path, class_id)))


class Taking(unittest.TestCase):
    def setUp(self) -> None:
        bundle = demo("long-shore")
        document = apply_patch(bundle.document(), missing_patch(bundle.catalogue))
        for pool in document["plan"]["pools"] + document["plan"]["caches"]:
            pool["bays"] = ""
        self.bundle = bundle_from(document)

    def test_a_box_of_every_class_has_all_its_fields_and_keeps_its_name(self) -> None:
        box = self.bundle.plan.boxes[0]
        self.assertGreater(len(self.bundle.catalogue.boxes), 5)
        for model in self.bundle.catalogue.boxes:
            after = taken(self.bundle, f"plan/boxes/{box.id}", model.id).plan.boxes[0]
            self.assertEqual((after.id, after.name, after.model_id), (box.id, box.name, model.id))
            self.assertEqual((after.unit_price, after.ignores_list), (None, False))
            for field in set(Enclosure.model_fields) - {"name"}:
                self.assertEqual(getattr(after, field), getattr(model, field), field)

    def test_a_cache_of_every_class_of_flash_has_its_figures_and_the_lists_price(self) -> None:
        cache = self.bundle.plan.caches[0]
        flash = [d for d in self.bundle.catalogue.drives if d.kind == "ssd"]
        self.assertGreater(len(flash), 5)
        for drive in flash:
            after = taken(self.bundle, f"plan/caches/{cache.id}", drive.id).plan.caches[0]
            self.assertEqual(
                after,
                cache.model_copy(
                    update={
                        "drive_id": drive.id,
                        "drive_bytes": drive.size_bytes,
                        "read_bytes_per_s": drive.read_bytes_per_s,
                        "write_bytes_per_s": drive.write_bytes_per_s,
                        "endurance_bytes": drive.endurance_bytes,
                        "keeps_power": drive.keeps_power,
                        "drive_unit_price": None,
                    }
                ),
            )

    def test_no_class_loses_the_class_and_nothing_else(self) -> None:
        box, cache = self.bundle.plan.boxes[0], self.bundle.plan.caches[0]
        boxed = taken(self.bundle, f"plan/boxes/{box.id}", "").plan
        self.assertEqual(boxed.boxes[0], box.model_copy(update={"model_id": ""}))
        self.assertEqual(boxed.boxes[1:], self.bundle.plan.boxes[1:])
        cached = taken(self.bundle, f"plan/caches/{cache.id}", "").plan.caches[0]
        self.assertEqual(cached, cache.model_copy(update={"drive_id": ""}))

    def test_a_box_that_has_the_class_takes_its_figures_alone_and_another_class_leaves_it_where_it_stands(
        self,
    ) -> None:
        own = {"supplies": 3, "unit_price": "900.00", "is_reused": True, "disks_read_in": "any computer"}
        at = "plan/boxes/boathouse"
        bundle = changed(demo("tern-and-tide"), **{f"{at}/{field}": value for field, value in own.items()})
        after = taken(bundle, at, "desk-12").plan.boxes[0]
        self.assertEqual(after, changed(bundle, **{f"{at}/supplies": 1}).plan.boxes[0])
        other = taken(
            changed(bundle, **{f"{at}/place_id": "safe", "plan/pools/main/bays": ""}), at, "flash-6"
        ).plan.boxes[0]
        self.assertEqual((other.place_id, other.unit_price, other.is_reused), ("safe", None, False))

    def test_a_pool_takes_what_its_class_says_now_and_keeps_what_is_its_own(self) -> None:
        here = demo("tern-and-tide")
        pool = here.plan.pools[0]
        drive = next(d for d in here.catalogue.drives if d.id == pool.drive_id)
        at, size = f"plan/pools/{pool.id}", pool.drive_bytes
        bundle = changed(
            here,
            **{
                f"{at}/spares": 1, f"{at}/spare_bytes": size + TB, f"{at}/hours_run": 9_000,
                f"{at}/are_used": True, f"{at}/drive_unit_price": "99.00", f"{at}/bays": "",
                f"catalogue/drives/{drive.id}/size_bytes": 2 * size,
                f"catalogue/drives/{drive.id}/read_bytes_per_s": 123e6,
            },
        )  # fmt: skip
        before = next(p for p in bundle.plan.pools if p.id == pool.id)
        after = next(p for p in taken(bundle, at, drive.id).plan.pools if p.id == pool.id)
        self.assertEqual(
            after,
            before.model_copy(
                update={
                    "drive_bytes": 2 * size,
                    "drive_read_bytes_per_s": 123e6,
                    "spare_bytes": None,
                    "drive_write_bytes_per_s": drive.write_bytes_per_s,
                }
            ),
        )
        with self.assertRaises(Refused) as caught:
            class_patch(bundle, at, "flash-4-nvme")
        self.assertIn("disk-16-array, its own class; a swap puts", caught.exception.sentence)
        larger = changed(bundle, **{f"{at}/spare_bytes": 3 * size})
        self.assertEqual(
            next(p for p in taken(larger, at, drive.id).plan.pools if p.id == pool.id).spare_bytes, 3 * size
        )
        mixed = changed(bundle, **{f"{at}/spare_bytes": None, f"{at}/mixed_sizes": f"{pool.drive_count}x9TB"})
        self.assertEqual(
            next(p for p in taken(mixed, at, drive.id).plan.pools if p.id == pool.id).drive_bytes, size
        )

    def test_what_is_not_there_or_no_flash_is_refused(self) -> None:
        disk = next(d.id for d in self.bundle.catalogue.drives if d.kind == "hdd")
        cache, box = self.bundle.plan.caches[0].id, self.bundle.plan.boxes[0].id
        pool = self.bundle.plan.pools[0]
        self.assertEqual(pool.drive_id, "")
        for path, class_id, said in (
            (f"plan/caches/{cache}", disk, "class of flash"),
            (f"plan/boxes/{box}", "attic", "class of box"),
            ("plan/boxes/attic", "", "path of a box"),
            ("plan/pools/attic", disk, "path of a box"),
            (f"plan/pools/{pool.id}", disk, "nothing: the pool has no class; a swap"),
        ):
            with self.assertRaises(Refused) as caught:
                class_patch(self.bundle, path, class_id)
            self.assertIn(said, caught.exception.sentence)
