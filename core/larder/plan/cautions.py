"""The usual cautions, by the work at which somebody can be hurt or data be lost.

They defer to local codes and licensed trades; nothing here replaces them.
"""

from __future__ import annotations

from typing import Literal

Work = Literal["mains", "rack", "opening", "drives", "air", "battery", "cabling"]
CAUTIONS: dict[Work, tuple[str, ...]] = {
    "mains": (
        "Circuits, outlets and anything behind a cover are for a licensed electrician and the local code.",
        "Never open or change a power supply: it holds its charge long after it is unplugged.",
        "A box with two supplies is off only when both cords are out.",
    ),
    "battery": (
        "The outlets of a battery unit stay live when it is unplugged.",
        "Batteries are heavy, wear out in a few years and go back to a collection point, not into a bin.",
        "Camera batteries charge away from closets.",
    ),
    "rack": (
        "Two people for heavy units; drives go in when the unit is in its place.",
        "Fill a rack from the bottom up, and pull out one unit at a time: a rack tips over.",
        "Sheet metal has sharp edges, and sprung latches fly at eye height.",
    ),
    "opening": (
        "Disconnect and wait before a case is opened; ground yourself against static.",
        "Heat sinks burn for minutes; peel the film off heat pads.",
    ),
    "drives": (
        "Label before you pull, and read the label back against the alert.",
        "Do not pull a second drive while one is rebuilding.",
        "Changing a layout or adding a drive can wipe it: have a copy that was read back first.",
        "Let disks spin down before they are moved.",
    ),
    "air": (
        "A closet's air, its fan and the opening for it are a ventilation trade's work.",
        "Look for mains and, in old houses, asbestos before drilling.",
        "Hours beside loud fans want hearing protection.",
    ),
    "cabling": (
        "Between buildings fibre, not shielded copper; never look into its end.",
        "Cables across a floor trip people; ladders stand on even ground and are held.",
    ),
}
