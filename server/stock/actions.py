"""Every change of the stock is one function here: permission, change and audit entry together."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any
from uuid import UUID, uuid4

from pydantic import ValidationError

from accounts.models import Role
from accounts.permission import needs
from accounts.scope import NotHere, Scope
from larder.drive_report import read_drive_report
from larder.errors import Refused, RefusedMany
from larder.problems import refusals
from larder.quick_entry import parse_quick
from larder.stock import StockItem
from larder.stock_csv import Inventory, read_stock_csv

from .models import Device, Holding, StockEntry

_OWN_TABLE = ("id", "holdings")


class FaultyRows(Exception):
    """An inventory with faults: nothing of it was taken in."""

    def __init__(self, inventory: Inventory) -> None:
        self.inventory = inventory
        super().__init__(inventory.faults[0].sentence)


def items_of(scope: Scope) -> tuple[StockItem, ...]:
    """The studio's devices as the core's values."""
    devices = Device.objects.filter(studio=scope.studio).prefetch_related("holdings")
    return tuple(_item(device) for device in devices)


def _item(device: Device) -> StockItem:
    fields: dict[str, Any] = {
        name: getattr(device, name) for name in StockItem.model_fields if name not in _OWN_TABLE
    }
    holdings = [{"material": h.material, "bytes": h.bytes, "worth": h.worth} for h in device.holdings.all()]
    return StockItem(id=str(device.pk), holdings=holdings, **fields)


def _device(scope: Scope, item: StockItem) -> Device:
    fields = item.model_dump(exclude=set(_OWN_TABLE))
    return Device(pk=UUID(item.id), studio=scope.studio, **fields)


def _holdings(scope: Scope, items: Iterable[StockItem]) -> list[Holding]:
    return [
        Holding(studio=scope.studio, device_id=UUID(item.id), **holding.model_dump())
        for item in items
        for holding in item.holdings
    ]


def _note(scope: Scope, action: str, detail: str) -> None:
    StockEntry.objects.create(studio=scope.studio, person=scope.person, action=action, detail=detail[:400])


def _serials(scope: Scope) -> set[str]:
    found = Device.objects.filter(studio=scope.studio).exclude(serial="")
    return set(found.values_list("serial", flat=True))


def _add(scope: Scope, items: Iterable[StockItem]) -> list[StockItem]:
    """New devices with ids of their own."""
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
    added = _add(scope, items)
    _note(scope, "quick entry", text)
    return added


def preview_csv(scope: Scope, raw: bytes) -> Inventory:
    """What a CSV would add, and its faults; nothing is changed."""
    return read_stock_csv(raw, _serials(scope))


@needs(Role.TECHNICIAN)
def import_csv(scope: Scope, raw: bytes) -> list[StockItem]:
    """All of a CSV, or with one fault nothing: raises :class:`FaultyRows`."""
    inventory = preview_csv(scope, raw)
    if inventory.faults:
        raise FaultyRows(inventory)
    added = _add(scope, inventory.items)
    _note(scope, "import", f"{len(added)} devices")
    return added


def device_in(scope: Scope, device_id: UUID) -> Device:
    """The studio's device, locked for a change; raises :class:`NotHere`."""
    device = Device.objects.select_for_update().filter(studio=scope.studio, pk=device_id).first()
    if device is None:
        raise NotHere
    return device


@needs(Role.TECHNICIAN)
def change_device(scope: Scope, device_id: UUID, changes: dict[str, Any]) -> StockItem:
    """Set fields of a device; raises the core's RefusedMany for what does not fit."""
    before = _item(device_in(scope, device_id))
    item = _validated(before.model_dump(mode="json") | changes, before.label)
    if item.id != before.id:
        raise Refused("id", item.id, "the device's own id")
    if item.serial and item.serial != before.serial and item.serial in _serials(scope):
        raise Refused("serial", item.serial, "a serial that no other device has")
    fields = item.model_dump(exclude=set(_OWN_TABLE))
    Device.objects.filter(studio=scope.studio, pk=device_id).update(**fields)
    if item.holdings != before.holdings:
        Holding.objects.filter(studio=scope.studio, device_id=device_id).delete()
        Holding.objects.bulk_create(_holdings(scope, [item]))
    _note(scope, "change", f"{item.label}: {', '.join(sorted(changes))}")
    return item


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
    device = device_in(scope, device_id)
    _note(scope, "remove", f"{device.label} {device.serial}".strip())
    device.delete()


@needs(Role.TECHNICIAN)
def take_report(scope: Scope, device_id: UUID, raw: bytes) -> tuple[StockItem, str]:
    """Hours, reallocated sectors and temperature from smartctl; also what the report could not tell."""
    report = read_drive_report(raw)
    told = {
        "hours_run": report.hours_run,
        "reallocated_sectors": report.reallocated_sectors,
        "temperature_c": report.temperature_c,
        "serial": report.serial,
    }
    changes = {name: value for name, value in told.items() if value is not None}
    if not report.has_health:
        changes = {}
    return change_device(scope, device_id, changes), report.message
