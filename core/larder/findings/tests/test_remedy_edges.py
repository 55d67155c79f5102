"""Remedies right at their edges: the least that is enough, and words where nothing is."""

import unittest
from types import SimpleNamespace as Of
from typing import Any
from unittest.mock import patch

from larder.findings import boxes, brief, caches, copies, small_files, tiers, wires, wiring
from larder.findings.finding import Remedy
from larder.findings.nightly import is_copied_nightly
from larder.laws.path import BUS_BYTES_PER_S
from larder.plan.wiring import End
from larder.stages.copies import COPIES
from larder.stages.plugs import PLUGS
from larder.stages.registry import TIERS_STAGE

from .test_edges import EdgeCase, figures


def values(remedy: Remedy) -> dict[str, Any]:
    """What its press sets, by the last of its path."""
    return {operation.path.rpartition("/")[2]: operation.value for operation in remedy.patch}


class Wires(unittest.TestCase):
    def ports(self, end: End, *cards: tuple[str, str], count: int = 2) -> Remedy:
        held = [
            Of(id=f"slot-{n}", name=f"Slot {n}", holds=holds, bus=bus) for n, (holds, bus) in enumerate(cards)
        ]
        listed = [
            Of(id="other", cards=[Of(id="x", name="X", holds="empty", bus="pcie3x8")]),
            Of(id="b", cards=held),
        ]
        switches = [Of(id="other", ports="1x1GbE"), Of(id="s", ports="8x10GbE")]
        plan = {"boxes": listed, "wiring": Of(switches=switches)}
        return wires._more_ports(figures(plan), end, count, "10GbE")

    def test_a_switch_takes_the_ports_and_a_box_a_card_into_its_first_empty_slot(self) -> None:
        switch = End("switch", "s")
        few, many = self.ports(switch, count=1), self.ports(switch, count=40)
        self.assertEqual(values(few), {"ports": f"8x10GbE {wires.PORTS_MORE}x10GbE"})
        self.assertEqual(values(many), {"ports": "8x10GbE 40x10GbE"})
        box = End("box", "b")
        into = self.ports(box, ("flash", "pcie3x4"), ("empty", "sata3"), ("empty", "pcie3x4"))
        self.assertEqual(into.words, "Put a network card with 2x10GbE into Slot 2")
        self.assertEqual(values(into), {"holds": "network card", "ports": "2x10GbE"})
        self.assertEqual(values(self.ports(box, ("empty", "pcie3x4"), count=1))["ports"], "10GbE")
        self.assertEqual(self.ports(box, ("flash", "pcie3x4")).at, "plan/boxes/b/ports")

    def test_a_mount_by_another_address_keeps_those_of_other_boxes(self) -> None:
        best: Any = Of(wires=[Of(link=Of(id="first")), Of(link=Of(id="mine"))])
        plugs = {
            PLUGS: Of(addresses=[Of(link_id="x", address="10.0.0.9"), Of(link_id="mine", address="10.0.1.2")])
        }
        with patch.object(wires, "_called", lambda *_: "the link"):
            remedy = wires._mount(
                figures(parts=plugs), "edit", "far slow", {"slow": best, "mine": best}, best
            )
        self.assertEqual(
            (remedy.words, values(remedy)), ("Mount it by the link (10.0.1.2)", {"mounts_by": "far mine"})
        )

    def test_copies_that_are_late_on_a_link_are_a_matter_of_wires(self) -> None:
        late = [
            Of(asked_bytes_per_s=1e8, part_name="noon", seconds_late=60.0),
            Of(asked_bytes_per_s=3e8, part_name="night", seconds_late=1800.0),
        ]
        for kind, stage in (("link", None), ("pool", TIERS_STAGE), ("processor", None)):
            hop = Of(id="h", name="H", kind=kind, late=late, capacity_bytes_per_s=2e8)
            pressed = Remedy(words=kind)
            with (
                patch.object(wiring, "_pool_remedy", lambda *_, r=pressed: r),
                patch.object(wiring, "_link_remedy", lambda *_, r=pressed: r),
            ):
                [found] = wiring.copies_late(figures(wiring=Of(hops=[Of(late=()), hop])))
            self.assertEqual((found.stage, found.at), (stage, "h"))
            self.assertEqual(found.title, "H: copies in night end 30 min late")
            self.assertEqual(found.remedy is pressed, kind != "processor")


class SmallFiles(unittest.TestCase):
    def test_mirrors_are_of_an_even_number_without_the_spares(self) -> None:
        for drives, spares, there in ((8, 0, True), (7, 1, True), (8, 1, False), (7, 0, False)):
            pool: Any = Of(id="p", drives_bytes=(1,) * drives, spares=spares)
            pool.model_copy = lambda update: update
            with patch.object(small_files, "layout_fields", lambda *_: {"layout": "raid10"}):
                self.assertEqual(bool(list(small_files._mirrors(pool, None))), there, (drives, spares))


class Brief(unittest.TestCase):
    def test_footage_that_is_half_as_heavy_is_a_proxy(self) -> None:
        seat: Any = Of(id="edit", format_id="now")
        for light, is_offered in ((50.0, True), (50.1, False)):
            rates = [Of(id="now", mean_bytes_per_s=100.0), Of(id="light", mean_bytes_per_s=light)]
            with patch.object(brief, "_lightest_footage", lambda _: Of(id="light", name="Light")):
                remedy = brief._lighter_format(figures(brief=Of(formats=rates)), seat)
            self.assertEqual(bool(remedy.patch), is_offered, light)
            if is_offered:
                self.assertEqual(values(remedy), {"format_id": "light", "decoded_streams_max": None})
        with patch.object(brief, "_lightest_footage", lambda _: None):
            self.assertFalse(brief._lighter_format(figures(brief=Of(formats=rates)), seat).patch)

    def test_what_is_sent_ahead_is_carried_in_its_time_or_not_offered(self) -> None:
        seat = Of(id="far", model_copy=lambda update: Of(**update))
        f = figures({"brief": Of(seats=[seat], limits=Of(line=None))}, brief=Of(formats=[]))
        for ratio, is_offered in ((1.0, True), (0.99, False), (None, False)):
            with (
                patch.object(brief, "_lightest_footage", lambda _: Of(id="light", name="Light")),
                patch.object(brief, "RemoteSeat", Of),
                patch.object(brief, "remote_results", lambda *_, r=ratio: [Of(ratio=r)]),
            ):
                remedy = brief._proxies_ahead(f, Of(id="far"))  # type: ignore[arg-type]
            self.assertEqual(bool(remedy.patch), is_offered, ratio)


class Boxes(EdgeCase):
    def test_the_narrowest_bus_that_carries_it_then_more_links(self) -> None:
        def wider(bus: str, links: int, times: float) -> Remedy:
            return boxes._wider(Of(id="b", shared_bus=bus, shared_links=links), times)  # type: ignore[arg-type]

        family = sorted((b for b in BUS_BYTES_PER_S if b.startswith("sas")), key=BUS_BYTES_PER_S.__getitem__)
        slow, fast = family[0], family[-1]
        times = BUS_BYTES_PER_S[fast] / BUS_BYTES_PER_S[slow]
        self.assertEqual(values(wider(slow, 2, times)), {"shared_bus": fast})
        self.assertEqual(values(wider(fast, 2, 1.01)), {"shared_links": 3})
        self.assertEqual(values(wider(fast, 4, 4.0)), {"shared_links": 16})
        self.assertFalse(wider(fast, 4, 4.01).patch)

    def test_a_carrier_goes_into_the_first_slot_of_its_generation_that_carries_all(self) -> None:
        def told(bus: str, rate: float, drives: int) -> list[dict[str, Any]]:
            card = Of(id="c", name="Carrier", bus=bus, flash_drives=drives)
            with patch.object(boxes, "_on_carriers", lambda _: [(Of(id="b", name="B"), card, rate)]):
                return [values(lane.remedy) for lane in boxes.carrier_shares_its_lanes(figures())]

        each = BUS_BYTES_PER_S["pcie3x4"]
        self.assertEqual(told("pcie3x4", each / 2, 2), [])
        [wider] = told("pcie3x4", each, 2)
        self.assertGreaterEqual(BUS_BYTES_PER_S[wider["bus"]], 2 * each)
        self.assertGreaterEqual(wider["bus"][:5], "pcie3")
        self.assertEqual(told("pcie3x4", 1e12, 4), [{}])


class Caches(unittest.TestCase):
    def test_a_mirror_is_of_an_even_number(self) -> None:
        for drives, pairs in ((1, 2), (2, 2), (3, 4)):
            cache: Any = Of(id="c", name="C", mode="write-back", is_mirrored=False, drive_count=drives)
            with patch.object(caches, "_cached", lambda _, c=cache: [(c, Of(dirty_bytes_max=5), None)]):
                [found] = caches.unmirrored_write_cache(figures())
            self.assertEqual(values(found.remedy), {"drive_count": pairs, "is_mirrored": True})


class Tiers(EdgeCase):
    def test_one_failure_and_a_rebuild_at_the_rule(self) -> None:
        f = figures()
        hours, percent = (
            f.bundle.house_rules.single_parity_rebuild_hours_max,
            f.bundle.house_rules.single_parity_unreadable_percent_max,
        )
        for survives, seconds, odds, hangs in (
            (1, hours * 3600, percent / 100, False),
            (1, hours * 3600 + 1, 0.0, True),
            (1, 0.0, percent / 100 + 0.01, True),
            (2, hours * 7200, 1.0, False),
            (1, None, None, False),
            (1, 0.0, None, False),
        ):
            result: Any = Of(guaranteed_failures=survives, rebuild_seconds=seconds, unreadable_odds=odds)
            self.assertEqual(tiers._is_exposed(f, result), hangs, (survives, seconds, odds))

    def test_a_stripe_speaks_here_only_where_it_is_copied(self) -> None:
        pool = Of(id="p", name="P", layout="stripe", members_bytes=(1,))
        result = Of(guaranteed_failures=0, members=4, usable_bytes=9, loses="all of it")
        f = figures({"pools": [pool]}, tiers=Of(pools=[result]))
        for layout, copied, speaks in (
            ("stripe", True, True),
            ("stripe", False, False),
            ("span", False, True),
            ("span", True, True),
        ):
            pool.layout = layout
            with (
                patch.object(tiers, "is_copied_nightly", lambda *_, c=copied: c),
                patch.object(tiers, "_redundancy", lambda *_: Remedy(words="More parity")),
            ):
                self.assertEqual(bool(list(tiers.no_redundancy(f))), speaks, (layout, copied))


class Copied(unittest.TestCase):
    def copied(self, *made: tuple[str, float, str], missing: str = "") -> bool:
        plan = {
            "safekeeping": Of(
                materials=[Of(id="a"), Of(id="b"), Of(id="elsewhere")],
                copies=[
                    Of(id=str(n), materials=of.split(), every_hours=every, where=Of(kind=where))
                    for n, (of, every, where) in enumerate(made)
                ],
            ),
            "pool_of": lambda where: "p" if where in ("p", Of(kind="p")) else None,
            "homes_of": lambda each: ["q"] if each.id == "elsewhere" else ["p"],
        }
        answer = {COPIES: Of(copies=[Of(id=missing, missing=True), Of(id="0", missing=False)])}
        return is_copied_nightly(figures(plan, answer), Of(id="p"))  # type: ignore[arg-type]

    def test_all_that_lives_there_within_a_day_and_not_on_itself(self) -> None:
        self.assertTrue(self.copied(("a b", 24, "store")))
        self.assertTrue(self.copied(("a", 24, "store"), ("b", 1, "store")))
        self.assertFalse(self.copied(("a", 24, "store")))
        self.assertFalse(self.copied(("a b", 24.1, "store")))
        self.assertFalse(self.copied(("a b", 24, "p")))
        self.assertFalse(self.copied(("a b", 24, "store"), missing="0"))

    def sooner(self, hours: float, kind: str = "a box") -> Remedy:
        copy = Of(
            id="c",
            name="Nightly",
            materials=("m",),
            people_can_work_on_it=False,
            where=Of(kind="store", id="s"),
        )
        copy.model_copy = lambda update: Of(**(vars(copy) | update))
        plan = {
            "safekeeping": Of(copies=[copy], stores=[Of(id="x", kind="linear tape"), Of(id="s", kind=kind)]),
            "brief": Of(limits=Of(tolerances=[Of(id="a", downtime_hours=0), Of(id="w", downtime_hours=8)])),
        }
        after = {"fire": hours, "theft": None}
        kept = Of(after=lambda loss: Of(recovery_hours=after[loss]))
        late: Any = [Of(loss="fire"), Of(loss="theft")]
        f = figures(plan)
        f.judged = None
        with (
            patch.object(copies, "_with_copy", lambda *_: None),
            patch.object(copies, "Keeping", lambda _: Of(material=lambda _: kept)),
        ):
            return copies._sooner(f, Of(id="m", worth="w"), late)  # type: ignore[arg-type]

    def test_people_work_on_a_copy_that_is_there_in_their_time(self) -> None:
        self.assertEqual(values(self.sooner(8.0)), {"people_can_work_on_it": True})
        self.assertFalse(self.sooner(8.1).patch)
        self.assertFalse(self.sooner(1.0, "linear tape").patch)
        self.assertTrue(self.sooner(1.0, "loose flash drives").patch)
