"""What practitioners ask of copies: the rule of three, and what smaller houses keep to instead.

Each is the same four numbers; which a studio keeps to is its own choice, with the numbers of both sides in
the grid.
"""

from __future__ import annotations

from typing import NamedTuple

from larder.base.patch import Patch, set_fields

from .house_rules import HouseRules


class CopyRule(NamedTuple):
    """Copies with the one in use, kinds of media, of them elsewhere, of them offline or immutable."""

    id: str
    name: str
    copies: int
    media_kinds: int
    elsewhere: int
    offline: int

    @property
    def numbers(self) -> tuple[int, int, int, int]:
        """The four numbers in the order of the house rules."""
        return self.copies, self.media_kinds, self.elsewhere, self.offline


COPY_RULES = (
    CopyRule("three", "three copies, two kinds of media, one elsewhere", 3, 2, 1, 0),
    CopyRule("three-apart", "the same, and one out of an intruder's reach", 3, 2, 1, 1),
    CopyRule("two", "two, one elsewhere: labelled drives, or a mirror box", 2, 1, 1, 0),
    CopyRule("cloud", "a box and a service", 2, 2, 1, 0),
    CopyRule("safe", "a box, offline drives in a safe and elsewhere", 3, 1, 1, 1),
)
RULE_FIELDS = ("copies_min", "media_kinds_min", "copies_elsewhere_min", "copies_offline_min")


def numbers_of(rules: HouseRules) -> tuple[int, int, int, int]:
    """The four numbers that a house keeps to."""
    return (
        rules.copies_min,
        rules.media_kinds_min,
        rules.copies_elsewhere_min,
        rules.copies_offline_min,
    )


def rule_patch(rule: CopyRule) -> Patch:
    """The change that has a plan judged by it."""
    return set_fields("house_rules", **dict(zip(RULE_FIELDS, rule.numbers, strict=True)))
