"""Questions whose parts decide at an edge, with what they are asked about written out by hand."""

import unittest
from dataclasses import fields
from datetime import date
from decimal import Decimal
from types import SimpleNamespace as Of
from typing import Any
from unittest.mock import patch

from larder.asks.advisor import more
from larder.asks.advisor.advise import _unpriced
from larder.asks.advisor.mixed_sets import _is_sound
from larder.asks.advisor.schools import SCHOOLS
from larder.asks.begin import begun
from larder.asks.box_failures import _standby_hours
from larder.asks.cheapest_change import SeatChange, _order
from larder.asks.diagnosis.house import house_at
from larder.asks.diagnosis.readings import House
from larder.asks.explain import explain
from larder.asks.growth import ways_to_grow
from larder.asks.rehearsal.account import _stood, minutes_text
from larder.asks.rehearsal.hours import _even
from larder.asks.side_by_side import _against
from larder.asks.standards import Standards
from larder.base.errors import Refused
from larder.laws.layout import parse_layout
from larder.readers.brief_line import brief_of, understand
from larder.readers.generic_lists import generic_catalogue
from larder.stages.registry import PARTS
from larder.stages.situation import SITUATION
from larder.stages.stage import judge
from larder.tests.plans import demo

DAY = date(2026, 12, 2)


class Begun(unittest.TestCase):
    def test_only_a_studio_with_prices_asks_for_its_currency(self) -> None:
        brief = brief_of(understand("2 edit seats play 100 Mb/s, 9000 EUR", DAY))
        bare = Standards.model_validate({"currency": "CHF"})
        self.assertEqual(begun("A", brief, DAY, bare).currency, "EUR")
        priced = demo("tern-and-tide").catalogue
        with_prices = bare.model_copy(update={"catalogue": priced})
        self.assertTrue(priced.prices)
        self.assertRaisesRegex(Refused, "CHF", begun, "A", brief, DAY, with_prices)
        alike = with_prices.model_copy(update={"currency": "EUR"})
        self.assertEqual(begun("A", brief, DAY, alike).currency, "EUR")
        self.assertFalse(generic_catalogue().prices)


class Advised(unittest.TestCase):
    def test_what_is_bought_besides_without_a_price_is_named(self) -> None:
        def bought(name: str, **fields: Any) -> Any:
            return Of(**({"name": name, "count": 1, "unit_price": None, "is_reused": False} | fields))

        def told(*purchases: Any) -> list[str]:
            return _unpriced(Of(plan=Of(purchases=purchases)))  # type: ignore[arg-type]

        self.assertEqual(
            told(bought("Desk"), bought("Lamp")), ["Bought as well, without a price: Desk, Lamp"]
        )
        for other in ({"count": 0}, {"unit_price": Decimal(0)}, {"is_reused": True}):
            self.assertEqual(told(bought("Desk", **other)), [])


class Standby(unittest.TestCase):
    """How soon people work on a copy when a box is dead."""

    def hours(self, *materials: Any) -> float | None:
        plan: Any = Of(pools=[Of(id="main", name="Main"), Of(id="other", name="Other")])
        with patch(
            "larder.asks.box_failures.boxes_of", lambda _plan, pool: {"b"} if pool.id == "main" else ()
        ):
            return _standby_hours(plan, Of(id="b"), Of(materials=materials))  # type: ignore[arg-type]

    def held(self, *keys: str, hours: float = 1, works: bool = True) -> Any:
        copy = Of(switch_hours=hours, people_can_work_on_it=works)
        return Of(bodies=[Of(key=key) for key in keys], copy=copy)

    def material(self, *copies: Any, at: str = "pool:main", works: float = 8) -> Any:
        return Of(whole=[Of(bodies=[Of(key=at)], copy=None), *copies], kept=Of(work_hours_per_day=works))

    def test_the_soonest_copy_of_each_and_the_latest_of_all(self) -> None:
        two = self.material(self.held("pool:other", hours=5), self.held("store:s", hours=2))
        self.assertEqual(self.hours(two), 2)
        self.assertEqual(self.hours(two, self.material(self.held("store:s", hours=3))), 3)

    def test_a_copy_in_the_same_box_or_that_nobody_can_work_on_is_none(self) -> None:
        for useless in (
            self.held("pool:main"),
            self.held("store:s", "pool:main"),
            self.held("store:s", works=False),
        ):
            self.assertIsNone(self.hours(self.material(useless)))

    def test_what_nobody_works_on_holds_nobody_up_and_what_lies_elsewhere_does_not_count(self) -> None:
        idle = self.material(works=0)
        elsewhere = self.material(at="pool:other")
        good = self.material(self.held("store:s", hours=4))
        self.assertEqual(self.hours(idle, elsewhere, good), 4)
        self.assertIsNone(self.hours(idle, elsewhere))
        self.assertIsNone(self.hours(good, self.material()))


class More(unittest.TestCase):
    def test_what_a_little_more_costs_is_the_difference_to_the_cheapest(self) -> None:
        costs = {"wish": (Decimal(900), Decimal(700)), "base": (Decimal(650), Decimal(600))}

        def judged(search: Any, _spot: Any) -> Any:
            five_years, capex = costs[search.name]
            return Of(five_years=five_years, capex=capex)

        wish: Any = Of(words="10 TB more", is_of_needs=True, bundle=None)
        there: Any = Of(name="wish", cheapest=lambda _mark: "spot")
        search: Any = Of(name="base", bundle=Of(currency="EUR"), held_against=lambda _bundle: there)
        with patch.object(more, "_judged", judged):
            answer = more._more(search, None, None, wish)  # type: ignore[arg-type]
            self.assertEqual((answer.five_years, answer.capex), (Decimal(250), Decimal(100)))
            there.cheapest = lambda _mark: None
            nothing = more._more(search, None, None, wish)  # type: ignore[arg-type]
        self.assertEqual((nothing.five_years, nothing.capex), (None, None))
        self.assertIn("nothing in this catalogue does that", nothing.sentence)


class MixedSets(unittest.TestCase):
    def test_disks_take_any_mixed_layout_and_flash_only_layers(self) -> None:
        def sound(layout: str, kind: str, drives: int = 4) -> bool:
            option: Any = Of(sizes=(1,) * drives, model=Of(kind=kind))
            return _is_sound(parse_layout(layout), option)

        for layout in ("layered1", "layered2", "filewise1", "filewise2", "span"):
            self.assertTrue(sound(layout, "hdd"), layout)
            self.assertEqual(sound(layout, "ssd"), layout.startswith("layered"), layout)
        for layout in ("raid5", "mirror", "stripe"):
            self.assertFalse(sound(layout, "hdd"), layout)
        self.assertFalse(sound("filewise2", "hdd", drives=2))


class Growing(unittest.TestCase):
    def test_a_unit_that_expands_and_a_second_box_are_of_their_own_kinds(self) -> None:
        bundle = demo("tern-and-tide")
        forms = {box.name: box.form == "expansion unit" for box in bundle.catalogue.boxes}
        named = {way.way: way.name for way in ways_to_grow(bundle, "main").ways}
        for way, is_unit in (("expansion unit", True), ("second box", False)):
            fitting = [name for name, unit in forms.items() if name in named[way] and unit is is_unit]
            self.assertTrue(fitting, named[way])


class Changes(unittest.TestCase):
    def test_what_fixes_it_comes_first_then_what_has_a_price_then_the_cheapest_then_the_best(self) -> None:
        def change(words: str, *, fixes: bool, price: int | None, ratio: float = 1) -> SeatChange:
            cost = None if price is None else Decimal(price)
            return SeatChange(words=words, patch=(), ratio=ratio, plan_ratio=1, fixes=fixes, price=cost)

        order = [
            change("free", fixes=True, price=0),
            change("cheap", fixes=True, price=10),
            change("cheap and weaker", fixes=True, price=10, ratio=0.5),
            change("dear", fixes=True, price=99),
            change("unpriced", fixes=True, price=None),
            change("helps only", fixes=False, price=0),
        ]
        self.assertEqual(sorted([*order[3:], *order[:3]], key=_order), order)


class Explained(unittest.TestCase):
    def test_without_movers_no_number_was_tried_and_none_left(self) -> None:
        explanation = explain(demo("one-box"), "tiers.main.read", with_movers=False)
        self.assertEqual((explanation.numbers, explanation.untried, explanation.movers), (0, 0, ()))


class SlowToday(unittest.TestCase):
    def test_a_service_is_no_seat_that_could_be_slow(self) -> None:
        judged = judge(demo("one-box"), PARTS)
        service = next(one.id for one in judged.of(SITUATION).work.asking if one.is_service)
        with self.assertRaises(Refused) as refused:
            house_at(judged, service)
        self.assertNotIn(service, refused.exception.accepted)


class InWords(unittest.TestCase):
    def test_how_a_figure_differs_from_the_baseline(self) -> None:
        def against(written: str, first: float | None, value: float | None) -> str:
            measure: Any = Of(written=written)
            return _against(measure, first, value)

        self.assertEqual(against("money", 200, 100), "−50 %")
        self.assertEqual(against("money", 100, 150), "+50 %")
        self.assertEqual([against("days", 3, 5), against("count", 3, 1)], ["+2", "−2"])
        for nothing in ((None, 1), (1, None), (0, 5), (5, 5)):
            self.assertEqual(against("money", *nothing), "")
        self.assertEqual(against("words", 1, 2), "")

    def test_minutes_are_whole_and_one_at_least(self) -> None:
        answer = [minutes_text(seconds) for seconds in (0, 29, 89, 91, 3600)]
        self.assertEqual(answer, ["a minute", "a minute", "a minute", "2 minutes", "60 minutes"])

    def test_the_longest_spell_of_a_seat_is_the_one_that_is_told(self) -> None:
        short, long = Of(from_s=36_000, to_s=36_060), Of(from_s=39_600, to_s=41_400)
        seat: Any = Of(
            name="Edit", number=2, spells=[short, long], blamed_name="The uplink", unwatchable_s=1860
        )
        words = _stood(seat, many=True)
        self.assertEqual(
            words,
            "Edit 2 is unwatchable for 31 minutes, most of it from 11:00 to 11:30: The uplink holds it back.",
        )
        seat.spells, seat.blamed_name = [long], ""
        alone = _stood(seat, many=False)
        self.assertIn("Edit is unwatchable for 31 minutes, from 11:00 to 11:30: it is held back.", alone)


class Readings(unittest.TestCase):
    """What would be measured at a house of which each limit is written out."""

    def readings(self, **limits: float) -> dict[str, float]:
        wide = {field.name: 1e12 for field in fields(House)} | {"protocol": 1.0, "fps": 25.0, "need": 100.0}
        return dict(House(**(wide | limits)).readings())

    def test_each_is_the_narrowest_of_what_it_passes(self) -> None:
        answer = self.readings(own_wire=10.0, shared_wire=8.0, protocol=0.5)
        self.assertEqual((answer["wire"], answer["copy_from"], answer["copy_to"]), (8.0, 4.0, 4.0))
        self.assertEqual(self.readings(connection=3.0)["four_at_once"], 12.0)
        self.assertEqual(self.readings(connection=3.0, read_all=5.0)["four_at_once"], 5.0)
        self.assertEqual(self.readings(read_one=7.0)["copy_from"], 7.0)
        self.assertEqual(self.readings(read_one=7.0)["at_another_seat"], 7.0)
        self.assertEqual(self.readings(others_wire=6.0, protocol=0.5)["at_another_seat"], 3.0)

    def test_what_is_taken_at_first_is_never_less_than_what_is_taken_later(self) -> None:
        self.assertEqual(self.readings(write=5.0, first_write=9.0)["copy_to_at_first"], 9.0)
        self.assertEqual(self.readings(write=5.0, first_write=2.0)["copy_to_at_first"], 5.0)
        self.assertEqual(self.readings(write=5.0, first_write=2.0)["copy_to"], 5.0)

    def test_frames_are_held_back_by_storage_or_by_decoding(self) -> None:
        self.assertEqual(self.readings(read_one=50.0)["frames"], 12.5)
        decoding = self.readings(decoded_fps=20.0)
        self.assertEqual((decoding["frames"], decoding["frames_from_local"]), (20.0, 20.0))
        self.assertEqual(self.readings(need=0.0)["frames"], 0.0)


class Spells(unittest.TestCase):
    def test_an_even_spell_begins_as_late_as_its_share_and_is_as_long_as_its_odds(self) -> None:
        def even(odds: float, share: float) -> list[tuple[int, float, float]]:
            return [(each.n, each.starts_s, each.stops_s) for each in _even(3, odds, 1000.0, 2000.0, share)]

        self.assertEqual(even(0.25, 0.0), [(3, 1000.0, 1250.0)])
        self.assertEqual(even(0.25, 1.0), [(3, 1750.0, 2000.0)])
        self.assertEqual(even(0.5, 0.5), [(3, 1250.0, 1750.0)])
        self.assertEqual(even(1.0, 0.7), [(3, 1000.0, 2000.0)])
        self.assertEqual(even(0.001, 0.5), [])


class Schools(unittest.TestCase):
    def test_they_are_numbered_in_their_order(self) -> None:
        self.assertEqual([school.number for school in SCHOOLS], list(range(1, 11)))
