"""Which sentence tells what would have to give, from a search written out by hand."""

import unittest
from types import SimpleNamespace as Of
from typing import Any

from larder.asks.advisor.conflict import GIVING, conflict_of
from larder.asks.advisor.needs import WORDS


def capital(need: str) -> str:
    words = str(WORDS[need])  # type: ignore[index]
    return words[:1].upper() + words[1:]


class Conflict(unittest.TestCase):
    def told(
        self,
        without: dict[str, float],
        misses: dict[str, str],
        cannot: Any = lambda _needs: (),
        nearest: Any = None,
    ) -> str:
        """``without`` each need the nearest design is so far; each spot misses what its need says."""
        spots = {need: Of(far=far, spot=need) for need, far in without.items()}
        search: Any = Of(
            without=lambda _mark: spots,
            nearest=lambda _mark: nearest,
            cannot_hold=lambda _mark, needs: cannot(tuple(needs)),
        )

        def misses_at(spot: Any) -> Any:
            if spot == "everything":
                return tuple(Of(need=need, words=words) for need, words in misses.items())
            return (Of(need=spot, words=misses[spot]),) if spot in misses else ()

        return conflict_of(search, Of(), misses_at)  # type: ignore[arg-type]

    def test_the_two_nearest_that_could_give_are_named_together(self) -> None:
        answer = self.told(
            {"space": 3.0, "speed": 1.0, "budget": 2.0, "noise": 9.0},
            {"space": "1 TB short", "speed": "plays less", "budget": "46 EUR over", "noise": "5 dB over"},
        )
        self.assertEqual(
            answer,
            f"{capital('speed')} and {WORDS['budget']} cannot both hold: what keeps to all else misses the one "
            "(plays less) or the other (46 EUR over).",
        )

    def test_two_are_enough_to_be_named_together(self) -> None:
        answer = self.told({"space": 1.0, "budget": 2.0}, {"space": "1 TB short", "budget": "46 EUR over"})
        self.assertTrue(answer.startswith(f"{capital('space')} and {WORDS['budget']} cannot both hold: "))

    def test_only_the_three_nearest_are_asked_and_those_that_miss_nothing_are_no_reason(self) -> None:
        far = {"space": 1.0, "speed": 2.0, "budget": 3.0, "noise": 4.0}
        answer = self.told(far, {"noise": "5 dB over", "space": "1 TB short"})
        self.assertEqual(answer, f"{capital('space')} stands in the way by itself: 1 TB short.")

    def test_one_that_cannot_hold_beside_another_is_named_with_it(self) -> None:
        def cannot(needs: tuple[str, ...]) -> tuple[str, ...]:
            return needs if needs == ("space", "budget") else needs[:1]

        answer = self.told({"space": 1.0}, {"space": "1 TB short"}, cannot)
        self.assertEqual(
            answer,
            f"{capital('space')} and {WORDS['budget']} cannot both hold, {GIVING}. What keeps to all else: 1 TB short.",
        )

    def test_where_no_single_need_can_give_the_nearest_of_all_is_told(self) -> None:
        everything = Of(spot="everything")
        misses = {"budget": "46 EUR over", "noise": "5 dB over", "speed": "plays less", "power": "9 W over"}
        near = "46 EUR over; and 5 dB over; and plays less"
        for cannot, both in (
            (("space", "budget"), f"{capital('space')} and {WORDS['budget']} cannot both hold, {GIVING}"),
            (("space",), f"{capital('space')} cannot hold, {GIVING}"),
            ((), "No two needs are to blame"),
        ):
            answer = self.told({}, misses, lambda _needs, cannot=cannot: cannot, everything)
            self.assertEqual(answer, f"{both}. The nearest of all misses: {near}.")
        self.assertEqual(self.told({}, {}), "Nothing can be built from this catalogue.")
