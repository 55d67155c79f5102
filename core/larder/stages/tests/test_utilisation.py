"""Speed against a second judge that shares no code with the core, and the laws that any judge must keep."""

import itertools
import unittest
from copy import deepcopy
from typing import Any

import numpy as np
from hypothesis import given
from hypothesis import strategies as st
from scipy.optimize import linprog

from larder.judge.evaluation import Evaluation, evaluate
from larder.judge.scales import NOBODY_ASKS, Scale
from larder.plan.bundle import Bundle
from larder.readers.plan_file import bundle_from
from larder.tests.drawn import drawn
from larder.tests.plans import chained, demo

LINES = {"1GbE": 1e9, "2.5GbE": 2.5e9, "10GbE": 10e9, "25GbE": 25e9}
RATE = 100e6
"""What one stream of the tests' only format asks, bytes/s."""


def footage(seat_id: str, **more: Any) -> dict[str, Any]:
    return {
        "kind": "footage", "id": seat_id, "name": seat_id, "count": 1, "streams": 1, "format_id": "flat",
        "probability": 1.0,
    } | more  # fmt: skip


def ingest(seat_id: str, **more: Any) -> dict[str, Any]:
    return {
        "kind": "ingest", "id": seat_id, "name": seat_id, "count": 1, "readers": 1, "card_bytes_per_s": 150e6,
        "verifies": True, "probability": 1.0,
    } | more  # fmt: skip


def photo(seat_id: str, **more: Any) -> dict[str, Any]:
    return {
        "kind": "photo", "id": seat_id, "name": seat_id, "count": 1, "image_bytes": 50_000_000,
        "images_per_s": 2, "exports_per_s": 0.5, "export_bytes": 10_000_000, "probability": 1.0,
    } | more  # fmt: skip


def plan_of(
    seats: list[dict[str, Any]],
    pools: tuple[dict[str, Any], ...] = ({},),
    hops: tuple[dict[str, Any], ...] = (),
    parts: tuple[dict[str, Any], ...] = (),
    **rules: float,
) -> Bundle:
    """The one-box demo with these seats, pools like its own, hops and parts of the day."""
    document = demo("one-box").document()
    flat = {"id": "flat", "kind": "measured", "name": "Flat", "mean_bytes_per_s": RATE}
    document["catalogue"]["formats"] = [flat]
    brief = {"seats": seats, "services": [], "shoots": [], "productions": [], "day_parts": list(parts)}
    document["plan"]["brief"] |= brief
    own = document["plan"]["pools"][0] | {"bays": ""}
    document["plan"]["pools"] = [own | {"id": f"pool-{n}"} | more for n, more in enumerate(pools)]
    document["plan"] |= {"boxes": [], "caches": [], "volumes": []}
    document["house_rules"] = rules
    return bundle_from(chained(document, [{"id": f"hop-{n}"} | hop for n, hop in enumerate(hops)]))


def asked(seat: dict[str, Any]) -> tuple[float, float, float, float, float]:
    """(read, written, paced read, paced write, of the read from the archive) of one seat at its peak."""
    if seat["kind"] == "ingest":
        moved = seat["readers"] * seat["card_bytes_per_s"] * seat["copies_here"]
        return (moved if seat["verifies"] else 0.0), moved, 0.0, 0.0, 0.0
    if seat["kind"] == "photo":
        culled = seat["image_bytes"] * seat["images_per_s"]
        tethered = seat["image_bytes"] * seat["tethered_per_s"]
        return culled, seat["export_bytes"] * seat["exports_per_s"] + tethered, culled, tethered, 0.0
    main = seat["streams"] * seat["angles"] * RATE
    read, written = (0.0, main) if seat["direction"] == "write" else (main * seat["shuttle_factor"], 0.0)
    paced, archive = (read, written), read * seat["archive_share"]
    for each in seat["activities"]:
        more = each["streams"] * each["speed_factor"] * RATE
        read, written = (read + more, written) if each["direction"] == "read" else (read, written + more)
    return read, written, *paced, archive


def _plays(seat: dict[str, Any], part: dict[str, Any]) -> float:
    """The odds that a seat is at its peak in one part of the day."""
    own = [o["probability"] for o in seat["at_peak"] if o["id"] == part["id"]]
    return own[0] if own else seat["probability"]


def second_judge(bundle: Bundle, answer: Evaluation) -> dict[str, float | None]:  # noqa: C901, PLR0912, PLR0915
    """The ratio of every link and pool, state by state; the pools' own rates are taken as they are.

    It is one walk on purpose: what it says can be read beside the paper without following calls.
    """
    document = bundle.document()
    plan, rules = document["plan"], document["house_rules"]
    pools = {p.id: p for p in answer.tiers.pools}
    tiers = {p.tier for p in pools.values()}
    both = tiers == {"work", "archive"}
    places: dict[str, dict[str, float]] = {}
    for tier in ("work", "archive"):
        there = {i: p.plannable_bytes for i, p in pools.items() if not both or p.tier == tier}
        places[tier] = {i: size / sum(there.values()) for i, size in there.items()}
    parts = plan["brief"]["day_parts"] or [{"id": "day"}]
    single = [seat for seat in plan["brief"]["seats"] for _ in range(seat["count"])]
    lines = {link["id"]: link for link in plan["wiring"]["links"]}
    keys = [(link_id, way) for link_id in lines for way in (0, 1)] + list(pools)
    ends = {i: f"box:{b}" if (b := _box_of(plan, i)) else "storage" for i in pools}
    if not any(link["far"].startswith("box") for link in lines.values()):
        ends = dict.fromkeys(pools, "storage")
    floor, paced_here = dict.fromkeys(keys, 0.0), dict.fromkeys(keys, False)

    # The demo has neither memory nor cache: reading is what the drives do.
    read_at = {i: p.as_hop.read_bytes_per_s for i, p in pools.items()}

    def uses(seat: dict[str, Any], work: str, archive: str, only_paced: bool) -> dict[Any, float]:
        read, written, paced_read, paced_write, old = asked(seat)
        if only_paced:
            read, written = paced_read, paced_write
        found: dict[Any, float] = {}
        lies = [(work, read - old if both else read, written), (archive, old if both else 0.0, 0.0)]
        for pool_id, its_read, its_written in lies:
            for link_id, turned in _route(lines, seat, ends[pool_id]) if pool_id else ():
                line = LINES[lines[link_id]["speed"]] / 8 * 1448 / 1538 * 0.9
                found[link_id, turned] = found.get((link_id, turned), 0.0) + its_read / line
                found[link_id, 1 - turned] = found.get((link_id, 1 - turned), 0.0) + its_written / line
        if both:
            found[work] = (read - old) / read_at[work]
            found[work] += written / pools[work].write.middle_bytes_per_s
            found[archive] = old / read_at[archive]
        else:
            found[work] = read / read_at[work] + written / pools[work].write.middle_bytes_per_s
        return found

    def homes(seat: dict[str, Any]) -> list[tuple[str, str, float]]:
        work = {seat["works_on"]: 1.0} if seat["works_on"] else places["work"]
        old = places["archive"] if both else {"": 1.0}
        return [(w, a, p * q) for (w, p), (a, q) in itertools.product(work.items(), old.items())]

    def pressed(seat: dict[str, Any], key: Any) -> bool:
        return any(uses(seat, w, a, only_paced=True).get(key, 0.0) > 0 for w, a, p in homes(seat) if p > 0)

    for seat in single:
        for work, archive, odds in homes(seat):
            for key, share in uses(seat, work, archive, only_paced=True).items():
                if odds > 0 and share > 0:
                    floor[key], paced_here[key] = max(floor[key], share), True
    # One stream is whole wherever it is played from, however seldom that is from there.
    for seat in single:
        _, _, paced_read, _, old = asked(seat)
        stream = RATE if seat["kind"] == "footage" else paced_read
        for work, archive, odds in homes(seat):
            played = [(work, paced_read - old if both else paced_read), (archive, old if both else 0.0)]
            for pool_id, rate in played:
                if odds > 0 and rate > 0:
                    one = stream / pools[pool_id].as_hop.stream_read_bytes_per_s
                    floor[pool_id] = max(floor[pool_id], one)
    needed = dict(floor)
    chance, lifted, level = (
        rules["common_peak_probability"],
        rules["rush_odds"],
        rules["sized_on_percentile"] / 100,
    )
    for part in parts:
        reached: dict[Any, dict[float, float]] = {key: {} for key in keys}
        for weight, least in ((1 - chance, 0.0), (chance, lifted)):
            states: list[list[tuple[dict[Any, float], float]]] = []
            for seat in single:
                at_peak = _plays(seat, part)
                busy = max(at_peak, least) if at_peak else 0.0
                states.append(
                    [({}, 1 - busy)]
                    + [(uses(seat, w, a, only_paced=False), busy * q) for w, a, q in homes(seat)]
                )
            for combination in itertools.product(*states):
                odds = weight
                for _, p in combination:
                    odds *= p
                for key in keys:
                    total = sum(use.get(key, 0.0) for use, _ in combination)
                    reached[key][total] = reached[key].get(total, 0.0) + odds
        for key in keys:
            if not any(_plays(seat, part) and pressed(seat, key) for seat in single):
                continue
            below = 0.0
            for total in sorted(reached[key]):
                below += reached[key][total]
                if below >= level - 1e-9:
                    needed[key] = max(needed[key], total)
                    break
    result: dict[str, float | None] = {i: 1 / needed[i] if paced_here[i] else None for i in pools}
    for link_id in lines:
        both_ways = [needed[link_id, way] for way in (0, 1) if paced_here[link_id, way]]
        result[link_id] = 1 / max(both_ways) if both_ways else None
    return result


def _box_of(plan: dict[str, Any], pool_id: str) -> str:
    pool = next(p for p in plan["pools"] if p["id"] == pool_id)
    return str(pool["bays"].partition(":")[0])


def _route(lines: dict[str, Any], seat: dict[str, Any], target: str) -> list[tuple[str, int]]:
    """The links from a seat to a box, and whether each is gone from its far end, by trying every one."""
    tried = [(f"seat:{seat['id']}", list[tuple[str, int]]())]
    while tried:
        at, links = tried.pop()
        if at == target:
            return links
        for link_id, link in lines.items() if at.split(":")[0] in ("seat", "switch") else ():
            if at in (link["near"], link["far"]) and link_id not in {known for known, _ in links}:
                turned = int(at == link["far"])
                tried.append((link["near"] if turned else link["far"], [*links, (link_id, turned)]))
    return []


some_odds = st.sampled_from((0.001, 0.03, 0.2, 0.55, 1.0))
one_seat = st.one_of(
    st.builds(
        lambda streams, odds, direction, archive, named: footage(
            "s", streams=streams, probability=odds, direction=direction,
            archive_share=archive if direction == "read" else 0.0, works_on=named,
            activities=[{"id": "r", "name": "r", "format_id": "flat", "streams": 1, "speed_factor": 2}],
        ),
        st.integers(1, 9), some_odds, st.sampled_from(("read", "write")), st.sampled_from((0.0, 0.3)),
        st.sampled_from(("", "", "pool-0")),
    ),
    st.builds(lambda odds: photo("s", probability=odds), some_odds),
    st.builds(lambda odds: ingest("s", probability=odds), some_odds),
)  # fmt: skip


def numbered(seats: list[dict[str, Any]]) -> list[dict[str, Any]]:
    return [seat | {"id": f"s{n}", "name": f"s{n}"} for n, seat in enumerate(seats)]


class SecondJudge(unittest.TestCase):
    @drawn(40)
    @given(
        st.lists(one_seat, min_size=1, max_size=5),
        st.sampled_from((({},), ({}, {}), ({}, {"tier": "archive"}), ({}, {"drive_count": 6}))),
        st.sampled_from(
            ((), ({"id": "day", "name": "Day", "hours": 9}, {"id": "night", "name": "Night", "hours": 8}))
        ),
        st.sampled_from(("2.5GbE", "10GbE")),
        st.sampled_from((95.0, 99.0)),
    )
    def test_every_ratio_is_the_one_found_state_by_state(
        self, seats: list[Any], pools: Any, parts: Any, speed: str, level: float
    ) -> None:
        asking = numbered(seats)
        if parts:
            asking[0]["at_peak"] = [{"id": "night", "probability": 0.0}]
        bundle = plan_of(asking, pools, ({"speed": speed},), parts, sized_on_percentile=level)
        self.agrees(bundle)

    @drawn(40)
    @given(
        st.lists(one_seat, min_size=1, max_size=5),
        st.lists(st.sampled_from(("a", "b")), min_size=5, max_size=5),
        st.lists(st.sampled_from(tuple(LINES)), min_size=8, max_size=8),
        st.booleans(),
    )
    def test_over_two_switches_to_two_boxes_as_well(
        self, seats: list[Any], at: list[str], speeds: list[str], is_archive: bool
    ) -> None:
        asking = numbered(seats)
        document = plan_of(asking, ({}, {"tier": "archive"} if is_archive else {})).document()
        count = document["plan"]["pools"][0]["drive_count"]
        for n in (0, 1):
            document["plan"]["pools"][n]["bays"] = f"box-{n}:1-{count}"
        document["plan"]["boxes"] = [{"id": f"box-{n}", "name": f"Box {n}", "bays": count} for n in (0, 1)]
        fast = iter(speeds)
        links = [(f"seat:{s['id']}", f"switch:{where}") for s, where in zip(asking, at, strict=False)]
        links += [("switch:a", "switch:b"), ("switch:a", "box:box-0"), ("switch:b", "box:box-1")]
        document["plan"]["wiring"] = {
            "switches": [{"id": name, "name": name, "ports": ""} for name in ("a", "b")],
            "links": [
                {"id": f"link-{n}", "near": near, "far": far, "speed": next(fast)}
                for n, (near, far) in enumerate(links)
            ],
        }
        self.agrees(bundle_from(document))

    def agrees(self, bundle: Bundle) -> None:
        """Every ratio that the core tells is the one that the second judge finds."""
        answer = evaluate(bundle)
        result = second_judge(bundle, answer)
        for hop in answer.wiring.hops:
            want = result[hop.id]
            if want is None or hop.ratio is None:
                self.assertEqual(hop.ratio, want, hop.id)
            else:
                self.assertAlmostEqual(hop.ratio / want, 1, delta=1e-6, msg=hop.id)


def feasible_share(bundle: Bundle, demands: dict[str, tuple[float, str]]) -> float:
    """The largest s for which s × the demands flow over the links, by a linear program that knows no routes.

    ``demands`` are (bytes/s read, from which box) by seat; what enters a switch leaves it again.
    """
    links = bundle.document()["plan"]["wiring"]["links"]
    caps = [LINES[link["speed"]] / 8 * 1448 / 1538 * 0.9 / RATE for link in links]
    seats = list(demands)
    width = len(seats) * len(links) * 2 + 1  # each seat's flow over each link both ways, then s
    nodes = sorted({link["near"] for link in links} | {link["far"] for link in links})
    kept, limits = [], []
    for k, seat in enumerate(seats):
        for node in nodes:
            row = np.zeros(width)
            for n, link in enumerate(links):
                for way, (source, sink) in enumerate(
                    ((link["far"], link["near"]), (link["near"], link["far"]))
                ):
                    at = (k * len(links) + n) * 2 + way
                    row[at] += (sink == node) - (source == node)
            rate, box = demands[seat]
            row[-1] = -rate / RATE * ((node == f"seat:{seat}") - (node == box))
            kept.append(row)
    for n, cap in enumerate(caps):
        for way in (0, 1):
            row = np.zeros(width)
            row[[(k * len(links) + n) * 2 + way for k in range(len(seats))]] = 1.0
            limits.append((row, cap))
    goal = np.zeros(width)
    goal[-1] = -1.0
    found = linprog(
        goal, A_ub=np.array([row for row, _ in limits]), b_ub=[cap for _, cap in limits],
        A_eq=np.array(kept), b_eq=np.zeros(len(kept)), bounds=[(0, None)] * width,
    )  # fmt: skip
    assert found.status == 0, found.message
    return float(-found.fun)


class LinksAlone(unittest.TestCase):
    @drawn(30)
    @given(
        st.lists(
            st.tuples(st.integers(1, 6), st.sampled_from("abc"), st.sampled_from((0, 1))),
            min_size=1,
            max_size=5,
        ),
        st.lists(st.sampled_from(tuple(LINES)), min_size=9, max_size=9),
    )
    def test_the_ratio_of_a_state_is_the_largest_share_that_flows(
        self, seats: list[Any], speeds: list[str]
    ) -> None:
        asking = [
            footage(f"s{n}", streams=streams, works_on=f"pool-{home}")
            for n, (streams, _, home) in enumerate(seats)
        ]
        document = plan_of(asking, ({}, {})).document()
        count = document["plan"]["pools"][0]["drive_count"]
        for n in (0, 1):
            document["plan"]["pools"][n]["bays"] = f"box-{n}:1-{count}"
        document["plan"]["boxes"] = [{"id": f"box-{n}", "name": f"Box {n}", "bays": count} for n in (0, 1)]
        fast = iter(speeds)
        joined = [(f"seat:s{n}", f"switch:{at}") for n, (_, at, _) in enumerate(seats)]
        joined += [
            ("switch:a", "switch:b"),
            ("switch:c", "switch:b"),
            ("switch:a", "box:box-0"),
            ("switch:c", "box:box-1"),
        ]
        document["plan"]["wiring"] = {
            "switches": [{"id": name, "name": name, "ports": ""} for name in "abc"],
            "links": [
                {"id": f"l{n}", "near": near, "far": far, "speed": next(fast)}
                for n, (near, far) in enumerate(joined)
            ],
        }
        bundle = bundle_from(document)
        ratios = [h.ratio for h in evaluate(bundle).wiring.hops if h.kind == "link" and h.ratio is not None]
        demands = {f"s{n}": (streams * RATE, f"box:box-{home}") for n, (streams, _, home) in enumerate(seats)}
        self.assertAlmostEqual(min(ratios) / feasible_share(bundle, demands), 1, places=6)


class Known(unittest.TestCase):
    """Plans whose answer a practitioner knows."""

    def speed(self, *seats: dict[str, Any], pools: Any = ({},), hops: Any = (), **rules: float) -> Evaluation:
        return evaluate(plan_of(numbered(list(seats)), pools, hops, **rules))

    def test_who_is_busy_three_percent_of_the_day_must_still_be_carried(self) -> None:
        rare = footage("rare", streams=9, probability=0.03)
        answer = self.speed(rare, hops=({"speed": "1GbE", "serves": "seat"},), common_peak_probability=0.0)
        self.assertEqual(answer.scales.speed.verdict, "short")
        self.assertAlmostEqual(answer.scales.speed.ratio or 0, 1e9 / 8 * 1448 / 1538 * 0.9 / 900e6)
        self.assertEqual(answer.wiring.hops[0].because, "s0 alone, playing")

    def test_one_seat_at_odds_of_one_in_a_million_is_judged_as_if_always(self) -> None:
        for pools in (({},), ({}, {})):
            never, always = (
                self.speed(footage("one", streams=5, probability=p), pools=pools, hops=({"speed": "10GbE"},))
                for p in (1e-6, 1.0)
            )
            self.assertEqual(never.wiring.ratio, always.wiring.ratio)

    def test_one_stream_is_not_spread_over_three_pools(self) -> None:
        heavy = footage("heavy", streams=9, probability=0.5)
        one, three = self.speed(heavy), self.speed(heavy, pools=({}, {}, {}))
        pool = next(h for h in one.wiring.hops if h.kind == "pool")
        for hop in three.wiring.hops:
            self.assertAlmostEqual((hop.ratio or 0) / (pool.ratio or 0), 1)

    def test_light_viewers_do_not_rescue_a_heavy_stream(self) -> None:
        heavy = footage("heavy", streams=30)
        alone = self.speed(heavy, hops=({"speed": "10GbE", "links": 4},))
        viewers = footage("viewers", count=7, probability=0.3)
        beside = self.speed(heavy, viewers, hops=({"speed": "10GbE", "links": 4},))
        self.assertEqual((alone.scales.speed.verdict, beside.scales.speed.verdict), ("short", "short"))
        self.assertLessEqual(beside.wiring.ratio or 0, (alone.wiring.ratio or 0) * (1 + 1e-9))

    def test_copies_alone_have_no_say_in_speed(self) -> None:
        answer = self.speed(ingest("cards", readers=9), hops=({"speed": "1GbE"},))
        self.assertEqual([h.ratio for h in answer.wiring.hops], [None] * len(answer.wiring.hops))
        link = next(hop for hop in answer.wiring.hops if hop.id == "hop-0")
        self.assertIn("copies and services", link.because)
        self.assertGreater(link.required_bytes_per_s, 1e9)
        beside = self.speed(ingest("cards", readers=9), footage("plays"), hops=({"speed": "1GbE"},))
        self.assertEqual(beside.scales.speed.verdict, "short")  # what copies take is not there to play

    def test_a_night_is_not_mixed_with_the_day(self) -> None:
        parts = ({"id": "day", "name": "Day", "hours": 9}, {"id": "night", "name": "Night", "hours": 8})
        plays = footage("s0", streams=5, at_peak=[{"id": "night", "probability": 0}])
        copies = ingest("s1", readers=6, probability=0, at_peak=[{"id": "night", "probability": 1}])
        rules = {"common_peak_probability": 0.0}
        both = evaluate(plan_of([plays, copies], hops=({"speed": "10GbE"},), parts=parts, **rules))
        day = evaluate(plan_of([plays], hops=({"speed": "10GbE"},), parts=parts, **rules))
        of_both, of_day = (next(h for h in a.wiring.hops if h.id == "hop-0") for a in (both, day))
        self.assertEqual(of_both.required_bytes_per_s, of_day.required_bytes_per_s)

    def test_a_named_pool_carries_its_seat_alone(self) -> None:
        seats = [footage("s0", streams=3, works_on="pool-0"), footage("s1", streams=1, works_on="pool-1")]
        answer = self.speed(*seats, pools=({}, {}))
        first, second = (h for h in answer.wiring.hops if h.kind == "pool")
        self.assertAlmostEqual(first.required_bytes_per_s / second.required_bytes_per_s, 3)


class Laws(unittest.TestCase):
    def ratio(
        self, seats: list[dict[str, Any]], hops: Any = ({"speed": "10GbE", "links": 2},), **rules: float
    ) -> float:
        return evaluate(plan_of(numbered(seats), hops=hops, **rules)).wiring.ratio or float("inf")

    @drawn(25)
    @given(st.lists(one_seat, min_size=1, max_size=6), one_seat, st.integers(0, 5), some_odds)
    def test_more_that_is_asked_never_raises_speed(
        self, seats: list[Any], more: dict[str, Any], at: int, odds: float
    ) -> None:
        before = self.ratio(seats)
        at %= len(seats)
        likelier = [
            s | {"probability": max(s["probability"], odds)} if n == at else s for n, s in enumerate(seats)
        ]
        heavier = [
            s | {"streams": s["streams"] + 1} if "streams" in s and n == at else s
            for n, s in enumerate(seats)
        ]
        for after in ([*seats, more], likelier, heavier):
            self.assertLessEqual(self.ratio(after), before * (1 + 1e-9))

    @drawn(20)
    @given(st.lists(one_seat, min_size=1, max_size=6), st.integers(1, 3))
    def test_a_link_more_and_a_faster_one_never_lower_it(self, seats: list[Any], links: int) -> None:
        before = self.ratio(seats, ({"speed": "2.5GbE", "links": links},))
        for hop in ({"speed": "2.5GbE", "links": links + 1}, {"speed": "10GbE", "links": links}):
            self.assertGreaterEqual(self.ratio(seats, (hop,)), before * (1 - 1e-9))

    @drawn(20)
    @given(one_seat, st.integers(1, 5), st.randoms(use_true_random=False))
    def test_a_class_is_as_many_of_one_in_any_order_and_by_any_name(
        self, seat: dict[str, Any], count: int, random: Any
    ) -> None:
        others = [photo("a", probability=0.3), footage("b", probability=0.4)]
        as_class = [seat | {"count": count}, *others]
        as_many = [*others, *[seat] * count]
        random.shuffle(as_many)
        self.assertAlmostEqual(self.ratio(as_class) / self.ratio(as_many), 1)

    def test_a_pool_at_which_nobody_is_at_home_changes_nothing(self) -> None:
        seats = [footage("s0", streams=4, works_on="pool-0"), photo("s1", works_on="pool-0")]
        one = evaluate(plan_of(seats)).wiring.ratio
        two = evaluate(plan_of(seats, ({}, {"drive_count": 4}))).wiring.ratio
        self.assertEqual(one, two)


class NeverAtWork(unittest.TestCase):
    """Who is never at its peak asks nothing, not even alone; who is once in a million hours must be carried."""

    def speed(self, odds: float, *seats: str) -> Scale:
        document = demo("one-box").document()
        for seat in document["plan"]["brief"]["seats"]:
            if not seats or seat["id"] in seats:
                seat["probability"] = odds
        return evaluate(bundle_from(document)).scales.speed

    def test_where_nobody_works_speed_is_open_and_at_a_millionth_it_is_judged(self) -> None:
        never = self.speed(0.0)
        self.assertEqual((never.verdict, never.ratio, never.because), ("open", None, NOBODY_ASKS))
        self.assertIsNotNone(self.speed(1e-6).ratio)

    def test_a_seat_that_never_works_is_as_good_as_none(self) -> None:
        document = demo("one-box").document()
        for seat_id in ("colour", "stills"):
            without = deepcopy(document)
            for seat in without["plan"]["brief"]["seats"]:
                seat["count"] = 0 if seat["id"] == seat_id else seat["count"]
            never, none = self.speed(0.0, seat_id), evaluate(bundle_from(without)).scales.speed
            self.assertEqual((never.ratio, never.need), (none.ratio, none.need), seat_id)

    def test_who_works_in_one_part_of_the_day_alone_does_work(self) -> None:
        document = demo("one-box").document()
        brief = document["plan"]["brief"]
        brief["day_parts"] = [{"id": i, "name": i, "hours": 8} for i in ("day", "night")]
        for seat in brief["seats"]:
            seat["probability"], seat["at_peak"] = 0.0, [{"id": "night", "probability": 0.5}]
        self.assertIsNotNone(evaluate(bundle_from(document)).scales.speed.ratio)
