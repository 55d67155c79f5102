"""How plans begin, what is found in them, and which formats typed words mean."""

import unittest
from datetime import date

from larder.asks.begin import begun
from larder.asks.find import Entry, found_in, ranked
from larder.asks.find_formats import find_formats
from larder.asks.standards import Standards
from larder.asks.starting_points import STARTING_POINTS, started
from larder.base.errors import Refused
from larder.base.patch import Operation, apply_patch, value_at
from larder.judge.evaluation import Evaluation, evaluate
from larder.laws.media import RDD36_TARGET_MBIT_PER_S
from larder.plan.bundle import Bundle
from larder.plan.house_rules import HouseRules
from larder.plan.new_item import Asked, new_item_patch
from larder.readers.brief_line import brief_of, understand
from larder.readers.plan_file import bundle_from
from larder.tests.plans import changed, demo, price, stocked

TODAY = date(2026, 11, 26)
LINE = "4 edit seats play 2 streams 220 Mb/s, 1 ingest, 8 TB today, 9000 EUR"


def plan_of(line: str) -> Bundle:
    return begun("New", brief_of(understand(line, TODAY)), TODAY, Standards())


def verdicts(evaluation: Evaluation) -> list[str]:
    scales = evaluation.scales
    return [scale.verdict for scale in (scales.speed, scales.space, scales.safety, scales.money)]


def added(bundle: Bundle, path: str, **given: object) -> Bundle:
    return bundle_from(apply_patch(bundle.document(), new_item_patch(bundle, Asked(path, given))))


class Begun(unittest.TestCase):
    def test_everybody_is_plugged_in_and_no_scale_says_enough_of_nothing(self) -> None:
        bundle = plan_of(LINE)
        answer = evaluate(bundle)
        self.assertEqual(verdicts(answer), ["open"] * 4)
        self.assertEqual([f.id for f in answer.findings if f.severity == "block"], [])
        self.assertEqual(bundle.plan.wiring.switches[0].ports, "8x10GbE")
        self.assertEqual(
            {link.near for link in bundle.plan.wiring.links}, {"switch:switch", "seat:edit", "seat:ingest"}
        )
        self.assertEqual(plan_of(LINE.replace("4 edit", "11 edit")).plan.wiring.switches[0].ports, "16x10GbE")
        self.assertGreater(answer.scales.speed.need, 0)
        self.assertEqual(answer.scales.space.need, answer.brief.need_bytes)

    def test_what_is_open_shrinks_to_nothing_along_the_stages(self) -> None:
        empty = plan_of("")
        path = [each.words for each in evaluate(empty).open_work]
        self.assertEqual(path[:2], ["who works, and on what", "what is shot or kept"])
        self.assertIn("a first pool of drives", path)
        bundle = plan_of(LINE)
        self.assertEqual([each.words for each in evaluate(bundle).open_work], ["a first pool of drives"])
        pooled = added(bundle, "plan/pools")
        [price] = evaluate(pooled).open_work[:1]
        self.assertIn("price", price.words)
        # What is open leads to a place of the plan.
        self.assertIsNone(value_at(pooled.document(), tuple(price.path.split("/"))))
        priced = changed(pooled, **{price.path.replace("/", "__"): "300.00"})
        self.assertEqual(len(evaluate(priced).open_work), len(evaluate(pooled).open_work) - 1)
        for name in ("one-box", "tern-and-tide", "long-shore"):
            self.assertEqual(evaluate(demo(name)).open_work, (), name)
        self.assertEqual(evaluate(demo("halyard-street")).open_work[0].words, "the price of one thing")
        links = demo("one-box").plan.wiring.links
        cut = tuple(Operation(op="remove", path=f"plan/wiring/links/{link.id}") for link in links)
        today = demo("one-box").as_of.isoformat()
        over = changed(demo("one-box"), plan__brief__horizon_date=today)
        self.assertIn("until when it must last", [w.words for w in evaluate(over).open_work])
        unplugged = bundle_from(apply_patch(demo("one-box").document(), cut))
        self.assertIn("how the seats reach the storage", [w.words for w in evaluate(unplugged).open_work])

    def test_drives_that_hold_nothing_are_safe_in_nothing(self) -> None:
        pooled = added(plan_of("2 photo 60MB raw"), "plan/pools")
        self.assertEqual(verdicts(evaluate(pooled))[1:3], ["open", "open"])
        kept = changed(
            pooled, plan__brief__kept_today_bytes="1TB", plan__brief__seats__photo__probability="65 %"
        )
        # Two labelled drives, and nobody has said where copies go.
        self.assertEqual(verdicts(evaluate(kept))[2], "open")
        self.assertEqual(kept.plan.brief.seats[0].probability, 0.65)

    def test_every_starting_point_is_judged_without_a_finding_and_changes_with_its_line(self) -> None:
        for point in STARTING_POINTS:
            with self.subTest(point.id):
                self.assertEqual(understand(point.line, TODAY).unknown, ())
                answer = evaluate(started(point.id, "Loft", TODAY, Standards()))
                self.assertEqual(answer.findings, ())
                self.assertEqual(verdicts(answer)[:3], ["enough"] * 3)
                self.assertEqual(verdicts(answer)[3], "open")
        self.assertEqual(started(point.id, "Loft", TODAY, Standards(currency="GBP")).currency, "GBP")
        self.assertRaisesRegex(Refused, "film-team-of-six", started, "attic", "Loft", TODAY, Standards())

    def test_prices_in_another_currency_are_refused(self) -> None:
        catalogue = stocked(prices=[price("disk-16-array", "300.00", TODAY)]).catalogue
        kept = Standards(catalogue=catalogue.model_copy(update={"formats": ()}))
        brief = brief_of(understand("9000 USD", TODAY))
        self.assertRaisesRegex(Refused, "EUR, in which", begun, "New", brief, TODAY, kept)


class SeatAtOnce(unittest.TestCase):
    def test_a_seat_comes_with_its_format_and_its_plug(self) -> None:
        bundle = plan_of("")
        [choice, *_] = find_formats(bundle, "4k 10 bit 422 400").choices
        asked = Asked("plan/brief/seats", {"kind": "footage"}, media=choice.given)
        after = bundle_from(apply_patch(bundle.document(), new_item_patch(bundle, asked)))
        [seat], [media] = after.plan.brief.seats, after.catalogue.formats
        self.assertEqual(seat.format_id if seat.kind == "footage" else "", media.id)
        self.assertIn("seat:seat", {link.near for link in after.plan.wiring.links})
        lacking = Asked("plan/brief/seats", {"kind": "footage"})
        self.assertRaisesRegex(Refused, "add a format first", new_item_patch, bundle, lacking)


class Formats(unittest.TestCase):
    def names(self, text: str) -> list[str]:
        return [choice.name for choice in find_formats(demo("tern-and-tide"), text).choices]

    def test_own_ones_typed_ones_and_published_ones(self) -> None:
        own = [each.name for each in demo("tern-and-tide").catalogue.formats]
        self.assertEqual(self.names("")[: len(own)], own)
        typed = find_formats(demo("tern-and-tide"), "220 Mb/s").choices[0]
        self.assertEqual((typed.bytes_per_s, typed.id, typed.source), (27_500_000, "", "as typed"))
        again = find_formats(demo("tern-and-tide"), own[0]).choices
        self.assertIn((own[0], "in this plan"), [(c.name, c.source) for c in again])
        self.assertTrue(all("36" in name for name in self.names("rdd 36")))
        none = find_formats(demo("tern-and-tide"), "gold")
        self.assertEqual(none.choices, ())
        self.assertIn("“gold” is no word", none.sentence)

    def test_a_frame_scales_the_published_classes(self) -> None:
        choices = find_formats(plan_of(""), "4k 25 fps").choices
        scaled = [c for c in choices if c.source == "SMPTE RDD 36, scaled to the frame"]
        self.assertEqual(len(scaled), len(RDD36_TARGET_MBIT_PER_S))
        small = [c for c in find_formats(plan_of(""), "1920x1080 25 fps").choices if "scaled" in c.source]
        for large, less in zip(scaled, small, strict=True):
            self.assertAlmostEqual(large.bytes_per_s / less.bytes_per_s, 4, delta=0.1)


class Finding(unittest.TestCase):
    def found(self, text: str, name: str = "long-shore") -> list[tuple[str, str]]:
        return [(hit.kind, hit.name) for hit in found_in(demo(name), text)]

    def test_each_kind_of_thing_by_its_name(self) -> None:
        bundle, answer = demo("long-shore"), evaluate(demo("long-shore"))
        plan = bundle.plan
        for kind, name in (
            ("seat", plan.brief.seats[0].name),
            ("service", plan.brief.services[0].name),
            ("production", plan.brief.productions[0].name),
            ("format", bundle.catalogue.formats[0].name),
            ("pool", plan.pools[0].name),
            ("cache", plan.caches[0].name),
            ("box", plan.boxes[0].name),
            ("switch", plan.wiring.switches[0].name),
            ("hop", answer.wiring.hops[-1].name),
            ("rule", str(HouseRules.model_fields["rush_odds"].title)),
            ("figure", "Speed"),
        ):
            with self.subTest(kind):
                self.assertIn((kind, name), self.found(name) + self.found(f"{name} {kind}"))
        drives = {hit.name for hit in found_in(stocked(), "class of drive")}
        self.assertIn(stocked().catalogue.drives[0].name, drives)

    def test_whatever_is_found_stands_where_it_says(self) -> None:
        bundle = demo("tern-and-tide")
        answer = evaluate(bundle)
        document = bundle.document()
        keys = {finding.key for finding in answer.findings}
        for text in ("a", "e", "o", "i", "bay", "pool", "rate", "finding"):
            for hit in found_in(bundle, text):
                if hit.opens == "findings":
                    self.assertIn(hit.at, keys)
                elif hit.kind == "bay":
                    _, _, box_id, _, place = hit.at.split("/")
                    fronts = next(box for box in answer.bays.boxes if box.id == box_id)
                    self.assertIn(place, {f"{bay.slot}-{bay.number}" for bay in fronts.bays})
                elif hit.opens not in ("figure", "plan", "stock"):
                    value_at(document, tuple(hit.at.split("/")))

    def test_beginnings_come_first_and_all_words_count(self) -> None:
        def entry(name: str, detail: str = "") -> Entry:
            return Entry("pool", name, detail, "tiers", name)

        pool = [entry("Archive of work"), entry("Network"), entry("Work pool"), entry("Loft", "holds work")]
        self.assertEqual(
            [hit.name for hit in ranked(pool, "WORK")], ["Work pool", "Archive of work", "Network", "Loft"]
        )
        self.assertEqual([hit.name for hit in ranked(pool, "work arch")], ["Archive of work"])
        inside = [entry("Work arch"), entry("Wide chest of wood")]
        self.assertEqual([hit.name for hit in ranked(inside, "wo ch")], ["Wide chest of wood", "Work arch"])
        self.assertEqual(ranked(pool, "  "), ())
        self.assertEqual(len(ranked([entry(f"Pool {n}") for n in range(99)], "pool")), 6)
