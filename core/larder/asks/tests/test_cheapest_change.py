"""The cheapest change is the one that trying all finds; what everybody gets in a state, by hand and by laws."""

import json
import unittest
from decimal import Decimal
from typing import Any

from larder.asks.cables import cables_of
from larder.asks.cheapest_change import cheapest_change, trials
from larder.asks.share_out import share_out, shared
from larder.base.errors import LarderError, Refused
from larder.base.patch import Operation, apply_patch
from larder.judge.evaluation import FIGURES, evaluate
from larder.plan.bundle import Bundle
from larder.plan.ports import ledger_of
from larder.plan.quick_patch import patched
from larder.readers.plan_file import bundle_from
from larder.stages.registry import PARTS
from larder.stages.stage import judge
from larder.tests.drawn import IS_WHOLE, few
from larder.tests.plans import changed, demo
from larder.tests.random_plans import large_house, random_plan

LINK = 10e9 / 8 * 1448 / 1538 * 0.9


def slowed(**links: str) -> Bundle:
    """Tern & Tide with links of these speeds."""
    return changed(demo("tern-and-tide"), **{f"plan__wiring__links__{i}__speed": s for i, s in links.items()})


def without_port(bundle: Bundle) -> int:
    return sum(plugged.missing for plugged in ledger_of(bundle.plan).plugged.values())


def all_tried(bundle: Bundle, seat_id: str) -> tuple[list[tuple[Decimal, str]], float]:
    """(price, words) of every single change that brings the seat to enough, judged through the whole file."""
    now = evaluate(bundle)
    prices = {(p.part, p.speed): p.unit_price for p in bundle.plan.wiring.prices}
    ratio = next(s.ratio for s in now.wiring.seats if s.id == seat_id) or 0.0
    found = []
    for trial in trials(judge(bundle, FIGURES), seat_id):
        try:
            after_bundle = bundle_from(apply_patch(bundle.document(), trial.patch))
            after = evaluate(after_bundle)
        except LarderError:
            continue
        hop = next((h for h in after.wiring.hops if h.id == trial.link_id), None)
        if hop is not None and trial.speed and hop.speed != trial.speed:
            continue
        if without_port(after_bundle) > without_port(bundle):
            continue
        fares = next((s.ratio for s in after.wiring.seats if s.id == seat_id), None) or 0.0
        worse = (after.wiring.ratio or 9) < min(1.0, (now.wiring.ratio or 9) * (1 - 1e-9))
        parts = [prices.get((part, speed)) for part, speed, _ in trial.parts]
        if fares > ratio and fares >= bundle.house_rules.enough_ratio and not worse and None not in parts:
            costs = sum((prices[p, s] * n for p, s, n in trial.parts), Decimal("0.00"))
            found.append((costs, trial.words))
    return sorted(found), ratio


class Cheapest(unittest.TestCase):
    def test_it_is_the_cheapest_of_all_that_can_be_tried(self) -> None:
        checked = 0
        plans = [demo("tern-and-tide"), slowed(uplink="1GbE")]
        for bundle in [*plans, *(random_plan(seed) for seed in range(few(8)))]:
            for seat in evaluate(bundle).wiring.seats[: 4 if IS_WHOLE else 2]:
                priced = [
                    c for c in cheapest_change(bundle, seat.id).changes if c.fixes and c.price is not None
                ]
                wanted, ratio = all_tried(bundle, seat.id)
                if seat.ratio is not None:
                    self.assertEqual(ratio, seat.ratio)
                self.assertEqual(len(priced), len(wanted), (bundle.plan.name, seat.id))
                if wanted:
                    checked += 1
                    self.assertEqual(priced[0].price, wanted[0][0], (bundle.plan.name, seat.id))
        self.assertGreater(checked, 8 if IS_WHOLE else 3)

    def test_a_narrow_uplink_is_mended_by_what_a_technician_would_say(self) -> None:
        bundle = slowed(uplink="1GbE")
        found = cheapest_change(bundle, "stills")
        self.assertEqual(found.limiting_name, "Cutting room switch to Boathouse switch")
        self.assertIn("Cutting room switch to Boathouse switch at 10GbE", {c.words for c in found.changes})
        self.assertIn("Stills retouch to Boathouse switch at 2.5GbE", found.in_vain)

    def test_who_asks_for_nothing_is_refused_by_name(self) -> None:
        self.assertRaisesRegex(Refused, "seat_id cannot be .attic", cheapest_change, demo("one-box"), "attic")

    def test_a_quick_patch_is_the_same_plan_as_the_file_with_the_patch(self) -> None:
        for seed in range(few(12)):
            bundle = random_plan(seed)
            seat = bundle.plan.brief.seats[0].id
            for trial in (
                list(trials(judge(bundle, FIGURES), seat))[:6] if evaluate(bundle).wiring.seats else ()
            ):
                try:
                    through_the_file = bundle_from(apply_patch(bundle.document(), trial.patch))
                except LarderError:
                    self.assertRaises(LarderError, patched, bundle, trial.patch)
                else:
                    self.assertEqual(patched(bundle, trial.patch), through_the_file)
        self.assertRaises(Refused, patched, bundle, (Operation(op="set", path="plan/attic", value=1),))


class Sharing(unittest.TestCase):
    def gets(self, bundle: Bundle, state: str = "all", **more: Any) -> dict[str, Any]:
        return {seat.id: seat for seat in share_out(bundle, state, **more).seats}

    def test_where_everything_is_wide_everybody_gets_what_they_need(self) -> None:
        for state in ("all", "sized", "day"):
            for seat in self.gets(demo("tern-and-tide"), state).values():
                self.assertAlmostEqual(seat.delivered_bytes_per_s / seat.needed_bytes_per_s, 1)
                self.assertIsNone(seat.limiting_hop_id)

    def test_a_narrow_link_is_shared_and_named(self) -> None:
        bundle = slowed(**{"signal-room-port": "1GbE"})
        gets = self.gets(bundle)
        self.assertEqual(
            {s.limiting_hop_id for s in gets.values() if s.limiting_hop_id}, {"signal-room-port"}
        )
        read = sum(s.at_once * s.delivered_bytes_per_s for i, s in gets.items() if i != "ingest")
        self.assertLess(read, 125e6 * 1448 / 1538 * 0.9 * 2)
        # Playback first: copies no longer take from those who play.
        first = changed(
            bundle,
            plan__wiring__switches__boathouse__puts_playback_first=True,
            **{"plan__wiring__switches__cutting-room__puts_playback_first": True},
        )
        colour = (self.gets(b)["colour"].delivered_bytes_per_s for b in (bundle, first))
        self.assertLess(*colour)

    def test_the_sized_state_asks_what_the_plan_is_sized_on(self) -> None:
        for name in ("tern-and-tide", "long-shore", "one-box"):
            answer = evaluate(demo(name))
            share = shared(judge(demo(name), PARTS))
            part = next(
                p
                for p in answer.brief.parts
                if p.sized_bytes_per_s == max(q.sized_bytes_per_s for q in answer.brief.parts)
            )
            self.assertEqual(share.said, f"P99 of {part.name}")
            seats = {s.id: s for s in answer.brief.seats}
            asked = sum(
                s.at_once * (seats[s.id].read_bytes_per_s + seats[s.id].write_bytes_per_s)
                for s in share.seats
            )
            services = sum(s.bytes_per_s for s in answer.brief.services)
            self.assertAlmostEqual((asked + services) / part.sized_bytes_per_s, 1, places=3)

    def test_trouble_takes_from_the_pools_and_never_gives(self) -> None:
        well = self.gets(demo("one-box"))
        for trouble in ("a dead disk", "a rebuild", "a scrub"):
            for seat_id, seat in self.gets(demo("one-box"), trouble=trouble).items():
                self.assertLessEqual(
                    seat.delivered_bytes_per_s, well[seat_id].delivered_bytes_per_s * (1 + 1e-9)
                )
        scrub = self.gets(demo("one-box"), trouble="a scrub")
        self.assertLess(scrub["colour"].delivered_bytes_per_s, well["colour"].delivered_bytes_per_s)

    def test_a_state_that_there_is_not_is_refused_and_a_house_without_seats_is_quiet(self) -> None:
        self.assertRaisesRegex(Refused, "state cannot be .noon", share_out, demo("one-box"), "noon")
        document = demo("one-box").document()
        document["plan"]["brief"] |= {"seats": [], "services": []}
        share = share_out(bundle_from(document))
        self.assertEqual((share.seats, {hop.used for hop in share.hops}), ((), {0.0}))
        json.dumps(share.model_dump(mode="json"), allow_nan=False)


class Cables(unittest.TestCase):
    def test_every_seat_has_a_cable_and_every_cable_a_label_of_its_own(self) -> None:
        cables = cables_of(demo("tern-and-tide"))
        self.assertEqual(len(cables), 5 + 1 + 1 + 2 + 4)
        self.assertEqual(len({cable.label for cable in cables}), len(cables))
        edit = [(c.near, c.far_port) for c in cables if c.near.startswith("Edit")]
        self.assertEqual(edit, [(f"Edit {n}", str(n)) for n in range(1, 6)])
        taken = [(c.far, c.far_port) for c in cables] + [(c.near, c.near_port) for c in cables if c.near_port]
        self.assertEqual(len(set(taken)), len(taken))


class LargeHouse(unittest.TestCase):
    def test_sixty_classes_on_eight_switches_are_shared_out_and_helped(self) -> None:
        house = large_house()
        share = share_out(house)
        self.assertEqual(len(share.seats), 60)
        self.assertTrue(all(0 <= hop.used <= 1 for hop in share.hops))
        found = cheapest_change(house, "s33")
        self.assertGreater(found.tried, 10)
        self.assertTrue(found.changes)
        self.assertTrue(all((change.ratio or 0) > (found.ratio or 0) for change in found.changes))
