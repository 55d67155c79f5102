"""The stock through the API: entry, import all or nothing, changes, health reports."""

from __future__ import annotations

import json

from django.core.files.uploadedfile import SimpleUploadedFile
from django.test import TestCase

from accounts.models import Role
from larder.readers.plan_file import bundle_from
from plans.models import Revision
from plans.standards import make_standard
from stock.models import Device, Manifest, StockEntry
from tests.house import House


class StockCase(TestCase):
    def setUp(self) -> None:
        self.house = House()
        self.client_ = self.house.client(Role.TECHNICIAN)

    def upload(self, path: str, raw: bytes, **fields: str):
        form = {"file": SimpleUploadedFile("f", raw)} | fields
        return self.client_.browser.post(self.client_.root + path, form)

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
        self.upload("/stock/import", raw)
        stock = self.client_.get("/stock").json()
        self.assertEqual(stock["result"]["unique_bytes"], 1_200_000_000_000)
        self.assertEqual(stock["result"]["rescue"][0]["label"], "A")
        file = self.client_.get("/stock/csv").content
        self.assertEqual(
            self.upload("/stock/preview", file).json()["fault_count"], 2
        )  # the serials are taken
        Device.objects.all().delete()
        self.upload("/stock/import", file)
        again = self.client_.get("/stock").json()
        self.assertEqual(again["result"]["unique_bytes"], 1_200_000_000_000)

    def test_the_list_needs_a_constant_number_of_queries(self) -> None:
        self.quick("50x 2TB ssd")
        with self.assertNumQueries(7):  # session, person, membership, devices, holdings, standards, manifests
            self.assertEqual(len(self.client_.get("/stock").json()["devices"]), 50)


class Changing(StockCase):
    def test_fields_change_and_what_does_not_fit_is_refused(self) -> None:
        device = self.quick("4TB loft")[0]
        stock = self.change(device, place="drawer-1", holder="second unit", is_encrypted=True).json()
        self.assertEqual(stock["devices"][0]["holder"], "second unit")
        material = [{"material": "Gannets", "bytes": "800GB", "worth": "irreplaceable"}]
        self.change(device, holdings=material, used_bytes="1TB")
        stock = self.client_.get("/stock").json()
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
        gone = self.client_.delete(f"/stock/{device['id']}").json()
        self.assertEqual((gone["devices"], gone["removed"]), ([], [device["id"]]))
        self.assertEqual(self.client_.get("/stock").json()["devices"], [])
        self.assertEqual(StockEntry.objects.first().action, "remove")


class Boxes(StockCase):
    def test_a_drive_sits_in_a_box_that_there_is_and_stays_when_it_is_renamed(self) -> None:
        drive = self.quick("4TB loft")[0]
        refused = self.change(drive, box="Desk array")
        self.assertIn("the label of a box in the stock", refused.json()["sentence"])
        box = next(d for d in self.quick("box usb10G 4bays desk") if d["kind"] == "box")
        self.assertEqual(self.client_.post("/stock/quick", {"text": "box 1GbE"}).status_code, 422)
        self.assertEqual(self.change(drive, box="Box").status_code, 200)
        self.assertEqual(self.client_.delete(f"/stock/{box['id']}").status_code, 422)
        self.assertEqual(self.change(box, kind="drive", size_bytes="4TB", ports="").status_code, 422)
        devices = self.change(box, label="Desk array").json()["devices"]
        self.assertEqual({d["box"] for d in devices if d["kind"] == "drive"}, {"Desk array"})
        self.change(drive, box="")
        self.assertEqual(self.client_.delete(f"/stock/{box['id']}").json()["removed"], [box["id"]])
        self.assertEqual(len(self.client_.get("/stock").json()["devices"]), 1)

    def test_the_move_stands_on_the_ports_asked_for(self) -> None:
        device = self.quick("4TB ssd usb")[0]
        self.change(device, used_bytes="2TB")
        quick, slow = (
            self.client_.get(f"/stock?ports={ports}").json()["result"]["move"] for ports in ("10GbE", "1GbE")
        )
        self.assertEqual(
            (slow["bytes"], slow["jobs"][0]["limiting_hop"]), (2 * 10**12, "the 1GbE port it arrives by")
        )
        self.assertLess(quick["seconds"], slow["seconds"])
        refused = self.client_.get("/stock?ports=token-ring")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("token-ring", refused.json()["sentence"])


class Rules(StockCase):
    def test_the_shelf_is_judged_by_the_studios_own_rules(self) -> None:
        device = self.quick("4TB loft")[0]
        self.change(device, hours_run=30_000)
        health = lambda: self.client_.get("/stock").json()["result"]["items"][0]["health"]  # noqa: E731
        self.assertEqual(health(), "sound")
        scope = self.house.scope(Role.TECHNICIAN)
        document = Revision.objects.get(plan=self.house.tern).document
        document["house_rules"]["drive_hours_max"] = 20_000
        make_standard(scope, self.house.tern, bundle_from(document), "house_rules", seen=0)
        self.assertEqual(health(), "old")


class HandingOver(StockCase):
    def test_who_has_it_and_that_it_is_back_stand_in_its_log(self) -> None:
        device = self.quick("2TB ssd bench")[0]
        url = f"/stock/{device['id']}"
        gone = {"to": "boat unit", "is_encrypted": True, "on": "2026-11-20"}
        handed = self.client_.post(url + "/hand-over", gone).json()["devices"][0]
        self.assertEqual((handed["holder"], handed["handed_on"]), ("boat unit", "2026-11-20"))
        again = self.client_.post(url + "/hand-over", gone | {"to": "hide unit"})
        self.assertIn("boat unit has this one", again.json()["sentence"])
        back = self.client_.post(url + "/return", {}).json()["devices"][0]
        self.assertEqual((back["holder"], back["handed_on"], back["place"]), ("", None, "bench"))
        self.assertEqual(self.client_.post(url + "/return", {}).status_code, 422)
        self.assertEqual(self.client_.post(url + "/hand-over", gone | {"to": " "}).status_code, 422)
        log = self.client_.get(url + "/log").json()["entries"]
        self.assertEqual([entry["action"] for entry in log], ["take back", "hand over"])
        self.assertEqual(
            (log[1]["detail"], log[1]["person"]), ("2 TB flash to boat unit, encrypted", "technician")
        )


class Manifests(StockCase):
    """Two drives with differently named material: one's checksums are half of the other's."""

    def setUp(self) -> None:
        super().setUp()
        raw = b"label,size,materials\nA,4TB,Reel 1=2TB\nB,4TB,Rushes=1TB\n"
        self.a, self.b = sorted(self.upload("/stock/import", raw).json()["devices"], key=lambda d: d["label"])

    def take(self, device: dict, material: str, digests: str):
        raw = "".join(f"{digit * 64}  clip {digit}.mov\n" for digit in digests).encode()
        return self.upload(f"/stock/{device['id']}/manifest", raw, material=material)

    def test_checksums_tell_what_the_names_hide_and_that_it_was_read_back(self) -> None:
        self.assertEqual(self.client_.get("/stock/facts").json()["unique_bytes"], 3 * 10**12)
        self.take(self.a, "reel 1", "01")
        self.take(self.b, "Rushes", "0")
        result = self.client_.get("/stock").json()["result"]
        self.assertEqual((result["unique_bytes"], result["sole_bytes"]), (2 * 10**12, 10**12))
        material = result["materials"][0]
        self.assertEqual((material["evidence"], len(material["copies"])), ("checksums", 2))
        self.assertFalse(any(copy["is_stale"] for copy in material["copies"]))
        # A newer manifest of the same material takes the place of the older.
        self.take(self.b, "Rushes", "2")
        self.assertEqual(self.client_.get("/stock/facts").json()["unique_bytes"], 3 * 10**12)

    def test_checksums_go_with_their_material_and_their_device(self) -> None:
        self.take(self.a, "Reel 1", "01")
        self.take(self.b, "Rushes", "0")
        self.change(self.b, holdings=[])
        self.assertEqual(self.client_.get("/stock/facts").json()["unique_bytes"], 2 * 10**12)
        self.assertEqual(list(Manifest.objects.values_list("material", flat=True)), ["Reel 1"])
        self.client_.delete(f"/stock/{self.a['id']}")
        self.assertEqual(Manifest.objects.count(), 0)

    def test_what_is_no_manifest_or_not_on_the_device_changes_nothing(self) -> None:
        refused = self.take(self.a, "Terns", "0")
        self.assertIn("a material on this device: Reel 1", refused.json()["sentence"])
        refused = self.upload(f"/stock/{self.a['id']}/manifest", b"hello", material="Reel 1")
        self.assertEqual((refused.status_code, Manifest.objects.count()), (422, 0))
        self.assertIsNone(self.client_.get("/stock").json()["devices"][0]["holdings"][0]["read_back_on"])
