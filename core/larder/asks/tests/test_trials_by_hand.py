"""What one would try for a seat, listed by hand for a house that is drawn on paper."""

import unittest
import unittest.mock
from types import SimpleNamespace as Of
from typing import Any

from larder.asks.cheapest_change import _lighter, _mounted, _one_more, _price, _speeds_above, trials
from larder.judge.evaluation import FIGURES
from larder.plan.bundle import Bundle
from larder.plan.ports import SPEEDS
from larder.plan.wiring import End
from larder.stages.brief import BRIEF
from larder.stages.stage import judge
from larder.tests.plans import changed, demo

CUTTING, BOATHOUSE = "Cutting room switch", "Boathouse switch"
SIGNAL_LINK, UPLINK = f"{CUTTING} to Signal room box", f"{CUTTING} to {BOATHOUSE}"
BOX_LINK = f"{BOATHOUSE} to Boathouse box"


def tried(bundle: Bundle, seat_id: str) -> dict[str, tuple[tuple[str, str, int], ...]]:
    return {trial.words: trial.parts for trial in trials(judge(bundle, FIGURES), seat_id)}


def one_more(link: str) -> dict[str, Any]:
    return {f"{link}: 2 links together": (("cable", "10GbE", 1),)}


class Tried(unittest.TestCase):
    def test_a_seat_at_the_fastest_port_of_its_switch(self) -> None:
        """Five seats on 10GbE: no faster port is listed, no box has five free, both switches have room."""
        self.assertEqual(
            tried(demo("tern-and-tide"), "edit"),
            one_more(SIGNAL_LINK)
            | one_more(UPLINK)
            | one_more(BOX_LINK)
            | {f"Edit into {BOATHOUSE}": (), "Edit on H.264 proxy, 8 Mb/s": ()},
        )

    def test_one_seat_fits_into_the_boxes_and_asks_nothing_of_the_other_pool(self) -> None:
        self.assertEqual(
            tried(demo("tern-and-tide"), "colour"),
            one_more(SIGNAL_LINK)
            | {
                f"Colour into {BOATHOUSE}": (),
                "Colour straight into Boathouse box at 1GbE": (("adapter", "1GbE", 1), ("cable", "1GbE", 1)),
                "Colour straight into Signal room box at 10GbE": (
                    ("adapter", "10GbE", 1),
                    ("cable", "10GbE", 1),
                ),
                "Colour on H.264 proxy, 8 Mb/s": (),
            },
        )

    def test_slow_ports_may_be_faster_with_the_cable_that_this_wants(self) -> None:
        """Two seats on 1GbE, in a switch with 10GbE as well: category 5e carries 2.5GbE, not more."""
        near = f"Stills retouch to {BOATHOUSE}"
        self.assertEqual(
            tried(demo("tern-and-tide"), "stills"),
            {
                f"{near} at 2.5GbE": (("adapter", "2.5GbE", 2),),
                f"{near} at 5GbE": (("adapter", "5GbE", 2), ("cable", "5GbE", 2)),
                f"{near} at 10GbE": (("adapter", "10GbE", 2), ("cable", "10GbE", 2)),
                f"Stills retouch into {CUTTING}": (),
                f"Stills retouch into {CUTTING} at 10GbE": (("adapter", "10GbE", 2),),
                "Stills retouch straight into Boathouse box at 1GbE": (
                    ("adapter", "1GbE", 2),
                    ("cable", "1GbE", 2),
                ),
            }
            | one_more(SIGNAL_LINK)
            | one_more(UPLINK),
        )

    def test_a_link_that_came_up_slower_wants_a_new_cable(self) -> None:
        worn = changed(demo("tern-and-tide"), plan__wiring__links__uplink__came_up_at="1GbE")
        words = f"A new cable: {UPLINK} at 10GbE"
        self.assertEqual(tried(worn, "edit")[words], (("cable", "10GbE", 1),))
        self.assertNotIn(words, tried(demo("tern-and-tide"), "edit"))
        self.assertNotIn(words, tried(worn, "colour"))  # not on its way

    def test_sixteen_links_are_the_most(self) -> None:
        network: Any = Of(plan=demo("tern-and-tide").plan)
        uplink = next(link for link in network.plan.wiring.links if link.id == "uplink")
        for links, words in ((15, [f"{UPLINK}: 16 links together"]), (16, [])):
            of = uplink.model_copy(update={"links": links})
            self.assertEqual([trial.words for trial in _one_more(network, of)], words)


class Ports(unittest.TestCase):
    def above(self, now: str, near: str = "", far: str = "", kind: str = "switch") -> list[str]:
        ends = (End(kind, "near"), End("switch", "far"))  # type: ignore[arg-type]
        ports = {
            end: [Of(speed=speed) for speed in listed.split()]
            for end, listed in zip(ends, (near, far), strict=True)
        }
        return _speeds_above(Of(ledger=Of(ports=ports)), Of(ends=ends, speed=now))  # type: ignore[arg-type]

    def test_where_nobody_lists_ports_the_next_two_kinds(self) -> None:
        self.assertEqual(self.above("1GbE"), ["2.5GbE", "5GbE"])
        self.assertEqual(self.above(SPEEDS[-1]), [])

    def test_no_faster_than_either_end_and_between_switches_only_what_is_listed(self) -> None:
        self.assertEqual(self.above("1GbE", "1GbE 10GbE", "10GbE 25GbE"), ["10GbE"])
        self.assertEqual(self.above("1GbE", "1GbE", "10GbE"), [])
        self.assertEqual(self.above("1GbE", far="5GbE"), ["5GbE"])

    def test_the_machine_of_a_seat_takes_any_that_the_switch_can_be(self) -> None:
        self.assertEqual(self.above("1GbE", far="10GbE", kind="seat"), ["2.5GbE", "5GbE", "10GbE"])


class Parts(unittest.TestCase):
    def test_every_part_by_its_count_and_unknown_where_one_is_not_priced(self) -> None:
        bundle = demo("tern-and-tide")

        def costs(*parts: tuple[str, str, int]) -> str:
            return str(_price(bundle, Of(parts=parts)))  # type: ignore[arg-type]

        self.assertEqual(costs(("adapter", "10GbE", 2), ("cable", "10GbE", 3)), "279.50")
        self.assertEqual(costs(), "0.00")
        self.assertEqual(costs(("adapter", "10GbE", 1), ("adapter", "1GbE", 1)), "None")

    def test_another_address_takes_the_place_of_that_into_the_same_box(self) -> None:
        plan: Any = Of(wiring=None)
        link = {at: Of(id=at, ends=(End("switch", "s"), End("box", "b"))) for at in ("one", "two")}
        ways = [Of(wires=(Of(link=Of(id="x")), Of(link=link[at]))) for at in ("one", "two")]

        def mounted(by: str, count: int = 2) -> list[str]:
            network: Any = Of(plan=plan, pool_ends={"p": End("box", "b"), "q": End("box", "b")})
            network.ways = lambda *_: ways[:count]
            return [trial.patch[0].value for trial in _mounted(network, "edit", by)]  # type: ignore[misc]

        with unittest.mock.patch("larder.asks.cheapest_change.name_of", lambda *_: "name"):
            self.assertEqual(mounted(""), ["one", "two"])
            self.assertEqual(mounted("one"), ["two"])
            self.assertEqual(mounted("elsewhere one"), ["elsewhere two"])
            self.assertEqual(mounted("", count=1), [])

    def test_lighter_footage_is_at_most_half(self) -> None:
        footage = [Of(id=at, name=at, kind="video") for at in ("now", "light")]
        sound, photographs = Of(id="sound", name="s", kind="audio"), Of(id="photo", name="p", kind="stills")
        seat: Any = Of(id="edit", name="Edit", format_id="now")
        for light, words in ((50.0, ["Edit on light"]), (50.1, [])):
            rates = {"now": 100.0, "light": light, "sound": 1.0, "photo": 1.0}
            brief = Of(formats=[Of(id=at, mean_bytes_per_s=rate) for at, rate in rates.items()])
            judged: Any = Of(
                of={BRIEF: brief}.__getitem__,
                bundle=Of(catalogue=Of(formats=[*footage, sound, photographs])),
            )
            self.assertEqual([trial.words for trial in _lighter(judged, seat)], words)
