"""What exists twice: manifests, labels and failure units against a model that knows every file; the move."""

import hashlib
import itertools
import unittest
from datetime import date
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.units import GB, TB
from larder.plan.house_rules import HouseRules
from larder.readers.manifest import Manifest, read_manifest, shares_in_common
from larder.stock.copies import Match, groups_of, labelled_material, unique_bytes
from larder.stock.item import Holding, StockItem
from larder.stock.moving import OUTER_BYTES_PER_S, move_of, ports_of
from larder.stock.shelf import stock_stage

TODAY = date(2026, 11, 24)
RULES = HouseRules()
REAL_OUTPUT = {
    "sha256sum": b"ca978112ca1bbdcafac231b39a23dc4da786eff8147c4e72b9807785afee48bb  a.mov\n"
    b"\\3e23e8160039594a33894f6564e1b1348bbd7a0088d42c4acb73eeaed59c009d  b\\nc.mov\n",
    "sha256sum --tag": b"SHA256 (a.mov) = ca978112ca1bbdcafac231b39a23dc4da786eff8147c4e72b9807785afee48bb\n"
    b"\\SHA256 (b\\nc.mov) = 3e23e8160039594a33894f6564e1b1348bbd7a0088d42c4acb73eeaed59c009d\n",
    "sha256sum -b, from a system with CRLF": b"ca978112ca1bbdcafac231b39a23dc4da786eff8147c4e72b9807785afee48bb"
    b" *a.mov\r\n3e23e8160039594a33894f6564e1b1348bbd7a0088d42c4acb73eeaed59c009d *d.mov\r\n",
}
"""Printed by the real tool for files holding the letters a and b, one with a line break in its name."""


def drive(name: str, *holdings: Holding, **fields: Any) -> StockItem:
    return StockItem(
        **{"id": name.lower().replace(" ", "-"), "label": name, "size_bytes": 90 * TB} | fields,
        holdings=holdings,
    )


class Manifests(unittest.TestCase):
    def test_what_the_real_tools_print_is_read(self) -> None:
        read = [read_manifest(raw) for raw in REAL_OUTPUT.values()]
        self.assertEqual({m.algorithm for m in read}, {"SHA256"})
        self.assertEqual({m.file_count for m in read}, {2})
        self.assertEqual({m.keys for m in read}, {read[0].keys})
        self.assertEqual(shares_in_common(read[0], read[1]), (1.0, 1.0))
        tagged = read_manifest(b"MD5 (a) = 0cc175b9c0f1b6a831c399e269772661\n")
        self.assertEqual(tagged.algorithm, "MD5")
        self.assertIsNone(shares_in_common(read[0], tagged))

    def test_other_files_are_refused_with_their_line(self) -> None:
        for raw, word in (
            (b"", "0 files"),
            (b"hello\n", "line 1"),
            (b"\xff\xfe", "UTF-8"),
            (b"0cc175b9c0f1b6a831c399e269772661  a\n60b725  b\n", "line 2"),
            (b"SHA256 (a) = 0cc175b9c0f1b6a831c399e269772661\n", "line 1"),
            (b"0cc175b9c0f1b6a831c399e269772661  a\n" + b"0" * 64 + b"  b\n", "one kind"),
            (b" " * 20_000_001, "at most"),
        ):
            with self.assertRaises(Refused) as caught:
                read_manifest(raw)
            self.assertIn(word, caught.exception.sentence)


def manifest_of(files: frozenset[int]) -> Manifest:
    lines = (f"{hashlib.sha256(bytes([n])).hexdigest()}  clips/{n}.mov\n" for n in sorted(files))
    return read_manifest("".join(lines).encode())


file_sets = st.frozensets(st.integers(0, 40), min_size=1)


class Model(unittest.TestCase):
    """Each drive holds a known set of files of one gigabyte under a name of its own."""

    def stock(
        self, sets: list[frozenset[int]], **fields: Any
    ) -> tuple[tuple[StockItem, ...], tuple[Match, ...]]:
        items = tuple(
            drive(f"d{n}", Holding(material=f"Take {n}", bytes=len(files) * GB), **fields)
            for n, files in enumerate(sets)
        )
        matches = []
        for one, other in itertools.combinations(range(len(sets)), 2):
            shares = shares_in_common(manifest_of(sets[one]), manifest_of(sets[other]))
            assert shares is not None
            matches.append(
                Match(
                    device_a=f"d{one}", material_a=f"Take {one}", device_b=f"d{other}",
                    material_b=f"Take {other}", share_of_a=shares[0], share_of_b=shares[1],
                )
            )  # fmt: skip
        return items, tuple(matches)

    @given(file_sets, file_sets)
    def test_of_two_drives_unique_and_sole_bytes_are_exact(self, one: frozenset, other: frozenset) -> None:
        items, matches = self.stock([one, other])
        result = stock_stage(items, RULES, TODAY, matches)
        self.assertEqual(result.unique_bytes, len(one | other) * GB)
        for answer, files, rest in zip(result.items, (one, other), (other, one), strict=True):
            sole = len(files - rest)
            self.assertEqual(answer.sole_bytes, sole * GB if sole > 0.02 * len(files) else 0)

    @given(st.lists(file_sets, min_size=1, max_size=5))
    def test_of_more_drives_nothing_is_called_a_copy_by_error(self, sets: list[frozenset]) -> None:
        items, matches = self.stock(sets)
        result = stock_stage(items, RULES, TODAY, matches)
        self.assertGreaterEqual(result.unique_bytes, len(frozenset().union(*sets)) * GB)
        self.assertLessEqual(result.unique_bytes, sum(map(len, sets)) * GB)
        for n, (answer, files) in enumerate(zip(result.items, sets, strict=True)):
            elsewhere = frozenset().union(*sets[:n], *sets[n + 1 :])
            self.assertGreaterEqual(answer.sole_bytes + 0.02 * len(files) * GB, len(files - elsewhere) * GB)

    @given(file_sets)
    def test_identical_drives_count_once_and_in_one_box_twice_is_still_once(self, files: frozenset) -> None:
        for fields, sole in (({}, 0), ({"box": "Desk array"}, len(files) * GB)):
            items, matches = self.stock([files, files, files], **fields)
            result = stock_stage(items, RULES, TODAY, matches)
            self.assertEqual((result.unique_bytes, result.sole_bytes), (len(files) * GB, sole))
            self.assertEqual(result.materials[0].evidence, "checksums")

    def test_a_manifest_overrules_equal_names(self) -> None:
        items = (
            drive("a", Holding(material="Reel", bytes=4 * GB)),
            drive("b", Holding(material="Reel", bytes=4 * GB)),
        )
        apart = Match(
            device_a="a", material_a="Reel", device_b="b", material_b="Reel", share_of_a=0, share_of_b=0
        )
        self.assertEqual(unique_bytes(items), 4 * GB)
        self.assertEqual(unique_bytes(items, (apart,)), 8 * GB)


class Labels(unittest.TestCase):
    def test_main_and_backup_labels_tell_the_material(self) -> None:
        self.assertEqual(labelled_material("Kittiwakes backup 2"), ("Kittiwakes", "backup"))
        self.assertEqual(labelled_material("Gannet ledge (MAIN)"), ("Gannet ledge", "main"))
        self.assertEqual(labelled_material("Terns_copy"), ("Terns", "backup"))
        for label in ("Backup", "Mainland 3", "Bag 7"):
            self.assertIsNone(labelled_material(label), label)

    def test_labelled_cartons_count_once_and_as_two_places(self) -> None:
        items = (
            drive("Kittiwakes main", used_bytes=3 * TB),
            drive("Kittiwakes backup", used_bytes=3 * TB),
            drive("Puffins main", used_bytes=TB),
        )
        result = stock_stage(items, RULES, TODAY)
        self.assertEqual((result.unique_bytes, result.used_bytes), (4 * TB, 7 * TB))
        self.assertEqual([step.label for step in result.rescue], ["Puffins main"])
        kittiwakes = groups_of(items)[0]
        self.assertEqual(
            (kittiwakes.evidence, [c.role for c in kittiwakes.copies]), ("label", ["main", "backup"])
        )

    def test_a_part_copy_leaves_the_rest_alone_and_a_read_back_grows_stale(self) -> None:
        full = Holding(material="Terns", bytes=2700 * GB, read_back_on=date(2026, 5, 1))
        part = Holding(material="Terns", bytes=2200 * GB, read_back_on=date(2024, 5, 1))
        result = stock_stage((drive("a", full), drive("b", part)), RULES, TODAY)
        self.assertEqual([i.sole_bytes for i in result.items], [500 * GB, 0])
        self.assertEqual([c.is_stale for c in result.materials[0].copies], [False, True])


amounts = st.lists(st.integers(1, 400).map(lambda n: n * 10 * GB), min_size=1, max_size=6)


class Moving(unittest.TestCase):
    def test_one_disk_over_one_port_by_hand(self) -> None:
        items = (drive("a", Holding(material="x", bytes=2 * TB)),)
        job = stock_stage(items, RULES, TODAY, ports="10GbE").move.jobs[0]
        # Half of a disk's speed is lost on its inner tracks: three quarters on the whole surface.
        self.assertAlmostEqual(job.ends_s, 2 * TB / (OUTER_BYTES_PER_S["hdd"] * 0.75))
        self.assertEqual((job.limiting_hop, job.port), ("the device", "10GbE"))
        slow = stock_stage(items, RULES, TODAY, ports="1GbE").move.jobs[0]
        self.assertEqual(slow.limiting_hop, "the 1GbE port it arrives by")

    def test_drives_in_a_box_are_read_through_its_ports(self) -> None:
        box = StockItem(id="box", label="Hall box", kind="box", size_bytes=0, ports="1GbE")
        items = (box, *(drive(n, Holding(material=n, bytes=TB), box="Hall box") for n in "abc"))
        move = stock_stage(items, RULES, TODAY, ports="10GbE").move
        self.assertEqual((move.job_count, move.bytes), (1, 3 * TB))
        self.assertEqual((move.jobs[0].label, move.jobs[0].limiting_hop), ("Hall box", "its 1GbE port"))
        self.assertEqual(ports_of(items), "1GbE")

    @given(amounts, st.sampled_from(("1GbE usb10G", "2.5GbE 1GbE", "1GbE 1GbE", "usb5G 10GbE")))
    def test_every_byte_moves_once_and_within_twice_of_the_best_plan(
        self, sizes: list[int], ports: str
    ) -> None:
        items = tuple(drive(f"d{n}", medium="hdd" if n % 2 else "ssd") for n in range(len(sizes)))
        wanted = {f"d{n}": size for n, size in enumerate(sizes)}
        move = move_of(items, wanted, ports)
        self.assertEqual((move.bytes, sum(j.bytes for j in move.jobs)), (sum(sizes), sum(sizes)))
        self.assertEqual(move.seconds, max(j.ends_s for j in move.jobs))
        alone = [[move_of((i,), {i.id: wanted[i.id]}, port).seconds for port in ports.split()] for i in items]
        best = min(
            max(
                sum(times[at] for times, at in zip(alone, way, strict=True) if at == lane)
                for lane in range(2)
            )
            for way in itertools.product(range(2), repeat=len(items))
        )
        self.assertGreaterEqual(move.seconds, best * (1 - 1e-9))
        # Going greedily by the earliest end is within the number of ports of the best.
        self.assertLessEqual(move.seconds, 2 * best * (1 + 1e-9))

    @given(amounts)
    def test_more_ports_or_quicker_ones_never_take_longer(self, sizes: list[int]) -> None:
        items = tuple(drive(f"d{n}", medium="ssd") for n in range(len(sizes)))
        wanted = {f"d{n}": size for n, size in enumerate(sizes)}
        one, two, quick = (move_of(items, wanted, p).seconds for p in ("1GbE", "1GbE 1GbE", "2.5GbE"))
        self.assertLessEqual(two, one)
        self.assertLessEqual(quick, one)
        self.assertGreaterEqual(two, one / 2 * (1 - 1e-9))
