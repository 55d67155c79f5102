"""Whatever item is removed, nothing is left that refers to it, and nothing else is touched."""

import unittest
from typing import Any

from larder.base.errors import LarderError, Refused
from larder.base.patch import apply_patch
from larder.plan.bays import parse_bays
from larder.plan.bundle import Bundle
from larder.plan.removal import removal_patch
from larder.readers.plan_file import bundle_from
from larder.tests.plans import demo


def items_in(node: Any, path: str = "") -> list[str]:
    """The paths of all items in a document."""
    if isinstance(node, dict):
        return [p for key, value in node.items() for p in items_in(value, f"{path}/{key}".strip("/"))]
    if isinstance(node, list):
        own = [f"{path}/{each['id']}" for each in node if isinstance(each, dict) and "id" in each]
        return own + [
            p
            for each, at in zip(node, own, strict=False)
            if isinstance(each, dict)
            for p in items_in(each, at)
        ]
    return []


def without(bundle: Bundle, path: str) -> Bundle:
    return bundle_from(apply_patch(bundle.document(), removal_patch(bundle, path)))


class Removing(unittest.TestCase):
    def test_every_item_of_the_demo_plans_goes_or_is_refused_for_a_reason_of_its_own(self) -> None:
        for name in ("one-box", "halyard-street", "tern-and-tide", "long-shore"):
            bundle = demo(name)
            used = {format_id for _, format_id in bundle.plan.brief.formats_used()}
            for path in items_in(bundle.document()):
                with self.subTest(plan=name, path=path):
                    where, _, item_id = path.rpartition("/")
                    needed = where == "catalogue/formats" and item_id in used
                    try:
                        left = without(bundle, path)
                    except LarderError as error:
                        self.assertTrue(needed, error)
                        continue
                    self.assertFalse(needed)
                    self.assertNotIn(path, items_in(left.document()))

    def test_a_pool_takes_what_stands_before_it_and_on_it_and_no_more(self) -> None:
        bundle = demo("long-shore")
        cache = bundle.plan.caches[0]
        left = without(bundle, f"plan/pools/{cache.pool_id}").plan
        self.assertEqual(left.caches, tuple(c for c in bundle.plan.caches if c.pool_id != cache.pool_id))
        self.assertEqual(left.volumes, tuple(v for v in bundle.plan.volumes if v.pool_id != cache.pool_id))
        self.assertEqual(left.boxes, bundle.plan.boxes)

    def test_drives_leave_the_bays_of_a_box_that_goes_and_stay_in_others(self) -> None:
        bundle = demo("long-shore")
        box = bundle.plan.boxes[0].id
        left = without(bundle, f"plan/boxes/{box}").plan
        for before, after in zip(bundle.plan.pools, left.pools, strict=True):
            stays = [bay for bay in parse_bays(before.bays) if bay.box_id != box]
            self.assertEqual(list(parse_bays(after.bays)), stays)
            self.assertEqual(after.drives_bytes, before.drives_bytes)

    def test_what_a_class_was_made_into_keeps_its_figures_and_its_prices_go(self) -> None:
        bundle = demo("tern-and-tide")
        pool = bundle.plan.pools[0]
        left = without(bundle, f"catalogue/drives/{pool.drive_id}")
        self.assertEqual(left.plan.pools[0], pool.model_copy(update={"drive_id": ""}))
        self.assertNotIn(pool.drive_id, {p.item_id for p in left.catalogue.prices})
        self.assertEqual(
            len(left.catalogue.prices),
            sum(p.item_id != pool.drive_id for p in bundle.catalogue.prices),
        )

    def test_services_run_in_every_part_again_and_odds_of_a_part_go_with_it(self) -> None:
        parts = [{"id": "day", "name": "Day", "hours": 8}, {"id": "night", "name": "Night", "hours": 8}]
        document = demo("one-box").document()
        document["plan"]["brief"]["day_parts"] = parts
        document["plan"]["brief"]["services"] = [{"id": "backup", "name": "Backup", "part_id": "night"}]
        document["plan"]["brief"]["seats"][0]["at_peak"] = [
            {"id": "night", "probability": 0.1},
            {"id": "day", "probability": 0.5},
        ]
        left = without(bundle_from(document), "plan/brief/day_parts/night").plan.brief
        self.assertEqual(left.services[0].part_id, "")
        self.assertEqual([odds.id for odds in left.seats[0].at_peak], ["day"])

    def test_what_is_not_there_is_refused(self) -> None:
        bundle = demo("one-box")
        for path in ("plan/pools/attic", "plan/pools", "plan/name", "attic", "plan/pools/main/layout", "/"):
            with self.assertRaises(Refused, msg=path):
                removal_patch(bundle, path)
