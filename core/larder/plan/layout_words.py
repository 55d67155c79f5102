"""What is said of a layout: its name in words, what it loses, costs and grows by."""

from __future__ import annotations

from functools import lru_cache

from larder.laws.layout import GROUPED_NAMES, LAYOUTS, Family, Layout, parse_layout

_WORDS = {
    "span": "Span",
    "stripe": "Stripe",
    "mirror": "Mirror, a copy on every drive",
    "mirror3": "Striped three-way mirrors",
    "raid10": "Striped mirrors",
    "raid5": "Single parity",
    "raid6": "Double parity",
    "triple": "Triple parity",
    "cow1": "Copy-on-write, single parity",
    "cow2": "Copy-on-write, double parity",
    "cow3": "Copy-on-write, triple parity",
    "layered1": "Layered mixed sizes, single parity",
    "layered2": "Layered mixed sizes, double parity",
    "filewise1": "Whole-file, one parity drive",
    "filewise2": "Whole-file, two parity drives",
}


def words_of(layout: Layout) -> str:
    """The layout's name as people say it."""
    if layout.family is Family.PARITY_GROUPS:
        return f"{layout.groups} groups of {'single' if layout.parity == 1 else 'double'} parity"
    return _WORDS[layout.name]


@lru_cache(maxsize=1_000)
def layouts_for(current: str, members: int) -> tuple[str, ...]:
    """The names of all layouts that ``members`` drives are offered; grouped ones once.

    In the ``current`` number of groups, else in the fewest that fit.
    """
    return (*LAYOUTS, *(_grouped(name, current, members) for name in GROUPED_NAMES))


def _grouped(name: str, current: str, members: int) -> str:
    if current.startswith(f"{name}:"):
        return current
    fits = (g for g in range(2, members) if parse_layout(f"{name}:{g}").takes(members))
    return f"{name}:{next(fits, 2)}"


def loses_only_files(layout: Layout) -> bool:
    """Whether the files of drives that live stay readable when more fail than it survives."""
    return layout.family is Family.FILEWISE


def loses(layout: Layout) -> str:
    """What is lost when more drives fail than it survives."""
    return "only the files on the dead drives" if loses_only_files(layout) else "the whole pool"


def unreadable_costs(layout: Layout) -> str:
    """What a sector costs that cannot be read while a drive is rebuilt."""
    if layout.parity > 1 or layout.copies > 2:
        return "what is held once more mends it"
    if layout.family in (Family.FILEWISE, Family.COPY_ON_WRITE):
        return "it costs a file"
    return "it costs a file, or ends the rebuild"


def grows_by(layout: Layout) -> str:
    """What is added when it grows."""
    return _GROWTH[layout.family][0]


def more_parity_later(layout: Layout) -> str:
    """Whether it can come to survive more once it is in use."""
    return _GROWTH[layout.family][1]


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
