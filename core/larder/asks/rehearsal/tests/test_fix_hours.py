"""The hours of a day that is rehearsed become those of the plan, as many as a plan may have."""

import unittest
from unittest import mock

from larder.asks.rehearsal import fix_hours
from larder.asks.rehearsal.fix_hours import hours_patch
from larder.base.errors import Refused
from larder.base.patch import apply_patch
from larder.readers.plan_file import bundle_from
from larder.tests.plans import demo


class Hours(unittest.TestCase):
    def test_as_many_sessions_as_a_plan_may_have_and_not_one_more(self) -> None:
        bundle = demo("one-box")
        patch = hours_patch(bundle, "edit")
        count = len(patch)
        self.assertGreater(count, 4)
        for most, is_right in ((count, True), (count - 1, False)):
            with mock.patch.object(fix_hours, "MOST_SESSIONS", most):
                if is_right:
                    self.assertEqual(hours_patch(bundle, "edit"), patch)
                else:
                    self.assertRaisesRegex(Refused, "at most", hours_patch, bundle, "edit")

    def test_they_are_of_each_seat_of_the_class_and_asked_again_nothing_is_twice(self) -> None:
        bundle = demo("one-box")
        after = bundle_from(apply_patch(bundle.document(), hours_patch(bundle, "edit")))
        sessions = after.plan.brief.timetable.sessions
        self.assertEqual({session.number for session in sessions}, {1, 2, 3, 4, 5})
        self.assertEqual(len({session.id for session in sessions}), len(sessions))
        self.assertRaisesRegex(Refused, "the id of seats that work", hours_patch, bundle, "attic")


if __name__ == "__main__":
    unittest.main()
