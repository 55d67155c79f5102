"""A box or a cache that takes a class is what the class is, under its own name, and can be judged."""

import unittest

from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.plan.bundle import Bundle
from larder.plan.enclosure import Enclosure
from larder.plan.take_class import class_patch
from larder.readers.generic_lists import missing_patch
from larder.readers.plan_file import bundle_from
from larder.tests.plans import demo


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

    def test_what_is_not_there_or_no_flash_is_refused(self) -> None:
        disk = next(d.id for d in self.bundle.catalogue.drives if d.kind == "hdd")
        cache, box = self.bundle.plan.caches[0].id, self.bundle.plan.boxes[0].id
        for path, class_id, said in (
            (f"plan/caches/{cache}", disk, "class of flash"),
            (f"plan/boxes/{box}", "attic", "class of box"),
            ("plan/boxes/attic", "", "path of a box"),
            ("plan/pools/main", disk, "path of a box"),
        ):
            with self.assertRaises(Refused) as caught:
                class_patch(self.bundle, path, class_id)
            self.assertIn(said, caught.exception.sentence)
