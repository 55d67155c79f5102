"""The wires of a plan: switches, links between what has ports, and what holds for the whole network.

A link is one cable or several alike ones joined. Its near end is towards the people, its far end towards the
storage. Which ports it takes is said by their numbers, as ``1-2,7``; what is not said takes free ones
(:mod:`larder.plan.ports`).
"""

from __future__ import annotations

import re
from functools import lru_cache
from typing import Annotated, Literal, NamedTuple

from pydantic import AfterValidator, Field, StringConstraints

from larder.base.errors import Refused
from larder.base.fields import Amount, Day, DistinctIds, Item, Name, Number, Value, labelled
from larder.laws.path import ETHERNET_BITS_PER_S

from .enclosure import Bus

Speed = Literal["100Mb", "1GbE", "2.5GbE", "5GbE", "10GbE", "25GbE", "100GbE"]
CameUp = Literal["", "100Mb", "1GbE", "2.5GbE", "5GbE", "10GbE", "25GbE", "100GbE"]
Category = Literal["unsaid", "cat5e", "cat6", "cat6a", "direct attach", "fibre"]
LetsIn = Literal["nothing", "through a tunnel", "open ports"]
EndKind = Literal["seat", "switch", "box", "storage", "outside"]
MOST_SWITCHES, MOST_LINKS, MOST_SWITCH_PORTS = 24, 200, 128
END_ACCEPTED = "seat:ID, switch:ID, box:ID, storage (pools in no box) or outside"
PORTS_OF_A_SWITCH = f"kinds of port such as 8x10GbE 24x1GbE, {MOST_SWITCH_PORTS} ports at most"
NUMBERS_ACCEPTED = "port numbers such as 1-2,7, or nothing for any that are free"
_WORD = re.compile(rf"(?:(?P<count>\d{{1,3}})x)?(?P<speed>{'|'.join(map(re.escape, ETHERNET_BITS_PER_S))})")
_RUN = re.compile(r"(\d{1,3})(?:-(\d{1,3}))?")


class End(NamedTuple):
    """One end of a link: what kind of thing it is at, and which; ``storage`` and ``outside`` have no id."""

    kind: EndKind
    id: str = ""

    @property
    def text(self) -> str:
        """As it stands in the plan file."""
        return f"{self.kind}:{self.id}" if self.id else self.kind


STORAGE, OUTSIDE = End("storage"), End("outside")
_ALONE = {"storage": STORAGE, "outside": OUTSIDE}


@lru_cache(maxsize=4_096)
def parse_end(text: str, field: str = "near") -> End:
    """The end that ``text`` names; raises :class:`Refused` for another grammar."""
    kind, _, item_id = text.partition(":")
    if text in _ALONE:
        return _ALONE[text]
    if kind in ("seat", "switch", "box") and item_id:
        return End(kind, item_id)  # type: ignore[arg-type]
    raise Refused(field, text, END_ACCEPTED)


def parse_numbers(text: str, field: str = "ports") -> tuple[int, ...]:
    """Port numbers in the order they are written; raises :class:`Refused` for a number said twice."""
    found: list[int] = []
    for piece in text.replace(" ", "").split(",") if text.strip() else ():
        match = _RUN.fullmatch(piece)
        low, high = (int(match[1]), int(match[2] or match[1])) if match else (0, 0)
        if not 1 <= low <= high:
            raise Refused(field, text, NUMBERS_ACCEPTED)
        found += range(low, high + 1)
    if len(set(found)) < len(found):
        twice = next(number for number in found if found.count(number) > 1)
        raise Refused(field, f"port {twice} twice", "each port once")
    return tuple(found)


def numbers_text(numbers: tuple[int, ...]) -> str:
    """Port numbers as one writes them, rising runs joined."""
    runs: list[list[int]] = []
    for number in numbers:
        if runs and number == runs[-1][1] + 1:
            runs[-1][1] = number
        else:
            runs.append([number, number])
    return ",".join(f"{low}" if low == high else f"{low}-{high}" for low, high in runs)


def ethernet_ports(text: str) -> tuple[str, ...]:
    """The speed of every Ethernet port that ``text`` lists, by number from 1; other ports have none."""
    found: list[str] = []
    for word in text.split():
        match = _WORD.fullmatch(word)
        if match:
            found += [match["speed"]] * int(match["count"] or 1)
    return tuple(found)


def _switch_ports(value: str) -> str:
    words = value.split()
    is_said = all(_WORD.fullmatch(word) for word in words)
    if not is_said or len(ethernet_ports(value)) > MOST_SWITCH_PORTS:
        raise Refused("ports", value, PORTS_OF_A_SWITCH)
    return " ".join(words)


def _end(value: str) -> str:
    return parse_end(value).text


def _numbers(value: str) -> str:
    return numbers_text(parse_numbers(value))


SwitchPorts = Annotated[str, StringConstraints(max_length=200), AfterValidator(_switch_ports)]
EndText = Annotated[str, StringConstraints(max_length=50), AfterValidator(_end)]
PortNumbers = Annotated[str, StringConstraints(max_length=200), AfterValidator(_numbers)]


class Switch(Item):
    """A switch; its ports are numbered from 1 in the order in which their kinds are written.

    One whose ports are not said has as many as are wanted.
    """

    name: Annotated[Name, labelled("Switch")]
    ports: Annotated[SwitchPorts, labelled("Ports")] = "8x10GbE"
    puts_playback_first: Annotated[bool, labelled("Puts playback before copies")] = False
    noise_dba: Annotated[Number, Field(ge=0, le=120), labelled("Noise", "dB(A)", 1)] = 0.0
    watts: Annotated[Number, Field(ge=0, le=5000), labelled("Takes", "W", 5)] = 0.0
    unit_price: Annotated[Amount | None, labelled("Price", "money", 10)] = None
    has_spare: Annotated[bool, labelled("A spare one on the shelf")] = False


class Link(Item):
    """A cable, or several alike ones joined: from a seat, a switch or the outside on to a switch or box.

    ``speed`` is that of its own port: what a seat's machine has, and which kind of port is looked for where
    no number is said. Every seat of a class has a link of its own. ``adapter`` is the bus that the port
    hangs on, empty for one built in. ``came_up_at`` is what was seen, where that is less.
    """

    near: Annotated[EndText, labelled("From")]
    far: Annotated[EndText, labelled("To")]
    speed: Annotated[Speed, labelled("Speed")] = "10GbE"
    links: Annotated[int, Field(ge=1, le=16), labelled("Links together")] = 1
    near_ports: Annotated[PortNumbers, labelled("From port")] = ""
    far_ports: Annotated[PortNumbers, labelled("To port")] = ""
    adapter: Annotated[Bus, labelled("Adapter on")] = ""
    category: Annotated[Category, labelled("Cable")] = "unsaid"
    length_m: Annotated[Number, Field(ge=0, le=40_000), labelled("Length", "m", 5)] = 0.0
    came_up_at: Annotated[CameUp, labelled("Came up at")] = ""
    has_display: Annotated[bool, labelled("A screen hangs on it")] = False
    lets_in: Annotated[LetsIn, labelled("Lets in from outside")] = "nothing"

    @property
    def ends(self) -> tuple[End, End]:
        """(near, far)."""
        return parse_end(self.near), parse_end(self.far)


class PartPrice(Item):
    """What a part of the network costs that a proposal may ask for."""

    part: Annotated[Literal["adapter", "network card", "cable", "switch"], labelled("Part")] = "adapter"
    speed: Annotated[Speed, labelled("Speed")] = "10GbE"
    unit_price: Annotated[Amount, labelled("Price each", "money", 5)]
    priced_on: Annotated[Day | None, labelled("Price of")] = None


class Wiring(Value):
    """Switches and links, prices of parts, and what holds for the whole network."""

    switches: Annotated[tuple[Switch, ...], DistinctIds, Field(max_length=MOST_SWITCHES)] = ()
    links: Annotated[tuple[Link, ...], DistinctIds, Field(max_length=MOST_LINKS)] = ()
    prices: Annotated[tuple[PartPrice, ...], DistinctIds, Field(max_length=100)] = ()
    mtu: Annotated[Literal[1500, 9000], labelled("MTU", "B")] = 1500
    protocol: Annotated[Literal["smb", "nfs"], labelled("File protocol")] = "smb"
    has_spare_cables: Annotated[bool, labelled("Spare cables on the shelf")] = False
