"""Each scale by itself, at both ends of its rules and right at their edges, from results written out by hand."""

import unittest
from datetime import date
from decimal import Decimal
from types import SimpleNamespace as Of
from typing import Any

from larder.judge import scales as judge
from larder.judge.scales import deaths_left, tier_spaces, verdict_of
from larder.plan.house_rules import HouseRules

RULES = HouseRules()
ENOUGH = RULES.enough_ratio


def brief(need: float = 100, weeks: float = 10, **more: Any) -> Any:
    both = Of(sized_bytes_per_s=more.pop("asked", 0.0))
    parts = {"copied_work_bytes": 0, "copied_archive_bytes": 0, "working_set_bytes": 0, "cold_bytes": 0}
    return Of(need_bytes=need, weeks=weeks, both=both, **(parts | more))


def tiers(work: int = 0, archive: int = 0) -> Any:
    by = {"work": work, "archive": archive}
    return Of(
        pools=(1,), plannable_bytes=work + archive, has_both_tiers=bool(work and archive), tier_bytes=by.get
    )


def pool(survived: int = 1, name: str = "Main", *, only_files: bool = False) -> Any:
    return Of(guaranteed_failures=survived, name=name, loses_only_files=only_files)


def copies(*materials: Any, has_said: bool = True) -> Any:
    weakest = next((m for m in materials if m.worst), None)
    return Of(has_said=has_said, materials=materials, weakest=weakest)


def material(count: int = 3, worst: Any = None, worth: str = "work", name: str = "Projects") -> Any:
    return Of(copies=count, worst=worst, worth=worth, name=name, lacking=(worst,) if worst else ())


class Verdicts(unittest.TestCase):
    def test_the_edges_belong_to_the_better_side(self) -> None:
        for ratio, verdict in (
            (None, "open"), (0.0, "short"), (1 - 1e-9, "short"), (1.0, "tight"), (ENOUGH - 1e-9, "tight"),
            (ENOUGH, "enough"), (9.0, "enough"),
        ):  # fmt: skip
            self.assertEqual(verdict_of(ratio, RULES), verdict, ratio)


class Speed(unittest.TestCase):
    def wiring(self, ratio: float | None = 1.2, **more: Any) -> Any:
        hops = (Of(id="a", name="Uplink", because="10GbE"), Of(id="b", name="Pool", because="six disks"))
        parts = {
            "ratio": ratio, "hops": hops, "limiting_hop_id": "b", "unreached": (), "in_trouble": (),
            "delivered_bytes_per_s": 120.0, "required_bytes_per_s": 100.0,
        }  # fmt: skip
        return Of(**(parts | more))

    def files(self, ratio: float, limit: str = "waiting", name: str = "Stills") -> Any:
        return Of(
            ratio=ratio, limit=limit, seat_name=name, pool_name="Pool", given_files_per_s=3.0,
            asked_files_per_s=2.0, joint_given_files_per_s=30.0, joint_asked_files_per_s=20.0,
        )  # fmt: skip

    def speed(self, wiring: Any, *files: Any) -> judge.Scale:
        return judge._speed(wiring, files, RULES)

    def test_of_hops_and_files_the_smaller_ratio_decides_and_equals_are_the_hops(self) -> None:
        hops = self.speed(self.wiring(1.2), self.files(1.2))
        self.assertEqual((hops.measure, hops.ratio, hops.have, hops.need), ("bytes_per_s", 1.2, 120.0, 100.0))
        self.assertEqual(hops.because, "Pool limits: six disks")
        files = self.speed(self.wiring(1.2), self.files(1.5), self.files(1.1, name="Grade"))
        self.assertEqual((files.measure, files.ratio, files.verdict), ("files_per_s", 1.1, "tight"))
        self.assertEqual((files.have, files.need), (3.0, 2.0))
        self.assertEqual(files.because, "Grade on Pool: round trips and seeks")
        joint = self.speed(self.wiring(1.2), self.files(0.9, limit="operations"))
        self.assertEqual((joint.have, joint.need, joint.verdict), (30.0, 20.0, "short"))
        alone = self.speed(self.wiring(None), self.files(4.0))
        self.assertEqual((alone.measure, alone.verdict), ("files_per_s", "enough"))

    def test_nobody_asks_is_open(self) -> None:
        scale = self.speed(self.wiring(None, limiting_hop_id=None))
        self.assertEqual((scale.verdict, scale.because), ("open", judge.NOBODY_ASKS))
        before = judge._speed_without_storage(brief(asked=5.0))
        self.assertEqual((before.verdict, before.need, before.because), ("open", 5.0, judge.NO_STORAGE))
        self.assertEqual(judge._speed_without_storage(brief()).because, judge.NOBODY_ASKS)

    def test_who_is_plugged_in_without_a_way_gets_nothing_and_who_is_not_is_unfinished(self) -> None:
        loose = Of(is_plugged=False, name="Grade", pool_name="Pool")
        lost = Of(is_plugged=True, name="Edit", pool_name="Pool")
        both = self.speed(self.wiring(9.0, unreached=(loose, lost)))
        self.assertEqual((both.verdict, both.because), ("short", "Edit has no way to Pool"))
        open_ = self.speed(self.wiring(9.0, unreached=(loose,)))
        self.assertEqual((open_.verdict, open_.because), ("open", "Grade is plugged in nowhere yet"))
        short = self.speed(self.wiring(0.5, unreached=(loose,)))
        self.assertEqual((short.verdict, short.because), ("short", "Pool limits: six disks"))

    def test_the_worst_trouble_is_said_where_it_is_another_verdict(self) -> None:
        def beside(ratio: float, *in_trouble: float) -> str:
            troubles = tuple(
                Of(ratio=each, trouble=f"a rebuild ({n})", pool_name="Pool")
                for n, each in enumerate(in_trouble)
            )
            return self.speed(self.wiring(ratio, in_trouble=troubles)).beside

        self.assertEqual(beside(1.5, 1.2), "")
        self.assertEqual(beside(1.5, 1.1, 1.05), "tight in a rebuild (1) of Pool: ×1.05")
        self.assertEqual(beside(1.5, 0.994), "short in a rebuild (0) of Pool: ×0.99")
        # What is no worse in trouble than without is judged with what it is without.
        self.assertEqual(beside(1.1, 9.0), "")
        self.assertEqual(beside(0.9, 0.5), "")


class Space(unittest.TestCase):
    def space(self, of: Any, has: Any) -> judge.Scale:
        return judge._space(of, has, RULES)

    def test_all_of_it_against_the_need(self) -> None:
        scale = self.space(brief(100, 10.4), tiers(work=110))
        self.assertEqual((scale.verdict, scale.have, scale.need), ("tight", 110.0, 100.0))
        self.assertEqual(scale.because, "plannable, against the need in 10 weeks")
        for weeks, words in ((0.4, "today"), (0.6, "in 1 week"), (1.6, "in 2 weeks")):
            self.assertTrue(self.space(brief(100, weeks), tiers(work=110)).because.endswith(words), weeks)

    def test_what_is_asked_of_nothing_or_until_a_day_that_is_past_is_open(self) -> None:
        self.assertEqual(self.space(brief(0), tiers(work=1)).because, "nothing is to be kept yet")
        self.assertEqual(self.space(brief(0), tiers(work=1)).verdict, "open")
        past = self.space(brief(100, 0), tiers(work=110))
        self.assertEqual((past.verdict, past.because), ("open", "the day that it must last until is past"))
        self.assertEqual(self.space(brief(100, 0), tiers(work=90)).verdict, "short")
        none = self.space(brief(70), Of(pools=()))
        self.assertEqual((none.verdict, none.need, none.because), ("open", 70.0, judge.NO_STORAGE))

    def test_room_in_one_tier_is_no_room_in_the_other(self) -> None:
        of = brief(100, working_set_bytes=40, cold_bytes=50, copied_archive_bytes=10)
        work = self.space(of, tiers(work=30, archive=170))
        self.assertEqual((work.verdict, work.have, work.need), ("short", 30.0, 40.0))
        self.assertEqual(work.because, "plannable for work, against what is hot at once")
        archive = self.space(of, tiers(work=170, archive=66))
        self.assertEqual((archive.verdict, archive.need), ("tight", 60.0))
        self.assertEqual(
            archive.because,
            "plannable in the archive, against what is kept and not hot, with the copies there",
        )
        # Neither is short of its own and the whole is the least: it is the whole that is said.
        whole = self.space(brief(200, working_set_bytes=10, cold_bytes=10), tiers(work=100, archive=100))
        self.assertEqual((whole.need, whole.ratio), (200.0, 1.0))

    def test_a_tier_with_nothing_to_hold_is_not_asked_and_one_tier_alone_is_the_whole(self) -> None:
        of = brief(100, working_set_bytes=40, copied_work_bytes=2)
        self.assertEqual([space.tier for space in tier_spaces(of, tiers(work=50, archive=50))], ["work"])
        self.assertEqual(tier_spaces(of, tiers(work=50, archive=50))[0].need_bytes, 42)
        self.assertEqual(tier_spaces(of, tiers(work=100)), ())


class Filling(unittest.TestCase):
    SCALE = judge.Scale(verdict="enough", measure="bytes", have=200.0, need=100.0, ratio=2.0, because="x")
    PLAN = Of(brief=Of(horizon_date=date(2028, 3, 31)))

    def filling(self, first: str = "work", **tier: Any) -> judge.Scale:
        parts = {
            "id": "work", "name": "Work", "covers": "tier", "full_on": None, "read": True, "plannable_bytes": 200,
            "need_at_horizon_bytes": None,
        }  # fmt: skip
        growth: Any = Of(tiers=(Of(**(parts | tier)),), first=first)
        return judge._filling(self.SCALE, self.PLAN, growth, RULES)  # type: ignore[arg-type]

    def test_when_it_is_full_stands_beside(self) -> None:
        self.assertEqual(self.filling(full_on=date(2027, 5, 3)).beside, "work full in May 2027")
        self.assertEqual(
            self.filling(full_on=date(2027, 5, 3), name="Boathouse", covers="pool").beside,
            "Boathouse full in May 2027",
        )
        self.assertEqual(self.filling().beside, "")
        nothing: Any = Of(tiers=())
        self.assertIs(judge._filling(self.SCALE, self.PLAN, nothing, RULES), self.SCALE)  # type: ignore[arg-type]

    def test_readings_that_outgrow_the_brief_count_and_kinder_ones_do_not(self) -> None:
        for need, verdict, ratio in (
            (190, "tight", 200 / 190),
            (400, "short", 0.5),
            (150, "enough", 200 / 150),
        ):
            scale = self.filling(need_at_horizon_bytes=need)
            self.assertEqual((scale.verdict, scale.ratio, scale.need), (verdict, ratio, float(need)))
            self.assertEqual(scale.because, "plannable, against what readings say of March 2028")
        for kinder in ({"need_at_horizon_bytes": 100}, {"need_at_horizon_bytes": 0}, {"plannable_bytes": 0}):
            self.assertEqual(self.filling(**kinder), self.SCALE, kinder)
        unread = self.filling(need_at_horizon_bytes=400, read=())
        self.assertEqual(unread, self.SCALE)

    def test_what_is_short_by_the_brief_stays_short_by_kinder_readings(self) -> None:
        short = self.SCALE.model_copy(update={"verdict": "open", "ratio": 2.0})
        tier = Of(
            id="work", name="Work", full_on=None, read=True, plannable_bytes=200, need_at_horizon_bytes=110
        )
        growth: Any = Of(tiers=(tier,), first="work")
        scale = judge._filling(short, self.PLAN, growth, RULES)  # type: ignore[arg-type]
        self.assertEqual(scale.verdict, "open")


class Safety(unittest.TestCase):
    def safety(self, kept: Any, *pools: Any, need: float = 100, lost: float = 1e-9) -> judge.Scale:
        odds = (Of(name="Main", pool_lost=lost), Of(name="Other", pool_lost=lost / 10))
        all_kept: Any = Of(copies=kept, odds=odds)
        return judge._safety(brief(need), pools or (pool(2),), all_kept, RULES)

    def test_the_worst_of_three_decides_and_copies_come_first_among_equals(self) -> None:
        fine = self.safety(copies(material()))
        self.assertEqual((fine.verdict, fine.measure), ("enough", "copies"))
        self.assertEqual(fine.beside, "copies decide; failures enough, odds enough")
        self.assertEqual((fine.have, fine.need, fine.ratio), (3.0, 3.0, 1.0))
        failures = self.safety(copies(material()), pool(2), pool(0))
        self.assertEqual((failures.verdict, failures.measure, failures.have), ("short", "drives", 0.0))
        self.assertEqual(failures.beside, "failures decide; copies enough, odds enough")
        open_ = self.safety(copies(has_said=False))
        self.assertEqual((open_.verdict, open_.have, open_.ratio), ("open", 0.0, 0.0))
        both = self.safety(copies(has_said=False), pool(0))
        self.assertEqual((both.verdict, both.measure), ("short", "drives"))

    def test_odds_are_enough_tight_and_short_at_the_house_edges(self) -> None:
        for one_in, verdict in (
            (RULES.odds_enough_one_in * 1.001, "enough"),
            (RULES.odds_enough_one_in * 0.999, "tight"),
            (RULES.odds_short_one_in * 1.001, "tight"),
            (RULES.odds_short_one_in * 0.999, "short"),
        ):
            pools: Any = (Of(name="Other", pool_lost=1e-12), Of(name="Main", pool_lost=1 / one_in))
            scale = judge._odds(pools, RULES)
            self.assertEqual(scale.verdict, verdict, one_in)
            self.assertAlmostEqual(scale.have, one_in)
            self.assertAlmostEqual(scale.ratio or 0, one_in / RULES.odds_enough_one_in)
            self.assertTrue(scale.because.startswith("Main is lost "))
        never: Any = (Of(name="Main", pool_lost=0.0),)
        self.assertEqual(judge._odds(never, RULES).have, 1 / judge.SMALLEST_ODDS)

    def test_what_is_lacking_is_said_by_its_kind_and_how_many_more(self) -> None:
        for of, measure in (
            ("copies", "copies"),
            ("copies elsewhere", "copies_elsewhere"),
            ("kinds of media", "media_kinds"),
        ):
            worst = Of(of=of, have=1, want=2)
            scale = judge._copies(copies(material(worst=worst)), RULES)
            self.assertEqual((scale.measure, scale.have, scale.need, scale.ratio), (measure, 1.0, 2.0, 0.5))
            self.assertEqual((scale.verdict, scale.because), ("short", "Projects below the rule for copies"))
        worst = Of(of="copies", have=0, want=3)
        three = judge._copies(copies(*[material(worst=worst)] * 3, material()), RULES)
        self.assertEqual(three.because, "Projects and 2 more below the rule for copies")

    def test_what_is_replaceable_is_not_the_fewest(self) -> None:
        kept = judge._copies(copies(material(4), material(1, worth="replaceable")), RULES)
        self.assertEqual(kept.have, 4.0)
        alone = judge._copies(copies(material(1, worth="replaceable")), RULES)
        self.assertEqual(alone.have, float(RULES.copies_min))

    def test_failures_survived_meet_the_rule_exactly(self) -> None:
        for survived, verdict in ((0, "short"), (RULES.failures_survived_min, "enough"), (3, "enough")):
            self.assertEqual(judge._failures((pool(5), pool(survived)), RULES).verdict, verdict)
        free = RULES.model_copy(update={"failures_survived_min": 0})
        scale = judge._failures((pool(0),), free)
        self.assertEqual((scale.verdict, scale.ratio), ("enough", None))
        two = judge._failures((pool(2),), RULES.model_copy(update={"failures_survived_min": 4}))
        self.assertEqual((two.ratio, two.have, two.need), (0.5, 2.0, 4.0))

    def test_nothing_kept_is_open_unless_a_pool_is_short(self) -> None:
        self.assertEqual(self.safety(copies(), need=0).because, "nothing is to be kept yet")
        self.assertEqual(self.safety(copies(), need=0).verdict, "open")
        self.assertEqual(self.safety(copies(), pool(0), need=0).verdict, "short")
        none: Any = Of(copies=copies(), odds=())
        scale = judge._safety(brief(), (), none, RULES)
        self.assertEqual((scale.verdict, scale.because), ("open", judge.NO_STORAGE))

    def test_the_deaths_left_are_counted_in_words(self) -> None:
        for survived, words in ((0, "the first dead drive ends Main"), (1, "a second dead drive can end Main"),
                                (2, "a third dead drive can end Main"), (3, "a fourth dead drive can end Main"),
                                (7, "a fourth dead drive can end Main")):  # fmt: skip
            self.assertEqual(deaths_left(pool(survived)), words)
        self.assertEqual(deaths_left(pool(0, only_files=True)), "the first dead drive costs files of Main")
        self.assertEqual(deaths_left(pool(1, only_files=True)), "a second dead drive can cost files of Main")


class Money(unittest.TestCase):
    def money(
        self, budget: str, spent: str, unpriced: int = 0, lacking: int = 0, pools: int = 1
    ) -> judge.Scale:
        plan: Any = Of(brief=Of(budget=Decimal(budget)), pools=(1,) * pools)
        priced: Any = Of(spent=Decimal(spent), unpriced=unpriced, lacking=lacking, currency="EUR")
        costs: Any = Of(five_years=12345.6)
        return judge._money(plan, priced, RULES, costs)

    def test_enough_tight_and_short_at_their_edges(self) -> None:
        edge = RULES.money_tight_percent
        for spent, verdict in ((edge - 0.01, "enough"), (edge, "tight"), (100, "tight"), (100.01, "short")):
            self.assertEqual(self.money("100", f"{spent:.2f}").verdict, verdict, spent)
        scale = self.money("100", "50")
        self.assertEqual((scale.have, scale.need, scale.ratio), (100.0, 50.0, 2.0))
        self.assertEqual((scale.because, scale.beside), ("of the budget", "12,346 EUR over five years"))

    def test_what_is_not_priced_or_granted_yet_is_open_and_over_is_short_all_the_same(self) -> None:
        for scale, verdict, because in (
            (self.money("0", "50"), "open", "no budget yet"),
            (self.money("0", "0"), "open", "no budget yet"),
            (self.money("0", "50", unpriced=2), "open", "no budget yet; 2 without a price yet"),
            (self.money("100", "50", unpriced=2), "open", "of the budget; 2 without a price yet"),
            (self.money("100", "500", unpriced=2), "short", "of the budget; 2 without a price yet"),
            (self.money("100", "0"), "open", "nothing is priced yet"),
            (self.money("100", "50", pools=0), "open", "of the budget; no storage yet"),
            (self.money("100", "50", lacking=1), "enough", "of the budget; 1 part lacking"),
            (self.money("100", "50", lacking=3), "enough", "of the budget; 3 parts lacking"),
        ):
            self.assertEqual((scale.verdict, scale.because), (verdict, because))
        self.assertEqual((self.money("100", "0").ratio, self.money("100", "0").beside), (None, ""))
