"""The shelf: unique bytes and rescue order against brute force, typed lines, CSV, drive reports."""

import json
import unittest
from datetime import date
from pathlib import Path
from typing import Any, ClassVar

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused
from larder.base.units import TB
from larder.judge.evaluation import evaluate
from larder.plan.bundle import StockLot
from larder.plan.house_rules import HouseRules
from larder.readers.plan_file import bundle_from, read_bundle
from larder.readers.quick_entry import parse_quick
from larder.readers.smartctl import read_drive_report
from larder.readers.stock_csv import COLUMNS, read_stock_csv, write_stock_csv
from larder.stock.copies import unique_bytes
from larder.stock.item import Holding, StockItem
from larder.stock.shelf import HEALTH_WEIGHT, WORTH_WEIGHT, stock_stage
from larder.stock.today import stock_facts, today_bundle

TODAY = date(2026, 11, 23)
RULES = HouseRules()

holdings = st.builds(
    Holding,
    material=st.sampled_from(("Gannets", "Kittiwakes", "Puffins", "Terns")),
    bytes=st.integers(0, 200).map(lambda n: n * 10**9),
    worth=st.sampled_from(("irreplaceable", "costly", "replaceable")),
    role=st.sampled_from(("main", "backup", "unsaid")),
    read_back_on=st.none() | st.dates(date(2015, 1, 1), TODAY),
)
devices = st.builds(
    StockItem,
    id=st.just("x"),
    label=st.sampled_from(("A", "B", "C")),
    size_bytes=st.just(4 * TB),
    used_bytes=st.integers(0, 900).map(lambda n: n * 10**9),
    holdings=st.lists(holdings, max_size=4).map(tuple),
    bought_on=st.none() | st.dates(date(2015, 1, 1), TODAY),
    reallocated_sectors=st.sampled_from((None, 0, 8)),
    box=st.sampled_from(("", "", "Desk array")),
)
shelves = st.lists(devices, max_size=6).map(
    lambda items: tuple(item.model_copy(update={"id": f"d{n}"}) for n, item in enumerate(items))
)


class Shelf(unittest.TestCase):
    @given(shelves)
    def test_unique_bytes_equal_a_count_material_by_material(self, items: tuple[StockItem, ...]) -> None:
        expected = 0
        for material in {h.material for item in items for h in item.holdings}:
            expected += max(h.bytes for item in items for h in item.holdings if h.material == material)
        for item in items:
            expected += max(item.used_bytes - sum(h.bytes for h in item.holdings), 0)
        self.assertEqual(unique_bytes(items), expected)

    @given(shelves)
    def test_sole_copies_and_their_rescue_order_by_brute_force(self, items: tuple[StockItem, ...]) -> None:
        result = stock_stage(items, RULES, TODAY)
        scores = {}
        for item, answer in zip(items, result.items, strict=True):
            held: dict[str, int] = {}
            worth: dict[str, float] = {}
            for h in item.holdings:
                held[h.material] = max(h.bytes, held.get(h.material, 0))
                worth[h.material] = max(WORTH_WEIGHT[h.worth], worth.get(h.material, 0))
            # In one box is on one failure unit; what differs by less than the tolerance is no difference.
            sole = {}
            for name, amount in held.items():
                elsewhere = [
                    o.bytes
                    for other in items
                    if other is not item and not (item.box and item.box == other.box)
                    for o in other.holdings
                    if o.material == name
                ]
                rest = amount - max(elsewhere, default=0)
                if rest > amount * RULES.copy_size_tolerance_percent / 100:
                    sole[name] = rest
            self.assertEqual(set(answer.sole_material), set(sole))
            self.assertEqual(answer.sole_bytes, sum(sole.values()))
            if sole:
                years = 0.0 if item.bought_on is None else (TODAY - item.bought_on).days / 365.25
                dearest = max(worth[name] for name in sole)
                scores[item.id] = (1 + years) * HEALTH_WEIGHT[answer.health] * dearest
        self.assertEqual({step.id: step.score for step in result.rescue}, scores)
        self.assertEqual([s.score for s in result.rescue], sorted(scores.values(), reverse=True))

    @given(shelves)
    def test_a_further_copy_never_makes_more_to_keep(self, items: tuple[StockItem, ...]) -> None:
        copies = tuple(i.model_copy(update={"id": f"copy-{i.id}", "used_bytes": 0}) for i in items)
        self.assertEqual(unique_bytes(items + copies), unique_bytes(items))

    def test_failing_drives_with_sole_copies_come_first_and_are_to_be_imaged(self) -> None:
        def drive(name: str, **fields: Any) -> StockItem:
            base = {"id": name, "label": name, "size_bytes": TB, "bought_on": date(2024, 1, 1)}
            return StockItem(**base | fields, holdings=(Holding(material=name, bytes=10**9),))

        items = (drive("sound"), drive("failing", reallocated_sectors=3), drive("aged", hours_run=60_000))
        result = stock_stage(items, RULES, TODAY)
        self.assertEqual([s.id for s in result.rescue], ["failing", "aged", "sound"])
        self.assertIn("image", result.rescue[0].advice)
        self.assertEqual([i.reuse for i in result.items], ["with care", "no", "with care"])

    def test_shingled_drives_stay_out_of_parity(self) -> None:
        item = StockItem(id="s", label="s", size_bytes=TB, recording="smr", bought_on=TODAY)
        answer = stock_stage((item,), RULES, TODAY).items[0]
        self.assertEqual((answer.reuse, answer.health), ("no", "sound"))
        self.assertIn("shingled", answer.reuse_because)


class QuickEntry(unittest.TestCase):
    def test_the_line_of_the_design(self) -> None:
        items = parse_quick("4x 2TB ssd sata 2022 drawer-3 65%")
        self.assertEqual(len(items), 4)
        first = StockItem(id="a", **items[0])
        self.assertEqual((first.size_bytes, first.used_bytes, first.medium), (2 * TB, 13 * TB // 10, "ssd"))
        self.assertEqual(
            (first.interface, first.place, first.bought_on), ("sata", "drawer-3", date(2022, 7, 1))
        )
        self.assertEqual([i["label"] for i in items][:2], ["2 TB flash 1", "2 TB flash 2"])

    def test_words_come_in_any_order_and_sizes_may_stand_apart(self) -> None:
        item = StockItem(id="a", **parse_quick("loft 12% smr 8 TB 21000h")[0])
        self.assertEqual((item.place, item.recording, item.hours_run), ("loft", "smr", 21_000))
        self.assertEqual(parse_quick("3x4TB")[2]["size_bytes"], 4 * TB)
        self.assertEqual(parse_quick("512GB card")[0]["kind"], "card")

    def test_what_cannot_be_meant_is_refused(self) -> None:
        for text in ("", "ssd drawer", "2TB 4TB", "0x 2TB", "999x 2TB", "2TB 130%", "2TB ssd hdd", "2Tb"):
            self.assertRaises(Refused, parse_quick, text)


class Csv(unittest.TestCase):
    def read(self, text: str, **options: Any) -> Any:
        return read_stock_csv(text.encode(), **options)

    @given(shelves)
    def test_what_is_written_reads_back(self, items: tuple[StockItem, ...]) -> None:
        again = read_stock_csv(write_stock_csv(items).encode(), boxes=("Desk array",))
        self.assertEqual(again.faults, ())
        for one, two in zip(items, again.items, strict=True):
            self.assertEqual(one, two.model_copy(update={"id": one.id}))

    def test_bom_delimiters_and_blank_lines(self) -> None:
        for delimiter in ",;\t":
            text = f"\ufefflabel{delimiter}size{delimiter}place\r\nA{delimiter}4TB{delimiter}loft\r\n\r\n"
            inventory = self.read(text)
            self.assertEqual(
                [(i.label, i.size_bytes, i.place) for i in inventory.items], [("A", 4 * TB, "loft")]
            )

    def test_every_fault_names_its_line_and_column(self) -> None:
        text = (
            "label,size,used,serial,bought\nA,4TB,,S1,\nB,4,,,\nC,4Tb,,,\nD,4TB,5TB,,\nE,4TB,,S1,\n"
            "F,4TB,,,03/04/2024\nG,4TB\nH,4TB,,S9,\nI,4TB,,,2024-13-01\n"
        )
        faults = self.read(text, taken_serials=("S9",)).faults
        self.assertEqual(
            [(f.line, f.column) for f in faults],
            [
                (3, "size"),
                (4, "size"),
                (5, "used"),
                (6, "serial"),
                (7, "bought"),
                (8, "row"),
                (9, "serial"),
                (10, "bought"),
            ],
        )
        self.assertIn("year, month, day", faults[4].sentence)

    def test_files_that_are_no_inventory_are_refused(self) -> None:
        for raw in (
            b"",
            b"\xff\xfe",
            b"name,weight\na,b\n",
            b"label\nA\n",
            b"size,size\n1TB,1TB\n",
            b'size\n"4TB\n',
            b"x" * 6_000_000,
        ):
            self.assertRaises(Refused, read_stock_csv, raw)

    def test_cells_that_look_like_formulas_go_out_harmless_and_come_back_whole(self) -> None:
        item = StockItem(id="a", label="=1+1", size_bytes=TB, place="@loft")
        text = write_stock_csv((item,))
        self.assertIn("'=1+1", text)
        again = read_stock_csv(text.encode()).items[0]
        self.assertEqual((again.label, again.place), ("=1+1", "@loft"))
        self.assertEqual(text.splitlines()[0], ",".join(COLUMNS))


class Reports(unittest.TestCase):
    """The first answer is a real one of smartctl 7.3 on a machine without such a device; the others are made up
    after the structure of version 7.3."""

    NO_DEVICE: ClassVar[dict[str, Any]] = {
        "json_format_version": [1, 0],
        "smartctl": {
            "version": [7, 3],
            "svn_revision": "5338",
            "argv": ["smartctl", "--json", "--all", "/dev/vda"],
            "messages": [{"string": "/dev/vda: Unable to detect device type", "severity": "error"}],
            "exit_status": 1,
        },
    }

    def read(self, document: Any) -> Any:
        return read_drive_report(json.dumps(document).encode())

    def test_no_such_device_reads_as_no_health_data(self) -> None:
        report = self.read(self.NO_DEVICE)
        self.assertFalse(report.has_health)
        self.assertEqual(report.message, "no health data: /dev/vda: Unable to detect device type")

    def test_ata_scsi_and_nvme_reports(self) -> None:
        ata = {
            "smartctl": {"version": [7, 3]}, "serial_number": "MADEUP1", "user_capacity": {"bytes": 4 * TB},
            "rotation_rate": 7200, "power_on_time": {"hours": 31_000}, "temperature": {"current": 34},
            "ata_smart_attributes": {"table": [{"id": 9, "raw": {"value": 1}}, {"id": 5, "raw": {"value": 16}}]},
        }  # fmt: skip
        report = self.read(ata)
        self.assertEqual(
            (report.hours_run, report.reallocated_sectors, report.serial), (31_000, 16, "MADEUP1")
        )
        self.assertEqual((report.size_bytes, report.temperature_c, report.is_rotating), (4 * TB, 34.0, True))
        self.assertEqual(self.read({"smartctl": {}, "scsi_grown_defect_list": 2}).reallocated_sectors, 2)
        nvme = {
            "smartctl": {},
            "power_on_time": {"hours": 5},
            "nvme_smart_health_information_log": {"media_errors": 0},
        }
        self.assertEqual(self.read(nvme).reallocated_sectors, 0)

    def test_other_files_are_refused(self) -> None:
        for raw in (b"", b"[]", b"{}", b'{"smartctl": 3}', b"\xff"):
            self.assertRaises(Refused, read_drive_report, raw)


class Today(unittest.TestCase):
    DEMO = Path(__file__).resolve().parents[4] / "demo"

    def setUp(self) -> None:
        self.base = read_bundle((self.DEMO / "one-box.json").read_bytes())
        self.items = read_stock_csv((self.DEMO / "stock.csv").read_bytes()).items
        self.facts = stock_facts(self.items, stock_stage(self.items, RULES, TODAY), TODAY)

    def test_the_stock_becomes_a_plan_that_is_judged_like_any_other(self) -> None:
        bundle = today_bundle(self.items, "Hall box", "raid5", self.base, self.facts)
        again = bundle_from(bundle.document())
        answer = evaluate(again)
        pool = answer.tiers.pools[0]
        # 4, 8, 8 and 14 TB under single parity: three times the smallest.
        self.assertEqual((pool.raw_bytes, pool.layout_bytes), (34 * TB, 12 * TB))
        self.assertEqual(again.plan.brief.kept_today_bytes, unique_bytes(self.items))
        self.assertEqual((answer.scales.space.verdict, float(answer.money.spent)), ("short", 0.0))

    def test_what_may_serve_again_is_sound_lies_on_the_shelf_and_holds_nothing_alone(self) -> None:
        lots = [(lot.size_bytes // TB, lot.count, lot.surface_tested) for lot in self.facts.reusable]
        self.assertEqual(lots, [(14, 1, False), (12, 1, True)])
        free = StockItem(
            id="a", label="A", size_bytes=8 * TB, drive_class="array", recording="cmr", bought_on=TODAY,
            tested_on=TODAY, hours_run=100,
        )  # fmt: skip
        others: tuple[dict[str, Any], ...] = (
            {"holder": "Camera two"}, {"reallocated_sectors": 3}, {"recording": "smr"}, {"interface": "usb"},
            {"drive_class": "desktop"}, {"hours_run": 90_000}, {"medium": "card"},
            {"holdings": (Holding(material="Otters", bytes=TB),), "used_bytes": TB},
        )  # fmt: skip
        items = [free, free.model_copy(update={"id": "b", "hours_run": 700, "tested_on": None})]
        items += [free.model_copy(update={"id": f"x{n}"} | each) for n, each in enumerate(others)]
        facts = stock_facts(tuple(items), stock_stage(tuple(items), RULES, TODAY), TODAY)
        lot = StockLot(
            id="hdd-sata-8000gb", kind="hdd", interface="sata", size_bytes=8 * TB, count=2, hours_run=700
        )
        self.assertEqual(facts.reusable, (lot,))

    def test_layered_parity_wastes_less_of_the_same_drives(self) -> None:
        plans = [
            today_bundle(self.items, "Hall box", name, self.base, self.facts)
            for name in ("raid5", "layered1")
        ]
        equal, layered = (evaluate(b).tiers.plannable_bytes for b in plans)
        self.assertGreater(layered, equal)

    def test_places_and_layouts_that_cannot_be_are_refused(self) -> None:
        for place, layout, word in (
            ("Attic", "raid5", "Hall box"),
            ("Desk west array", "raid6", "4 drives or more"),
            ("Hall box", "raid7", "raid60:G"),
        ):
            with self.assertRaises(Refused) as caught:
                today_bundle(self.items, place, layout, self.base, self.facts)
            self.assertIn(word, caught.exception.sentence)
