"""The stock through the API: entry, import all or nothing, changes, health reports."""

from __future__ import annotations

import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from accounts.models import Role
from stock.models import Device, StockEntry
from tests.house import House


class StockCase(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client_ = self.house.client(Role.TECHNICIAN)

    def upload(self, path: str, raw: bytes):
        return self.client_.browser.post(self.client_.root + path, {"file": SimpleUploadedFile("f", raw)})

    def quick(self, text: str) -> list[dict]:
        return self.client_.post("/stock/quick", {"text": text}).json()["devices"]

    def change(self, device: dict, **changes: object):
        url = f"{self.client_.root}/stock/{device['id']}"
        return self.client_.browser.patch(
            url, json.dumps({"changes": changes}), content_type="application/json"
        )


class Entering(StockCase):
    def test_a_typed_line_becomes_devices_with_an_audit_entry(self) -> None:
        devices = self.quick("4x 2TB ssd sata 2022 drawer-3 65%")
        self.assertEqual({d["place"] for d in devices}, {"drawer-3"})
        self.assertEqual(len(devices), 4)
        self.assertEqual(StockEntry.objects.get().detail, "4x 2TB ssd sata 2022 drawer-3 65%")
        refused = self.client_.post("/stock/quick", {"text": "ssd"})
        self.assertEqual((refused.status_code, Device.objects.count()), (422, 4))
        for text in ("5MB ssd", "9000TB", "2TB " + "x" * 100 + "\u0007"):
            refused = self.client_.post("/stock/quick", {"text": text})
            self.assertEqual((refused.status_code, refused.json()["code"]), (422, "refused"), text)
        self.assertEqual(Device.objects.count(), 4)

    def test_an_import_with_one_fault_changes_nothing(self) -> None:
        raw = b"label,size,serial\nA,4TB,S1\nB,4,S2\n"
        preview = self.upload("/stock/preview", raw).json()
        self.assertEqual((preview["count"], preview["fault_count"], preview["faults"][0]["line"]), (1, 1, 3))
        answer = self.upload("/stock/import", raw)
        self.assertEqual(answer.status_code, 422)
        self.assertTrue(answer.json()["sentence"].startswith("Line 3: size cannot be"))
        self.assertEqual(Device.objects.count(), 0)

    def test_what_is_exported_can_be_imported_elsewhere(self) -> None:
        raw = b"label,size,serial,materials\nA,4TB,S1,Gannets=1TB; Terns=200GB\nB,8TB,S2,Gannets=1TB\n"
        stock = self.upload("/stock/import", raw).json()
        self.assertEqual(stock["result"]["unique_bytes"], 1_200_000_000_000)
        self.assertEqual(stock["result"]["rescue"][0]["label"], "A")
        file = self.client_.get("/stock/csv").content
        self.assertEqual(
            self.upload("/stock/preview", file).json()["fault_count"], 2
        )  # the serials are taken
        Device.objects.all().delete()
        again = self.upload("/stock/import", file).json()
        self.assertEqual(again["result"]["unique_bytes"], 1_200_000_000_000)

    def test_the_list_needs_a_constant_number_of_queries(self) -> None:
        self.quick("50x 2TB ssd")
        with self.assertNumQueries(5):  # session, person, membership, devices, holdings
            self.assertEqual(len(self.client_.get("/stock").json()["devices"]), 50)


class Changing(StockCase):
    def test_fields_change_and_what_does_not_fit_is_refused(self) -> None:
        device = self.quick("4TB loft")[0]
        stock = self.change(device, place="drawer-1", holder="second unit", is_encrypted=True).json()
        self.assertEqual(stock["devices"][0]["holder"], "second unit")
        material = [{"material": "Gannets", "bytes": "800GB", "worth": "irreplaceable"}]
        stock = self.change(device, holdings=material, used_bytes="1TB").json()
        self.assertEqual(stock["result"]["rescue"][0]["bytes"], 800_000_000_000)
        for changes in (
            {"used_bytes": "9TB"},
            {"size_bytes": 0},
            {"medium": "tape"},
            {"nothing": 1},
            {"id": "x"},
        ):
            answer = self.change(device, **changes)
            self.assertEqual((answer.status_code, answer.json()["code"]), (422, "refused"), changes)
        self.change(device, serial="S1")
        other = next(d for d in self.quick("4TB loft") if d["id"] != device["id"])
        self.assertIn("no other device", self.change(other, serial="S1").json()["sentence"])

    def test_a_health_report_is_taken_over_and_no_health_data_changes_nothing(self) -> None:
        device = self.quick("4TB loft")[0]
        report = {"smartctl": {}, "power_on_time": {"hours": 50_000}, "scsi_grown_defect_list": 7}
        answer = self.upload(f"/stock/{device['id']}/report", json.dumps(report).encode()).json()
        self.assertEqual((answer["device"]["hours_run"], answer["message"]), (50_000, ""))
        self.assertEqual(self.client_.get("/stock").json()["result"]["items"][0]["health"], "failing")
        answer = self.upload(
            f"/stock/{device['id']}/report", b'{"smartctl": {}, "serial_number": "X"}'
        ).json()
        self.assertEqual((answer["message"], answer["device"]["serial"]), ("no health data", ""))

    def test_a_removed_device_is_gone_and_noted(self) -> None:
        device = self.quick("4TB loft")[0]
        self.assertEqual(self.client_.delete(f"/stock/{device['id']}").json()["devices"], [])
        self.assertEqual(StockEntry.objects.first().action, "remove")
