"""Actions where one condition more decides: whose row it is, what is taken, what is left to take back."""

from __future__ import annotations

from django.test import TestCase

from accounts.models import Role
from stock.actions import MOST_DEVICES
from stock.models import Device
from tests.house import House
from tests.test_stock import StockCase


class Devices(StockCase):
    def test_a_serial_may_become_any_that_nobody_has(self) -> None:
        one, other = self.quick("2x 4TB hdd shelf-1")
        self.assertEqual(self.change(one, serial="S-1").status_code, 200)
        self.assertEqual(self.change(one, serial="S-2", label="Tern A").status_code, 200)
        refused = self.change(other, serial="S-2")
        self.assertEqual((refused.status_code, refused.json()["problems"][0]["field"]), (422, "serial"))
        # Its own serial may be said again, and none may be said by many.
        self.assertEqual(self.change(one, serial="S-2").status_code, 200)
        for device in (one, other):
            self.assertEqual(self.change(device, serial="").status_code, 200)
        self.assertEqual(Device.objects.filter(serial="").count(), 2)

    def test_the_log_is_that_of_a_device_that_there_is(self) -> None:
        (device,) = self.quick("4TB hdd shelf-1")
        self.assertEqual(self.client_.get(f"/stock/{device['id']}/log").status_code, 200)
        gone = "00000000-0000-4000-8000-000000000000"
        self.assertEqual(self.client_.get(f"/stock/{gone}/log").status_code, 404)

    def test_another_studios_device_is_no_device_of_ours(self) -> None:
        other = House("other-house").client(Role.TECHNICIAN)
        theirs = other.post("/stock/quick", {"text": "4TB hdd loft"}).json()["devices"][0]
        self.assertEqual(self.client_.get(f"/stock/{theirs['id']}/log").status_code, 404)
        self.assertEqual(self.change(theirs, place="mine").status_code, 404)
        self.assertEqual(Device.objects.get(pk=theirs["id"]).place, "loft")

    def test_a_studio_has_the_room_that_the_readme_says(self) -> None:
        self.assertEqual(MOST_DEVICES, 20_000)


class GoingBack(TestCase):
    def test_with_nothing_of_ones_own_left_there_is_nothing_to_do(self) -> None:
        house = House()
        client = house.client(Role.TECHNICIAN)
        for step in ("undo", "redo"):
            answer = client.post(f"{client.tern}/{step}")
            self.assertEqual((answer.status_code, answer.json()["code"]), (409, "nothing-to-do"))
        client.save(1, "plan/note", "mine")
        owner = house.client(Role.OWNER)
        self.assertEqual(owner.post(f"{client.tern}/undo").status_code, 409)
        self.assertEqual(client.post(f"{client.tern}/undo").status_code, 200)
        self.assertEqual(client.post(f"{client.tern}/undo").status_code, 409)

    def test_a_clash_is_a_409_with_both_values_and_the_head(self) -> None:
        house = House()
        client, owner = house.client(Role.TECHNICIAN), house.client(Role.OWNER)
        self.assertEqual(owner.save(1, "plan/note", "theirs", client.tern).status_code, 200)
        clash = client.save(1, "plan/note", "mine")
        answer = clash.json()
        self.assertEqual((clash.status_code, answer["code"], answer["head"]), (409, "clash", 2))
        (both,) = answer["clashes"]
        self.assertEqual((both["path"], both["mine"], both["theirs"]), ("plan/note", "mine", "theirs"))
        # The same value from both is no clash, and another field merges.
        self.assertEqual(client.save(1, "plan/note", "theirs").status_code, 200)
