"""What a pool, cache or box has of its own where its class says otherwise, and the press that ends it."""

import unittest
from typing import Any

from larder.base.patch import apply_patch
from larder.plan.new_item import Asked, new_item_patch
from larder.plan.take_class import class_patch
from larder.readers.plan_file import bundle_from
from larder.stages.own_figures import own_figures
from larder.tests.plans import changed, demo


class OwnFiguresKept(unittest.TestCase):
    def setUp(self) -> None:
        bundle = demo("tern-and-tide")
        item = new_item_patch(bundle, Asked("plan/caches", {"pool_id": "main"}))
        bundle = bundle_from(apply_patch(bundle.document(), item))
        cache = f"plan/caches/{bundle.plan.caches[0].id}"
        flash = class_patch(bundle, cache, "flash-4-nvme")
        self.bundle = bundle_from(apply_patch(bundle.document(), flash))

    def kept(self, **values: Any) -> list[tuple[str, list[tuple[str, str, str]]]]:
        bundle = changed(self.bundle, **values)
        return [
            (figure.path, [(f.label, f.own, f.of_class) for f in figure.figures])
            for figure in own_figures(bundle)
        ]

    def test_nobody_keeps_anything_where_all_is_as_the_class_says(self) -> None:
        self.assertEqual(self.kept(), [])
        self.assertEqual(own_figures(demo("long-shore")), ())

    def test_a_class_that_is_made_larger_is_said_at_every_pool_of_it(self) -> None:
        pool = self.bundle.plan.pools[0]
        drive = next(d for d in self.bundle.catalogue.drives if d.id == pool.drive_id)
        size = drive.size_bytes // 10**12
        places = [f"plan/pools/{p.id}" for p in self.bundle.plan.pools if p.drive_id == drive.id]
        kept = self.kept(**{f"catalogue__drives__{drive.id}__size_bytes": 2 * drive.size_bytes})
        self.assertEqual(kept, [(p, [("Size each", f"{size} TB", f"{2 * size} TB")]) for p in places])

    def test_what_a_person_typed_on_a_pool_a_cache_and_a_box_is_said(self) -> None:
        pool, cache, box = self.bundle.plan.pools[0], self.bundle.plan.caches[0], self.bundle.plan.boxes[0]
        kept = self.kept(
            **{
                f"plan__pools__{pool.id}__drive_read_bytes_per_s": 123_000_000.0,
                f"plan__caches__{cache.id}__keeps_power": not cache.keeps_power,
                f"plan__boxes__{box.id}__supplies": 3,
            }
        )
        self.assertEqual(
            [(path, figures[0][:2]) for path, figures in kept],
            [
                (f"plan/pools/{pool.id}", ("Read rate each", "123 MB/s")),
                (
                    f"plan/caches/{cache.id}",
                    ("Power-loss protection or UPS", "no" if cache.keeps_power else "yes"),
                ),
                (f"plan/boxes/{box.id}", ("Supplies", "3")),
            ],
        )


if __name__ == "__main__":
    unittest.main()
