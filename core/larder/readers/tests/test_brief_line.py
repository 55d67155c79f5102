"""A brief in one line: by hand, word by word, and what nobody said."""

import unittest
from datetime import date
from typing import Any

from hypothesis import given
from hypothesis import strategies as st

from larder.base.errors import Refused, RefusedMany
from larder.plan.formats import PUBLISHED_CLASSES, rates_of
from larder.readers.brief_line import BriefLine, brief_of, footage_of, understand
from larder.readers.brief_line.tokens import LONGEST_LINE, tokens_of

TODAY = date(2026, 11, 26)
LINE = (
    "4 edit seats play 2 streams 220 Mb/s, 1 colour 4K 10-bit 444, 2 photo 60MB raw, 20 h a week, 8 TB today, "
    "3 years, 9000 EUR, quiet, closet"
)
CLAUSES = (
    *LINE.split(", "),
    "three editors at peak half",
    "2 far seats proxies 10 Mb/s line 100 Mb/s",
    "1 ingest with 3 readers 400 MB/s",
    "2 render nodes inside 50 MB/s",
    "1 sound 64 channels",
    "200 GB stills a week",
    "2 TB of RDD 36 class 147 a week 10% kept",
    "hot for 6 weeks",
    "proxies 5%",
    "100 Mb/s up 500 Mb/s down",
    "until 2029",
    "budget 12k",
    "30 dB",
    "10A",
)
WORDS = (
    "gold",
    "mb",
    "4",
    "seats",
    "edit",
    "TB",
    "a week",
    "220 Mb/s",
    "60MB",
    "€",
    "-3",
    "1e9",
    "h",
    "444",
    "×",
)


def read(line: str) -> BriefLine:
    return understand(line, TODAY)


def named(line: str) -> list[str]:
    return [each.words for each in read(line).unknown]


class Known(unittest.TestCase):
    def test_the_line_that_everybody_says(self) -> None:
        line = read(LINE)
        brief = brief_of(line)
        edit, colour, photo = (seat.model_dump() for seat in brief.seats)
        self.assertEqual((edit["count"], edit["streams"], edit["probability"]), (4, 2, 0.6))
        self.assertEqual((colour["count"], photo["count"]), (1, 2))
        self.assertEqual((photo["image_bytes"], photo["images_per_s"]), (60_000_000, 1.5))
        rates = {each.id: rates_of(each)[0] for each in brief.formats}
        self.assertEqual(rates[edit["format_id"]], 27_500_000)
        # 3840 × 2160 × 30 bit × 25/s at 8:1, and two channels of sound.
        picture = 3840 * 2160 * 30 * 25 / 8 / 8
        self.assertAlmostEqual(rates[colour["format_id"]], picture, delta=0.005 * picture)
        self.assertEqual(
            (brief.kept_today_bytes, brief.horizon_date, str(brief.budget), brief.currency),
            (8 * 10**12, date(2029, 11, 26), "9000.00", "EUR"),
        )
        self.assertEqual((brief.limits.room.noise_dba_max, brief.limits.room.air), (35, "closet"))
        shot = brief.shoots[0]
        self.assertEqual((shot.hours_per_week, shot.format_id), (20, edit["format_id"]))
        self.assertEqual(
            [part.words for part in line.understood],
            [*LINE.removesuffix(", quiet, closet").split(", "), "quiet", "closet"],
        )

    def test_what_other_people_say(self) -> None:
        def only(line: str) -> dict[str, Any]:
            brief = brief_of(read(line))
            return brief.seats[0].model_dump() if brief.seats else brief.model_dump()

        far = only("3 far seats by screen of 4K 10-bit 422 at 25 fps, line 80 Mb/s")
        self.assertEqual((far["kind"], far["way"], far["count"]), ("remote", "remote control", 3))
        self.assertEqual(far["down_bytes_per_s"], 10_000_000)
        ingest = only("two ingest stations with 3 readers 400 MB/s")
        self.assertEqual((ingest["count"], ingest["readers"], ingest["card_bytes_per_s"]), (2, 3, 400e6))
        wild = only("5 editors 3 angles RDD 36 class 147 at 25 fps, a third from the archive")
        self.assertEqual((wild["count"], wild["angles"]), (5, 3))
        self.assertAlmostEqual(wild["archive_share"], 1 / 3)
        self.assertEqual(only("budget 12k")["budget"], 12_000)
        self.assertEqual(only("until 30 June 2029")["horizon_date"], date(2029, 6, 30))
        self.assertEqual(only("until 2029")["horizon_date"], date(2029, 12, 31))
        self.assertEqual(only("hot for 6 weeks")["hot_weeks"], 6)
        render = only("2 render nodes inside the box 50 MB/s")
        self.assertEqual((render["direction"], render["seated"]), ("write", "inside"))
        self.assertEqual(only("200 GB stills a week")["stills_bytes_per_week"], 200 * 10**9)
        # Five working days a week.
        self.assertEqual(only("200 GB stills a day")["stills_bytes_per_week"], 1_000 * 10**9)
        outside = only("100 Mb/s up and 500 Mb/s down")["limits"]["line"]
        self.assertEqual((outside["up_bytes_per_s"], outside["down_bytes_per_s"]), (12.5e6, 62.5e6))

    def test_bytes_of_footage_are_hours_of_it(self) -> None:
        shot = brief_of(read("1 edit plays 80 Mb/s, 1 TB a week 25% kept")).shoots[0]
        self.assertAlmostEqual(shot.hours_per_week, 1e12 / 10e6 / 3600)
        self.assertEqual(shot.kept_ratio, 0.25)

    def test_what_is_shot_is_what_the_house_plays(self) -> None:
        brief = brief_of(read("2 far seats files of 50 Mb/s, 1 edit plays 220 Mb/s, 20 h a week"))
        rates = {each.id: rates_of(each)[0] for each in brief.formats}
        self.assertEqual(rates[brief.shoots[0].format_id], 27.5e6)

    def test_a_format_of_its_own_words(self) -> None:
        made, left = footage_of("4k 10 bit 422 400", ())
        self.assertEqual(made.bytes_per_s if made.kind == "class" else rates_of(made)[0], 50_000_000)
        # A bare number beside a frame is its rate, and that is said.
        self.assertIn("400 Mb/s assumed", left)
        for text in ("4k gold", "4k 8k", "", "tall", "x" * (LONGEST_LINE + 1)):
            self.assertRaises(Refused, footage_of, text, ())

    def test_a_class_at_the_frame_it_is_published_for_has_its_published_rate(self) -> None:
        frames = {"1080p29.97": "1080p29.97", "1080p25": "1080p25", "1080i59.94": "1080p29.97"}
        classes = [each for each in PUBLISHED_CLASSES if each.name.startswith(("RDD 36", "VC-3"))]
        self.assertEqual(len(classes), 10)
        for each in classes:
            named, frame = each.name.split(", ")
            made, _ = footage_of(f"{named} {frames[frame]}", ())
            self.assertAlmostEqual(rates_of(made)[0], each.bytes_per_s)


class Unknown(unittest.TestCase):
    def test_words_that_are_none_are_named_and_the_rest_is_taken(self) -> None:
        self.assertEqual(named(f"{LINE}, gold"), ["gold"])
        self.assertEqual(len(read(f"{LINE}, gold").brief.seats), 3)
        self.assertEqual(named("4 edit seats play 2 streams 220 Mb/s purple"), ["purple"])
        with self.assertRaisesRegex(RefusedMany, "“gold” is no word of a brief"):
            brief_of(read("gold"))

    def test_nothing_is_guessed(self) -> None:
        for line, sentence in (
            ("2 edit seats play 2 streams 220 mbps, gold", "“gold” is no word"),
            ("2 edit seats", "say what they play, such as 220 Mb/s"),
            ("8 TB", "of what"),
            ("20 h a week", "say of what"),
            ("9000 EUR, 8000 EUR", "says the budget a second time"),
            ("until 1999", "no day to come"),
            ("0 edit seats play 220 Mb/s", "nobody is no seat"),
            ("2 edit seats 10GbE", "wires are said under Wiring"),
            ("2 editrs play 220 Mb/s", "Did you mean"),
            ("1 edit 220 Mb/s 100 Mb/s", "“100 Mb/s” says otherwise than what stands before it"),
            ("1 edit 2 streams 3 streams 220 Mb/s", "“3 streams” says otherwise"),
            ("4 edit seats colour 220 Mb/s", "“colour” says otherwise"),
            ("10 h a week of 4K 8K", "“8K” says otherwise"),
            ("x" * 5_000, "characters: at most"),
        ):
            with self.subTest(line=line):
                self.assertIn(sentence, " ".join(each.sentence for each in read(line).unknown))


class Laws(unittest.TestCase):
    @given(st.lists(st.sampled_from([*CLAUSES, *WORDS]), max_size=9), st.sampled_from([", ", " ", " and "]))
    def test_every_word_is_taken_or_named(self, parts: list[str], between: str) -> None:
        line = between.join(parts)
        found = read(line)
        spans = [(each.start, each.end) for each in (*found.understood, *found.unknown)]
        for token in tokens_of(line):
            if token.kind == "word" and token.text in ("gold", "purple"):
                self.assertTrue(any(a <= token.start and token.end <= b for a, b in spans), token)
        for each in (*found.understood, *found.unknown):
            self.assertEqual(line[each.start : each.end] if len(line) <= LONGEST_LINE else "", each.words)

    @given(st.text(max_size=60))
    def test_no_line_breaks_it(self, line: str) -> None:
        found = read(line)
        self.assertTrue(all(each.sentence.endswith((".", "?")) for each in found.unknown))

    @given(st.lists(st.sampled_from(CLAUSES), min_size=1, max_size=6, unique=True))
    def test_what_was_assumed_may_be_said_in_its_own_words_and_changes_nothing(
        self, parts: list[str]
    ) -> None:
        line = ", ".join(parts)
        found = read(line)
        for part in found.understood:
            for left in part.assumed:
                if not part.words:
                    said = f"{line}, {left.words}"
                else:
                    said = f"{line[: part.end]} {left.words}{line[part.end :]}"
                again = read(said)
                self.assertEqual(told(again), told(found), said)
                at = part.end if part.words else len(line)
                grown = len(said) - len(line)
                self.assertEqual(again.unknown, tuple(moved(u, at, grown) for u in found.unknown), said)
                still = [a.said for u in again.understood for a in u.assumed]
                before = [a.said for u in found.understood for a in u.assumed]
                self.assertLess(still.count(left.said), before.count(left.said), said)

    def test_a_value_typed_over_what_was_assumed_is_taken(self) -> None:
        line = "1 colour 4K 10-bit 444"
        found = read(line).understood[0]
        left = next(each for each in found.assumed if "8:1" in each.said)
        words = f"{left.words[: left.value_start]}4{left.words[left.value_end :]}"
        half = brief_of(read(f"{line} {words}")).formats[0]
        whole = read(line).brief.formats[0]
        self.assertAlmostEqual(rates_of(half)[0] / rates_of(whole)[0], 2, delta=0.01)


def told(line: BriefLine) -> list[Any]:
    """The brief with rates where it has formats' ids, which follow what was typed."""
    brief = line.brief.model_dump(exclude={"formats"})
    rates = {each.id: rates_of(each) for each in line.brief.formats}
    for each in (*brief["seats"], *brief["shoots"]):
        each["format_id"] = rates.get(each.get("format_id"))
    return [brief]


def moved(unknown: Any, at: int, by: int) -> Any:
    if unknown.start < at:
        return unknown
    return unknown.model_copy(update={"start": unknown.start + by, "end": unknown.end + by})
