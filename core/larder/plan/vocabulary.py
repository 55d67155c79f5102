"""Words that the plan and the stock share: media, worth, roles of copies, the ports of a box."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import AfterValidator, StringConstraints

from larder.base.errors import Refused
from larder.laws.path import parse_hop

Medium = Literal["hdd", "ssd", "card"]
Recording = Literal["cmr", "smr", "unknown"]
DriveClass = Literal["desktop", "array", "portable", "unknown"]
"""``array`` is rated for running day and night beside others; ``desktop`` and ``portable`` are not."""
Worth = Literal["irreplaceable", "costly", "replaceable"]
CopyRole = Literal["main", "backup", "unsaid"]
MOST_PORTS = 16
PORTS_ACCEPTED = f"up to {MOST_PORTS} ports such as 10GbE usb10G, with blanks between them"


def ports_checked(value: str) -> str:
    """Ports as :func:`larder.laws.path.parse_hop` reads them, one blank between; raises :class:`Refused`."""
    texts = value.split()
    if len(texts) > MOST_PORTS:
        raise Refused("ports", value, PORTS_ACCEPTED)
    for text in texts:
        if text.startswith("disk:"):
            raise Refused("ports", text, PORTS_ACCEPTED)
        parse_hop(text)
    return " ".join(texts)


Ports = Annotated[str, StringConstraints(max_length=200), AfterValidator(ports_checked)]
