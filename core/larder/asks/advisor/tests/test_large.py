"""A catalogue that is too large to look at all of it: what is left out is dearer or nearly the same, and said."""

import unittest

import numpy as np

from larder.asks.advisor.options import MOST_CLASSES, options_of
from larder.asks.advisor.search import Search
from larder.asks.advisor.undominated import _in_steps, best_pools
from larder.plan.bundle import Bundle
from larder.tests.plans import demo


def listed(bundle: Bundle, times: int) -> Bundle:
    """The plan with every class of drive and its price so many times, each a little dearer than before."""
    catalogue = bundle.catalogue
    drives, prices = list(catalogue.drives), list(catalogue.prices)
    for n in range(1, times):
        drives += [each.model_copy(update={"id": f"{each.id}-{n}"}) for each in catalogue.drives]
        for price in catalogue.prices:
            if any(price.item_id == drive.id for drive in catalogue.drives):
                update = {
                    "id": f"{price.id}-{n}",
                    "item_id": f"{price.item_id}-{n}",
                    "amount": price.amount + n,
                }
                prices.append(price.model_copy(update=update))
    update = {"drives": tuple(drives), "prices": tuple(prices)}
    return bundle.model_copy(update={"catalogue": catalogue.model_copy(update=update)})


class LargeCatalogues(unittest.TestCase):
    def test_of_very_many_classes_the_dearer_of_those_alike_are_left_out_and_counted(self) -> None:
        plan = demo("tern-and-tide")
        few, many = options_of(plan), options_of(listed(plan, 9))
        self.assertEqual(len(many.drives), MOST_CLASSES)
        first = {drive.model.id for drive in few.drives}
        self.assertLessEqual(first, {drive.model.id for drive in many.drives})
        out = 9 * len(few.drives) - MOST_CLASSES
        self.assertIn(f"{out} dearer classes of drive", "; ".join(many.left_out))
        self.assertTrue(many.takes_long)
        self.assertFalse(any("dearer" in said for said in few.left_out))

    def test_steps_keep_the_order_and_join_only_what_is_near(self) -> None:
        rng = np.random.default_rng(4)
        for sign in (1.0, -1.0):
            values = sign * np.append(10 ** rng.uniform(-9, 12, 400), (0.0, np.inf, 1.0))
            steps = _in_steps(values, 0.05)
            order = np.argsort(values)
            self.assertTrue((np.diff(steps[order]) >= 0).all())
            same = steps[order][1:] == steps[order][:-1]
            near, far = np.abs(values[order])[1:][same], np.abs(values[order])[:-1][same]
            some = (near > 0) & (far > 0) & np.isfinite(near) & np.isfinite(far)
            self.assertLess(np.abs(np.log(near[some] / far[some])).max(initial=0.0), np.log(1.05) + 1e-9)
            self.assertTrue((steps[values == 0] == 0).all())

    def test_whatever_one_points_at_something_of_it_stays(self) -> None:
        search = Search(demo("tern-and-tide"))
        of = next(field for field in search.fields if field.shape == "two boxes")
        for which, tier in enumerate(of.ground.tiers):
            (pool,) = of.tables[which].pools
            before = len(pool)
            for within in (0.0, 0.1, 10.0):
                stays = best_pools(of.ground, tier, pool, within)
                self.assertLessEqual(stays.sum(), before)
                before = int(stays.sum())
                for column in (pool.layout_at, pool.drive_at, pool.place_at):
                    self.assertEqual(set(column[stays].tolist()), set(column.tolist()))
            self.assertLess(before, len(pool) / 3)
