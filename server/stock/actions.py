"""Every change of the stock is one function here: permission, change and audit entry together."""

from __future__ import annotations

from array import array
from collections import defaultdict
from collections.abc import Iterable
from datetime import date
from typing import Any
from uuid import UUID, uuid4

from django.db import models
from pydantic import ValidationError

from accounts.models import Role, Studio
from accounts.permission import needs
from accounts.scope import NotHere, Scope
from api.envelope import Answered, ErrorOut, Problem
from larder.base.errors import Refused, RefusedMany
from larder.base.problems import refusals
from larder.readers.manifest import Manifest as ReadManifest
from larder.readers.manifest import read_manifest, shares_in_common
from larder.readers.quick_entry import parse_quick
from larder.readers.smartctl import read_drive_report
from larder.readers.stock_csv import Inventory, RowFault, box_accepted, read_stock_csv
from larder.stock.copies import Match, key_of
from larder.stock.item import Holding as HoldingItem
from larder.stock.item import StockItem

from .models import Device, Holding, Manifest, ManifestMatch, StockEntry

_OWN_TABLE = ("id", "holdings")
_DEVICE_FIELDS = tuple(name for name in StockItem.model_fields if name not in _OWN_TABLE)
_HOLDING_FIELDS = tuple(HoldingItem.model_fields)
LOG_SHOWN, FAULTS_SHOWN = 50, 100
MOST_DEVICES, MOST_IN_A_BOX = 20_000, 200
NEW_LABEL_ACCEPTED = "a label that no other box has"


class FaultyRows(Answered):
    """An inventory with faults: nothing of it was taken in."""

    status, code = 422, "refused"

    def __init__(self, inventory: Inventory) -> None:
        self.faults = inventory.faults
        super().__init__(inventory.faults[0].sentence)

    def envelope(self) -> ErrorOut:
        """Every fault by line and column, up to so many."""
        problems = [_row_problem(fault) for fault in self.faults[:FAULTS_SHOWN]]
        return ErrorOut(code=self.code, sentence=problems[0].sentence, problems=problems)


def _row_problem(fault: RowFault) -> Problem:
    field = f"line {fault.line}, {fault.column}"
    return Problem(field=field, value="", accepted="", sentence=f"Line {fault.line}: {fault.sentence}")


def items_of(scope: Scope, ids: Iterable[UUID] | None = None) -> tuple[StockItem, ...]:
    """The studio's devices, or some of them, as the core's values; from rows, as they are many."""
    wanted = None if ids is None else list(ids)
    only = {} if wanted is None else {"device_id__in": wanted}
    held: dict[UUID, list[dict[str, Any]]] = defaultdict(list)
    for row in Holding.objects.filter(studio=scope.studio, **only).values("device_id", *_HOLDING_FIELDS):
        held[row.pop("device_id")].append(row)
    only = {} if wanted is None else {"pk__in": wanted}
    rows = Device.objects.filter(studio=scope.studio, **only).values("id", *_DEVICE_FIELDS)
    return tuple(
        StockItem.model_validate(row | {"id": str(row["id"]), "holdings": held[row["id"]]}) for row in rows
    )


def items_in_box(scope: Scope, label: str) -> tuple[StockItem, ...]:
    """The devices in a box, by its label."""
    inside = Device.objects.filter(studio=scope.studio, box=label).values_list("pk", flat=True)
    return items_of(scope, inside[:MOST_IN_A_BOX])


def item_in(scope: Scope, device_id: UUID) -> StockItem:
    """One device, locked for a change; raises :class:`NotHere`."""
    if not Device.objects.select_for_update().filter(studio=scope.studio, pk=device_id).exists():
        raise NotHere
    return items_of(scope, [device_id])[0]


def _device(scope: Scope, item: StockItem) -> Device:
    fields = item.model_dump(exclude=set(_OWN_TABLE))
    return Device(pk=UUID(item.id), studio=scope.studio, **fields)


def _holdings(scope: Scope, items: Iterable[StockItem]) -> list[Holding]:
    return [
        Holding(studio=scope.studio, device_id=UUID(item.id), **holding.model_dump())
        for item in items
        for holding in item.holdings
    ]


def matches_of(scope: Scope) -> tuple[Match, ...]:
    """What the manifests taken in have in common, pair by pair."""
    found = ManifestMatch.objects.filter(studio=scope.studio).select_related("one", "other")
    found = found.defer("one__keys", "other__keys")
    return tuple(
        Match(
            device_a=str(match.one.device_id),
            material_a=match.one.material,
            device_b=str(match.other.device_id),
            material_b=match.other.material,
            share_of_a=match.share_of_one,
            share_of_b=match.share_of_other,
        )
        for match in found
    )


def _note(scope: Scope, action: str, detail: str, device: UUID | None = None) -> None:
    StockEntry.objects.create(
        studio=scope.studio, person=scope.person, action=action, detail=detail[:400], device_id=device
    )


def _serials(scope: Scope) -> set[str]:
    found = Device.objects.filter(studio=scope.studio).exclude(serial="")
    return set(found.values_list("serial", flat=True))


def _boxes(scope: Scope) -> set[str]:
    found = Device.objects.filter(studio=scope.studio, kind="box")
    return set(found.values_list("label", flat=True))


def _add(scope: Scope, items: Iterable[StockItem]) -> list[StockItem]:
    """New devices with ids of their own; raises :class:`Refused` past the most a studio may have."""
    items = list(items)
    count = Device.objects.filter(studio=scope.studio).count() + len(items)
    if count > MOST_DEVICES:
        raise Refused("devices", count, f"at most {MOST_DEVICES} devices in a studio's stock")
    fresh = [item.model_copy(update={"id": str(uuid4())}) for item in items]
    Device.objects.bulk_create([_device(scope, item) for item in fresh])
    Holding.objects.bulk_create(_holdings(scope, fresh))
    return fresh


@needs(Role.TECHNICIAN)
def add_quick(scope: Scope, text: str) -> list[StockItem]:
    """The devices that a typed line means."""
    items = [
        _validated({"id": f"new-{n}", **fields}, "quick entry")
        for n, fields in enumerate(parse_quick(text), 1)
    ]
    taken = _boxes(scope)
    for item in items:
        if item.kind == "box" and item.label in taken:
            raise Refused("quick entry", item.label, NEW_LABEL_ACCEPTED + "; rename the one there is first")
    added = _add(scope, items)
    _note(scope, "quick entry", text)
    return added


@needs(Role.TECHNICIAN)
def preview_csv(scope: Scope, raw: bytes) -> Inventory:
    """What a CSV would add, and its faults; nothing is changed."""
    return read_stock_csv(raw, _serials(scope), _boxes(scope))


@needs(Role.TECHNICIAN)
def import_csv(scope: Scope, raw: bytes) -> list[StockItem]:
    """All of a CSV, or with one fault nothing: raises :class:`FaultyRows`."""
    inventory = preview_csv(scope, raw)
    if inventory.faults:
        raise FaultyRows(inventory)
    added = _add(scope, inventory.items)
    _note(scope, "import", f"{len(added)} devices")
    return added


@needs(Role.TECHNICIAN)
def change_device(
    scope: Scope, device_id: UUID, changes: dict[str, Any], action: str = "change", detail: str = ""
) -> StockItem:
    """Set fields of a device; raises the core's RefusedMany for what does not fit."""
    before = item_in(scope, device_id)
    item = _validated(before.model_dump(mode="json") | changes, before.label)
    if item.id != before.id:
        raise Refused("id", item.id, "the device's own id")
    if item.serial and item.serial != before.serial and item.serial in _serials(scope):
        raise Refused("serial", item.serial, "a serial that no other device has")
    _check_box(scope, before, item)
    fields = item.model_dump(exclude=set(_OWN_TABLE))
    Device.objects.filter(studio=scope.studio, pk=device_id).update(**fields)
    if before.kind == "box" and item.label != before.label:
        # The drives stay in their box when it is renamed.
        Device.objects.filter(studio=scope.studio, box=before.label).update(box=item.label)
    if item.holdings != before.holdings:
        Holding.objects.filter(studio=scope.studio, device_id=device_id).delete()
        Holding.objects.bulk_create(_holdings(scope, [item]))
        _forget_manifests(scope, item)
    _note(scope, action, detail or f"{item.label}: {', '.join(sorted(changes))}", device_id)
    return item


def _check_box(scope: Scope, before: StockItem, item: StockItem) -> None:
    """A drive's box exists, a box's label is its own, and a box with drives stays one."""
    boxes = _boxes(scope)
    if item.box and item.box != before.box and item.box not in boxes:
        raise Refused("box", item.box, box_accepted(boxes))
    if item.kind == "box" and item.label in boxes - ({before.label} if before.kind == "box" else set()):
        raise Refused("label", item.label, NEW_LABEL_ACCEPTED)
    if before.kind == "box" and item.kind != "box":
        _check_empty(scope, before.label, "kind", item.kind)


def _check_empty(scope: Scope, box: str, field: str, value: str) -> None:
    inside = Device.objects.filter(studio=scope.studio, box=box).count()
    if inside:
        raise Refused(field, value, f"nothing while {inside} drives are in the box: take them out first")


def _forget_manifests(scope: Scope, item: StockItem) -> None:
    """Checksums of material that is no longer said to be on the device."""
    kept = [h.material for h in item.holdings]
    Manifest.objects.filter(studio=scope.studio, device_id=item.id).exclude(material__in=kept).delete()


def _label(field: str) -> str:
    """The field's word from the types; a path inside stays as it is."""
    known = StockItem.model_fields.get(field)
    return known.title if known and known.title else field


def _validated(fields: dict[str, Any], label: str) -> StockItem:
    try:
        return StockItem.model_validate(fields)
    except ValidationError as error:
        raise RefusedMany(
            [
                Refused(r.field, r.value, r.accepted, f"{label}: {_label(r.field)}")
                for r in refusals(error, fields)
            ]
        ) from None


@needs(Role.TECHNICIAN)
def remove_device(scope: Scope, device_id: UUID) -> None:
    """Take a device off the stock."""
    device = item_in(scope, device_id)
    if device.kind == "box":
        _check_empty(scope, device.label, "remove", device.label)
    _note(scope, "remove", f"{device.label} {device.serial}".strip())
    Device.objects.filter(studio=scope.studio, pk=device_id).delete()


@needs(Role.TECHNICIAN)
def take_report(scope: Scope, device_id: UUID, raw: bytes) -> tuple[StockItem, str]:
    """Hours, reallocated sectors and temperature from smartctl; also what the report could not tell."""
    report = read_drive_report(raw)
    result = {
        "hours_run": report.hours_run,
        "reallocated_sectors": report.reallocated_sectors,
        "temperature_c": report.temperature_c,
        "serial": report.serial,
    }
    changes = {name: value for name, value in result.items() if value is not None}
    if not report.has_health:
        changes = {}
    return change_device(scope, device_id, changes, "health report"), report.message


@needs(Role.TECHNICIAN)
def hand_over(scope: Scope, device_id: UUID, to: str, on: date, *, is_encrypted: bool) -> StockItem:
    """The device leaves the house: who has it, and whether what is on it is encrypted."""
    device = item_in(scope, device_id)
    if not to.strip():
        raise Refused("to", to, "who takes it")
    if device.holder:
        raise Refused("to", to, f"a device that is here: {device.holder} has this one")
    words = f"{device.label} to {to.strip()}, {'encrypted' if is_encrypted else 'not encrypted'}"
    changes = {"holder": to.strip(), "is_encrypted": is_encrypted, "handed_on": on}
    return change_device(scope, device_id, changes, "hand over", words)


@needs(Role.TECHNICIAN)
def take_back(scope: Scope, device_id: UUID, place: str) -> StockItem:
    """The device is back, at ``place`` or where it was kept before."""
    device = item_in(scope, device_id)
    if not device.holder:
        raise Refused("device", device.label, "a device that was handed over")
    words = f"{device.label} from {device.holder}"
    changes = {"holder": "", "handed_on": None, "place": place.strip() or device.place}
    return change_device(scope, device_id, changes, "take back", words)


@needs(Role.TECHNICIAN)
def take_manifest(scope: Scope, device_id: UUID, material: str, raw: bytes, on: date) -> StockItem:
    """Checksums of a material on a device; whoever made them has read it all back."""
    if not Device.objects.filter(studio=scope.studio, pk=device_id).exists():
        raise NotHere
    read = read_manifest(raw)
    # One manifest after the other: of two that come at once each would miss the other.
    Studio.objects.select_for_update(no_key=True).get(pk=scope.studio.pk)
    item = item_in(scope, device_id)
    held = next((h for h in item.holdings if key_of(h.material) == key_of(material)), None)
    if held is None:
        listed = ", ".join(h.material for h in item.holdings) or "none is entered yet"
        raise Refused("material", material, "a material on this device: " + listed)
    holdings = [h.model_copy(update={"read_back_on": on}) if h == held else h for h in item.holdings]
    words = f"{item.label}: {held.material}, {read.file_count} files, {read.algorithm}"
    changes = {"holdings": [h.model_dump() for h in holdings]}
    changed = change_device(scope, device_id, changes, "manifest", words)
    taken, _ = Manifest.objects.update_or_create(
        studio=scope.studio,
        device_id=device_id,
        material=held.material,
        defaults={
            "algorithm": read.algorithm,
            "file_count": read.file_count,
            "keys": array("Q", sorted(read.keys)).tobytes(),
        },
    )
    _match(scope, taken, read)
    return changed


def _match(scope: Scope, taken: Manifest, read: ReadManifest) -> None:
    """Compare a manifest with all others of the studio, one after the other."""
    both = models.Q(one=taken) | models.Q(other=taken)
    ManifestMatch.objects.filter(both, studio=scope.studio).delete()
    others = Manifest.objects.filter(studio=scope.studio, algorithm=taken.algorithm).exclude(pk=taken.pk)
    found = []
    for other in others.iterator(chunk_size=20):
        keys = frozenset(array("Q", bytes(other.keys)))
        shares = shares_in_common(read, ReadManifest(other.algorithm, keys, other.file_count))
        if shares is not None:
            found.append(
                ManifestMatch(
                    studio=scope.studio,
                    one=taken,
                    other=other,
                    share_of_one=shares[0],
                    share_of_other=shares[1],
                )
            )
    ManifestMatch.objects.bulk_create(found)


def log_of(scope: Scope, device_id: UUID, after: int = 0) -> tuple[list[StockEntry], int | None]:
    """A page of what was done to a device, the newest first, and what the next page comes after."""
    if not Device.objects.filter(studio=scope.studio, pk=device_id).exists():
        raise NotHere
    entries = StockEntry.objects.filter(studio=scope.studio, device_id=device_id).select_related("person")
    if after:
        entries = entries.filter(pk__lt=after)
    found = list(entries.order_by("-pk")[: LOG_SHOWN + 1])
    shown = found[:LOG_SHOWN]
    return shown, shown[-1].pk if len(found) > len(shown) else None
