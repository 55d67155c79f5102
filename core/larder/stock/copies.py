"""What exists twice and what only once: unique bytes against cartons.

Three kinds of evidence tell that material lies in two places, the weakest first: the same name typed on both;
main and backup labels (``Kittiwakes main``, ``Kittiwakes backup 2``); checksum manifests, which overrule the
names. A copy counts only on another failure unit: two drives in one box are one.
"""

from __future__ import annotations

import itertools
import re
from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, replace
from datetime import date
from typing import Literal

from larder.base.fields import ItemId, Name, Number, Value
from larder.plan.vocabulary import CopyRole, Worth

from .item import StockItem

Evidence = Literal["name", "label", "checksums"]
WORTHS: tuple[Worth, ...] = ("replaceable", "costly", "irreplaceable")
_LABEL = re.compile(r"(?P<stem>.*\w)[\s_\-–·:(]+(?P<role>main|backup|copy)\)?[\s_-]*\d{0,3}", re.IGNORECASE)


class Match(Value):
    """What two manifests have in common: the share of each side's files that the other side has too."""

    device_a: ItemId
    material_a: Name
    device_b: ItemId
    material_b: Name
    share_of_a: Number
    share_of_b: Number


@dataclass(frozen=True)
class Copy:
    """Material on one device."""

    item: StockItem
    material: str
    bytes: int
    worth: Worth
    role: CopyRole
    evidence: Evidence
    read_back_on: date | None

    @property
    def node(self) -> tuple[str, str]:
        """What a match names it by."""
        return self.item.id, key_of(self.material)


Shares = dict[tuple[tuple[str, str], tuple[str, str]], tuple[float, float]]


@dataclass(frozen=True)
class Group:
    """One material with all its copies, the fullest first, and what is known of how they overlap."""

    copies: tuple[Copy, ...]
    shares: Shares

    @property
    def name(self) -> str:
        return self.copies[0].material

    @property
    def evidence(self) -> Evidence:
        """What the copies are told by."""
        if self.shares:
            return "checksums"
        return "label" if any(c.evidence == "label" for c in self.copies) else "name"

    def overlap_bytes(self, one: Copy, other: Copy) -> float:
        """Bytes that both hold. Without manifests the smaller is taken for a part of the larger.

        With manifests it is the share of files in common, weighed as if files were equal in size; the smaller
        estimate is taken, so that nothing is called a copy by error.
        """
        shares = self.shares.get((one.node, other.node))
        if shares is None:
            # Names that only a manifest has joined say nothing of each other.
            return min(one.bytes, other.bytes) if one.node[1] == other.node[1] else 0
        if shares[0] == 1:
            return one.bytes
        if shares[1] == 1:
            return other.bytes
        return min(shares[0] * one.bytes, shares[1] * other.bytes)

    def parts(self) -> Iterator[tuple[Copy, int]]:
        """Each copy with the bytes that no fuller copy before it holds; they sum to the unique bytes."""
        if not self.shares:
            yield self.copies[0], self.copies[0].bytes
            return
        for at, copy in enumerate(self.copies):
            before = max((self.overlap_bytes(copy, c) for c in self.copies[:at]), default=0.0)
            fresh = round(copy.bytes - before)
            if fresh > 0:
                yield copy, fresh

    def sole_bytes(self, copy: Copy, tolerance_percent: float) -> int:
        """Bytes of ``copy`` on no other failure unit; what lies within the tolerance is no difference."""
        others: Iterator[Copy] = (c for c in self.copies if c.item.unit != copy.item.unit)
        if not self.shares:
            # The fullest comes first and overlaps most.
            others = itertools.islice(others, 1)
        elsewhere = max((self.overlap_bytes(copy, c) for c in others), default=0.0)
        sole = copy.bytes - elsewhere
        return round(sole) if sole > copy.bytes * tolerance_percent / 100 else 0


def key_of(material: str) -> str:
    """A material's name as it is compared: blanks and capitals do not tell two apart."""
    return " ".join(material.split()).casefold()


def labelled_material(label: str) -> tuple[str, CopyRole] | None:
    """The material and role that a label such as ``Kittiwakes backup 2`` tells, or None."""
    match = _LABEL.fullmatch(label.strip())
    if match is None:
        return None
    return match["stem"].strip(), "main" if match["role"].lower() == "main" else "backup"


def unnamed_bytes(item: StockItem) -> int:
    """Used bytes that no material accounts for; they may be sole copies, so they count."""
    named = sum(h.bytes for h in item.holdings)
    return 0 if _of_label(item) else max(item.used_bytes - named, 0)


def _of_label(item: StockItem) -> Copy | None:
    """What a main or backup label says of the bytes that no material names."""
    lines = labelled_material(item.label)
    rest = item.used_bytes - sum(h.bytes for h in item.holdings)
    if lines is None or rest <= 0 or any(key_of(h.material) == key_of(lines[0]) for h in item.holdings):
        return None
    return Copy(item, lines[0], rest, "costly", lines[1], "label", None)


def copies_of(items: Iterable[StockItem]) -> Iterator[Copy]:
    """Every material on every device; a device counts once for each, with its fullest entry and top worth."""
    for item in items:
        lines = labelled_material(item.label)
        found: dict[str, Copy] = {}
        for holding in item.holdings:
            role = holding.role
            if role == "unsaid" and lines and key_of(lines[0]) == key_of(holding.material):
                role = lines[1]
            copy = Copy(
                item, holding.material, holding.bytes, holding.worth, role, "name", holding.read_back_on
            )
            before = found.get(copy.node[1])
            if before is not None:
                worth = max(before.worth, copy.worth, key=WORTHS.index)
                copy = replace(max(before, copy, key=lambda c: c.bytes), worth=worth)
            found[copy.node[1]] = copy
        yield from found.values()
        if labelled := _of_label(item):
            yield labelled


def groups_of(items: tuple[StockItem, ...], matches: tuple[Match, ...] = ()) -> list[Group]:
    """Each material with its copies, by name; matching manifests join what names keep apart."""
    copies = {copy.node: copy for copy in copies_of(items)}
    shares = _shares(matches, copies)
    leader = {key: key for _, key in copies}

    def lead(key: str) -> str:
        while leader[key] != key:
            key = leader[key]
        return key

    for (one, other), common in shares.items():
        if max(common) > 0:
            leader[lead(one[1])] = lead(other[1])
    members: dict[str, list[Copy]] = defaultdict(list)
    for copy in copies.values():
        members[lead(copy.node[1])].append(copy)
    result: dict[str, Shares] = defaultdict(dict)
    for pair, common in shares.items():
        # A pair with nothing in common belongs to a group only where its names put it there.
        if lead(pair[0][1]) == lead(pair[1][1]):
            result[lead(pair[0][1])][pair] = common
    groups = [Group(tuple(sorted(found, key=_order)), result[key]) for key, found in members.items()]
    return sorted(groups, key=lambda g: key_of(g.name))


def _order(copy: Copy) -> tuple[int, bool, str, str, str]:
    """The fullest first, of equals the main one."""
    return -copy.bytes, copy.role != "main", copy.item.label, copy.item.id, copy.material


def _shares(matches: tuple[Match, ...], copies: dict[tuple[str, str], Copy]) -> Shares:
    """Matches both ways round, of what is still on the devices."""
    shares: Shares = {}
    for match in matches:
        one = (match.device_a, key_of(match.material_a))
        other = (match.device_b, key_of(match.material_b))
        if one in copies and other in copies and one != other:
            shares[one, other] = (match.share_of_a, match.share_of_b)
            shares[other, one] = (match.share_of_b, match.share_of_a)
    return shares


def unique_bytes(items: tuple[StockItem, ...], matches: tuple[Match, ...] = ()) -> int:
    """Bytes to keep once each: the fullest copy of every material, and all that nobody has named."""
    named = sum(part for group in groups_of(items, matches) for _, part in group.parts())
    return named + sum(unnamed_bytes(item) for item in items)
