"""The layouts a pool can take: what each needs, how many copies or parities, what it survives.

Seventeen layouts, spelled as the shared grammar spells them (``raid6``, ``raid50:2``, ``cow1`` ...).
Names and smallest sets follow the levels of the SNIA Common RAID Disk Data Format and the product's
own contract for the copy-on-write, layered and whole-file families.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum
from typing import Any

from larder.base.errors import Refused

from .elementwise import Whole, is_many


class Family(Enum):
    """How a layout places data; rules of capacity and speed are per family."""

    SPAN = "span"
    STRIPE = "stripe"
    MIRROR = "mirror"
    STRIPED_MIRROR = "striped mirror"
    PARITY = "parity"
    PARITY_GROUPS = "parity groups"
    COPY_ON_WRITE = "copy-on-write parity"
    LAYERED = "layered parity"
    FILEWISE = "whole-file parity"


@dataclass(frozen=True)
class Layout:
    """One layout. ``parity`` counts parity drives per group, ``copies`` the mirror's copies."""

    name: str
    family: Family
    fewest_members: int
    parity: int = 0
    copies: int = 1
    groups: int = 1

    @property
    def unit(self) -> int:
        """The number of drives that members come in multiples of: a set of copies, or one for each group."""
        return self.copies if self.family is Family.STRIPED_MIRROR else self.groups

    def check_members(self, members: Whole, field: str = "members") -> None:
        """Raise :class:`Refused` where ``members`` drives cannot form this layout; of many, for the first."""
        if is_many(members):
            wrong = members[~self.takes(members)]
            if not len(wrong):
                return
            members = int(wrong[0])
        if members < self.fewest_members:
            need = f"{self.fewest_members} drives or more"
            raise Refused(field, members, f"{need} besides spares, for this layout")
        unit = self.unit
        if members % unit:
            fits = members - members % unit
            raise Refused(
                field,
                members,
                f"a multiple of {unit} besides spares for this layout, such as "
                + (f"{fits} or {fits + unit}" if fits >= self.fewest_members else f"{fits + unit}"),
            )

    def takes(self, members: Whole) -> Any:
        """Whether ``members`` drives can form this layout."""
        return (members >= self.fewest_members) & (members % self.unit == 0)

    def mirror_groups(self, members: Whole) -> Whole:
        """How many mirrored sets the stripe runs over."""
        return members // self.copies

    def guaranteed_failures(self, members: Whole) -> Whole:
        """Drives that may fail whichever they are, with nothing lost."""
        if self.family is Family.MIRROR:
            return members - 1
        return self.copies - 1 if self.family is Family.STRIPED_MIRROR else self.parity

    def max_failures(self, members: Whole) -> Whole:
        """Drives that may fail in the luckiest case, with nothing lost."""
        if self.family is Family.STRIPED_MIRROR:
            return (self.copies - 1) * self.mirror_groups(members)
        if self.family is Family.PARITY_GROUPS:
            return self.parity * self.groups
        return self.guaranteed_failures(members)

    @property
    def has_redundancy(self) -> bool:
        """Whether any drive may fail with nothing lost."""
        return self.copies > 1 or self.parity > 0 or self.family is Family.MIRROR


_F = Family
_FIXED = (
    Layout("span", _F.SPAN, 1),
    Layout("stripe", _F.STRIPE, 2),
    Layout("mirror", _F.MIRROR, 2),
    Layout("mirror3", _F.STRIPED_MIRROR, 3, copies=3),
    Layout("raid10", _F.STRIPED_MIRROR, 2, copies=2),
    Layout("raid5", _F.PARITY, 3, parity=1),
    Layout("raid6", _F.PARITY, 4, parity=2),
    Layout("triple", _F.PARITY, 5, parity=3),
    Layout("cow1", _F.COPY_ON_WRITE, 3, parity=1),
    Layout("cow2", _F.COPY_ON_WRITE, 4, parity=2),
    Layout("cow3", _F.COPY_ON_WRITE, 5, parity=3),
    Layout("layered1", _F.LAYERED, 2, parity=1),
    Layout("layered2", _F.LAYERED, 3, parity=2),
    Layout("filewise1", _F.FILEWISE, 2, parity=1),
    Layout("filewise2", _F.FILEWISE, 3, parity=2),
)
LAYOUTS: dict[str, Layout] = {layout.name: layout for layout in _FIXED}
GROUPED_NAMES = ("raid50", "raid60")
LAYOUT_ACCEPTED = "one of " + " ".join(LAYOUTS) + " raid50:G raid60:G (G groups of equal size, 2 or more)"
_GROUPED = re.compile(r"(raid50|raid60):(\d{1,4})")


def parse_layout(text: str, field: str = "layout") -> Layout:
    """The layout named ``text``; raises :class:`Refused` with the list of names."""
    fixed = LAYOUTS.get(text)
    if fixed is not None:
        return fixed
    match = _GROUPED.fullmatch(text)
    if match is None or int(match[2]) < 2:
        raise Refused(field, text, LAYOUT_ACCEPTED)
    parity, groups = (1 if match[1] == "raid50" else 2), int(match[2])
    return Layout(text, Family.PARITY_GROUPS, groups * (2 + parity), parity, groups=groups)
