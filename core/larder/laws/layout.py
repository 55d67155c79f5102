"""The layouts a pool can take: what each needs, how many copies or parities, what it survives.

Seventeen layouts, spelled as the shared grammar spells them (``raid6``, ``raid50:2``, ``cow1`` ...).
Names and smallest sets follow the levels of the SNIA Common RAID Disk Data Format and the product's
own contract for the copy-on-write, layered and whole-file families.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from enum import Enum

from larder.base.errors import Refused


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
    words: str
    family: Family
    fewest_members: int
    parity: int = 0
    copies: int = 1
    groups: int = 1

    def check_members(self, members: int, field: str = "members") -> None:
        """Raise :class:`Refused` where ``members`` drives cannot form this layout."""
        if members < self.fewest_members:
            need = f"{self.fewest_members} drives or more"
            raise Refused(field, members, f"{need} besides spares, for {self.name}")
        unit = self.copies if self.family is Family.STRIPED_MIRROR else self.groups
        if members % unit:
            fits = members - members % unit
            raise Refused(
                field,
                members,
                f"a multiple of {unit} besides spares for {self.name}, such as "
                + (f"{fits} or {fits + unit}" if fits >= self.fewest_members else f"{fits + unit}"),
            )

    def takes(self, members: int) -> bool:
        """Whether ``members`` drives can form this layout."""
        try:
            self.check_members(members)
        except Refused:
            return False
        return True

    def mirror_groups(self, members: int) -> int:
        """How many mirrored sets the stripe runs over."""
        return members // self.copies

    def guaranteed_failures(self, members: int) -> int:
        """Drives that may fail whichever they are, with nothing lost."""
        if self.family is Family.MIRROR:
            return members - 1
        return self.copies - 1 if self.family is Family.STRIPED_MIRROR else self.parity

    def max_failures(self, members: int) -> int:
        """Drives that may fail in the luckiest case, with nothing lost."""
        if self.family is Family.STRIPED_MIRROR:
            return (self.copies - 1) * self.mirror_groups(members)
        if self.family is Family.PARITY_GROUPS:
            return self.parity * self.groups
        return self.guaranteed_failures(members)

    @property
    def loses(self) -> str:
        """What is lost when more drives fail than it survives."""
        if self.family is Family.FILEWISE:
            return "only the files on the dead drives"
        return "the whole pool"

    @property
    def unreadable_costs(self) -> str:
        """What a sector costs that cannot be read while a drive is rebuilt."""
        if self.parity > 1 or self.copies > 2:
            return "what is held once more mends it"
        if self.family in (Family.FILEWISE, Family.COPY_ON_WRITE):
            return "it costs a file"
        return "it costs a file, or ends the rebuild"

    @property
    def grows_by(self) -> str:
        """What is added when it grows."""
        return _GROWTH[self.family][0]

    @property
    def more_parity_later(self) -> str:
        """Whether it can come to survive more once it is in use."""
        return _GROWTH[self.family][1]


_NO_REDUNDANCY = "nothing is held twice, and nothing can be added for it later"
_GROWTH: dict[Family, tuple[str, str]] = {
    Family.SPAN: ("a drive of any size", _NO_REDUNDANCY),
    Family.STRIPE: ("making it anew from a copy", _NO_REDUNDANCY),
    Family.MIRROR: ("larger drives, one after the other", "a further drive is a further copy"),
    Family.STRIPED_MIRROR: (
        "a whole set of copies",
        "a further copy in every set, where the box can do it, or making it anew",
    ),
    Family.PARITY: (
        "one drive, with a reshaping of days",
        "a further parity by reshaping, where the box can do it: days under load, best with a copy elsewhere",
    ),
    Family.PARITY_GROUPS: ("a whole group", "no: its groups keep the parity they were made with"),
    Family.COPY_ON_WRITE: (
        "a further group of drives; one drive at a time only where the software can do it",
        "no: a group keeps the parity it was made with",
    ),
    Family.LAYERED: (
        "one drive of any size",
        "a further parity by reshaping, where the box can do it: days under load",
    ),
    Family.FILEWISE: (
        "one drive no larger than the parity drives",
        "a second parity drive at any time, after one full reading of all",
    ),
}
"""(what it grows by, whether redundancy can be added later) by family."""
_F = Family
_FIXED = (
    Layout("span", "Span", _F.SPAN, 1),
    Layout("stripe", "Stripe", _F.STRIPE, 2),
    Layout("mirror", "Mirror, a copy on every drive", _F.MIRROR, 2),
    Layout("mirror3", "Striped three-way mirrors", _F.STRIPED_MIRROR, 3, copies=3),
    Layout("raid10", "Striped mirrors", _F.STRIPED_MIRROR, 2, copies=2),
    Layout("raid5", "Single parity", _F.PARITY, 3, parity=1),
    Layout("raid6", "Double parity", _F.PARITY, 4, parity=2),
    Layout("triple", "Triple parity", _F.PARITY, 5, parity=3),
    Layout("cow1", "Copy-on-write, single parity", _F.COPY_ON_WRITE, 3, parity=1),
    Layout("cow2", "Copy-on-write, double parity", _F.COPY_ON_WRITE, 4, parity=2),
    Layout("cow3", "Copy-on-write, triple parity", _F.COPY_ON_WRITE, 5, parity=3),
    Layout("layered1", "Layered mixed sizes, single parity", _F.LAYERED, 2, parity=1),
    Layout("layered2", "Layered mixed sizes, double parity", _F.LAYERED, 3, parity=2),
    Layout("filewise1", "Whole-file, one parity drive", _F.FILEWISE, 2, parity=1),
    Layout("filewise2", "Whole-file, two parity drives", _F.FILEWISE, 3, parity=2),
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
    words = f"Striped {'single' if parity == 1 else 'double'}-parity groups, {groups}"
    return Layout(text, words, Family.PARITY_GROUPS, groups * (2 + parity), parity, groups=groups)
