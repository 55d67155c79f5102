"""Where practitioners disagree: both sides of each question, with this plan's own numbers.

No side is taken. Each side is a change of the plan or of the house's rules, judged like any other, and what
settles it is one press.
"""

from __future__ import annotations

from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass

from larder.base.errors import Refused, RefusedMany
from larder.base.patch import Operation, Patch, apply_patch, set_fields
from larder.base.results import Result
from larder.judge.evaluation import evaluate
from larder.laws.layout import Family, parse_layout
from larder.plan.bundle import Bundle
from larder.plan.pools import Pool, layout_fields
from larder.readers.plan_file import bundle_from
from larder.stages.odds import odds_text
from larder.stages.registry import PARTS
from larder.stages.stage import judge

from .advisor.advise import advise
from .advisor.answers import Advice, SchoolAnswer
from .box_failures import box_failures
from .side_by_side import Measured, measured_of


class SideFigure(Result):
    """What a side comes to in one respect of its own, in words."""

    what: str
    said: str


class Side(Result):
    """One side: what it says for itself, what the plan comes to with it, and the change that settles it so.

    ``why_not`` says why this plan cannot be so, and then there are no figures.
    """

    name: str
    argument: str
    measured: Measured | None
    figures: tuple[SideFigure, ...]
    is_now: bool
    why_not: str
    patch: tuple[Operation, ...]


class Disagreement(Result):
    """A question with its two sides."""

    id: str
    question: str
    left: Side
    right: Side


USED_HOURS = 45_000
"""Five years of running day and night, and a little more: what is sold on by large houses."""
PatchMaker = Callable[[Bundle], Patch | None]
Figures = Callable[[Bundle], tuple[tuple[str, str], ...]]


@dataclass(frozen=True)
class _Half:
    name: str
    argument: str
    change: PatchMaker


@dataclass(frozen=True)
class _Question:
    id: str
    question: str
    left: _Half
    right: _Half
    figures: Figures = lambda _: ()


def _advice(bundle: Bundle) -> Advice:
    return advise(bundle).advice


def disagreements_of(
    bundle: Bundle, advice: Callable[[Bundle], Advice] = _advice
) -> tuple[Disagreement, ...]:
    """All of them, with the figures of ``bundle``; questions of schools have those of its ``advice``.

    What it refuses stands in their place.
    """
    found = [
        Disagreement(
            id=each.id,
            question=each.question,
            left=_side(bundle, each, each.left),
            right=_side(bundle, each, each.right),
        )
        for each in QUESTIONS
    ]
    return (*found, *_by_design(bundle, advice))


def _side(bundle: Bundle, question: _Question, half: _Half) -> Side:
    patch = half.change(bundle)
    if patch is None:
        return _without(half.name, half.argument, "This plan has nothing that it could be tried on.")
    try:
        changed = bundle_from(apply_patch(bundle.document(), patch)) if patch else bundle
        evaluation = evaluate(changed)
    except (Refused, RefusedMany) as refused:
        said = refused.sentence if isinstance(refused, Refused) else refused.problems[0].sentence
        return _without(half.name, half.argument, said)
    return Side(
        name=half.name, argument=half.argument, measured=measured_of(changed, evaluation),
        figures=_figures(question.figures(changed)), is_now=not patch, why_not="", patch=patch,
    )  # fmt: skip


def _figures(figures: Iterable[tuple[str, str]]) -> tuple[SideFigure, ...]:
    return tuple(SideFigure(what=what, said=said) for what, said in figures)


def _without(name: str, argument: str, why_not: str) -> Side:
    return Side(
        name=name, argument=argument, measured=None, figures=(), is_now=False, why_not=why_not, patch=()
    )


_DESIGNED = (
    (
        "cache-or-flash-volume", "A cache before disks, or a flash volume to work on?",
        ("turnkey-box", "One pool, with a cache where it needs one", "One place; nothing to retire."),
        ("two-temperatures", "A flash volume, and disks to retire to",
         "What is worked on is always quick; somebody moves what is done."),
    ),
    (
        "redundancy-or-cloud", "Redundancy, or none and everything in a service as well?",
        ("turnkey-box", "Redundancy", "A dead disk stops nobody."),
        ("span-and-cloud", "A span and a service",
         "Every TB bought can be used; a dead disk is fetched back for days."),
    ),
    (
        "bought-or-built", "A box bought ready, or a server built by oneself?",
        ("turnkey-box", "Bought ready", "One address to call, one list of what fits."),
        ("self-built", "Built by oneself", "More bays and choice for the money; the hours are one's own."),
    ),
)  # fmt: skip


def _by_design(bundle: Bundle, advice: Callable[[Bundle], Advice]) -> Iterator[Disagreement]:
    """Questions of schools, settled by the best design of each."""
    try:
        schools = {school.id: school for school in advice(bundle).schools}
    except Refused as refused:
        for question_id, question, *sides in _DESIGNED:
            left, right = (_without(name, argument, refused.sentence) for _, name, argument in sides)
            yield Disagreement(id=question_id, question=question, left=left, right=right)
        return
    for question_id, question, *sides in _DESIGNED:
        left, right = (_designed(schools[school_id], name, argument) for school_id, name, argument in sides)
        yield Disagreement(id=question_id, question=question, left=left, right=right)


def _designed(answer: SchoolAnswer, name: str, argument: str) -> Side:
    design = answer.design
    if design is None:
        return _without(name, argument, answer.sentence)
    figures = [("is", design.title), *(("misses", miss.words) for miss in design.misses[:3])]
    return Side(
        name=name, argument=argument, measured=design.measured, figures=_figures(figures), is_now=False,
        why_not="", patch=(),
    )  # fmt: skip


def _pool_with(bundle: Bundle, says: Callable[[Pool], bool]) -> Pool | None:
    """The largest pool of which something holds."""
    fitting = [pool for pool in bundle.plan.pools if says(pool)]
    return max(fitting, key=lambda pool: sum(pool.drives_bytes), default=None)


PAIRS = "raid10"
"""Mirrors want an even number of drives: one more is bought where it is odd."""


def _layout(name: str, says: Callable[[Pool], bool]) -> PatchMaker:
    """The largest pool of a kind in another layout."""

    def change(bundle: Bundle) -> Patch | None:
        pool = _pool_with(bundle, says)
        if pool is None:
            return None
        if pool.layout == name:
            return ()
        filesystem = pool.filesystem if pool.filesystem != "cow" else "journal"
        fields = layout_fields(pool, name, filesystem)
        if name == PAIRS and not pool.mixed_sizes and (pool.drive_count - pool.spares) % 2:
            fields["drive_count"] = pool.drive_count + 1
        return set_fields(f"plan/pools/{pool.id}", **fields)

    return change


def _is_parity(pool: Pool) -> bool:
    return parse_layout(pool.layout).family in (Family.PARITY, Family.PARITY_GROUPS, Family.MIRROR)


def _is_flash(pool: Pool) -> bool:
    return pool.drive_kind == "ssd"


def _rule(**fields: object) -> PatchMaker:
    def change(bundle: Bundle) -> Patch:
        return set_fields("house_rules", **_changed(fields, lambda name: getattr(bundle.house_rules, name)))

    return change


def _changed(fields: Mapping[str, object], now: Callable[[str], object]) -> dict[str, object]:
    return {name: value for name, value in fields.items() if now(name) != value}


def _brief(**fields: object) -> PatchMaker:
    def change(bundle: Bundle) -> Patch:
        return set_fields("plan/brief", **_changed(fields, lambda name: getattr(bundle.plan.brief, name)))

    return change


def _seats_at(speed: str) -> PatchMaker:
    """Every seat's own link at another speed."""

    def change(bundle: Bundle) -> Patch | None:
        links = [link for link in bundle.plan.wiring.links if link.ends[0].kind == "seat"]
        if not links:
            return None
        return tuple(
            operation
            for link in links
            if link.speed != speed
            for operation in set_fields(
                f"plan/wiring/links/{link.id}", speed=speed, category="unsaid", near_ports="", far_ports=""
            )
        )

    return change


def _read_in(how: str) -> PatchMaker:
    def change(bundle: Bundle) -> Patch | None:
        if not bundle.plan.boxes:
            return None
        return tuple(
            operation
            for box in bundle.plan.boxes
            if box.disks_read_in != how
            for operation in set_fields(f"plan/boxes/{box.id}", disks_read_in=how)
        )

    return change


def _drives(*, are_used: bool) -> PatchMaker:
    """The largest pool of used, tested drives whose best years are over; or of new ones."""
    hours = USED_HOURS if are_used else 0

    def change(bundle: Bundle) -> Patch | None:
        pool = _pool_with(bundle, lambda _: True)
        if pool is None:
            return None
        fields = {"are_used": are_used, "surface_tested": are_used, "hours_run": hours}
        return set_fields(f"plan/pools/{pool.id}", **_changed(fields, lambda name: getattr(pool, name)))

    return change


def _lists(*, are_kept: bool) -> PatchMaker:
    def change(bundle: Bundle) -> Patch | None:
        boxes = [box for box in bundle.plan.boxes if box.allows]
        if not boxes:
            return None
        return tuple(
            operation
            for box in boxes
            if box.ignores_list is are_kept
            for operation in set_fields(f"plan/boxes/{box.id}", ignores_list=not are_kept)
        )

    return change


def _odds(bundle: Bundle) -> tuple[tuple[str, str], ...]:
    evaluation = evaluate(bundle)
    return tuple((f"{pool.name} is lost", odds_text(pool.pool_lost)) for pool in evaluation.odds)


def _rebuilds(bundle: Bundle) -> tuple[tuple[str, str], ...]:
    evaluation = evaluate(bundle)
    return tuple(
        (f"{pool.name} rebuilds in", f"{pool.rebuild_seconds / 3600:.0f} h beside people")
        for pool in evaluation.tiers.pools
        if pool.rebuild_seconds
    ) + _odds(bundle)


def _seat_ratios(bundle: Bundle) -> tuple[tuple[str, str], ...]:
    evaluation = evaluate(bundle)
    return tuple(
        (seat.name, f"×{seat.ratio:.2f} of what it asks")
        for seat in evaluation.wiring.seats
        if seat.ratio is not None
    )


def _box_hours(bundle: Bundle) -> tuple[tuple[str, str], ...]:
    failures = box_failures(judge(bundle, PARTS))
    return tuple(
        (f"{failure.name} dies", f"{failure.hours:.0f} h until people work; {failure.how}")
        for failure in failures
        if failure.part in ("box", "controller")
    )


def _findings(*ids: str) -> Figures:
    """What findings say of it."""

    def figures(bundle: Bundle) -> tuple[tuple[str, str], ...]:
        found = [finding for finding in evaluate(bundle).findings if finding.id in ids]
        return tuple((finding.severity, finding.title) for finding in found) or (("findings", "none of it"),)

    return figures


def _cards(bundle: Bundle) -> tuple[tuple[str, str], ...]:
    cards = [m for m in evaluate(bundle).copies.materials if m.id == "cards"]
    return tuple((m.name, f"{m.copies} copies; {m.lacking or 'the rule is met'}") for m in cards)


def _hot(bundle: Bundle) -> tuple[tuple[str, str], ...]:
    brief = evaluate(bundle).brief
    return (
        ("Hot at once", f"{brief.working_set_bytes / 1e12:.1f} TB"),
        ("Not hot", f"{brief.cold_bytes / 1e12:.1f} TB"),
    )


def _parity(name: str) -> PatchMaker:
    return _layout(name, _is_parity)


QUESTIONS: tuple[_Question, ...] = (
    _Question(
        "parities", "One parity drive or two?",
        _Half("One", "A drive more for data; a rebuild is a day on thin ice.", _parity("raid5")),
        _Half("Two", "A second death while it rebuilds is survived.", _parity("raid6")),
        _rebuilds,
    ),
    _Question(
        "parity-on-flash", "Parity or mirrors on flash?",
        _Half("Parity", "More room from drives that are dear.", _layout("raid5", _is_flash)),
        _Half("Mirrors", "Quick rebuilds; small writes cost half.", _layout(PAIRS, _is_flash)),
        _rebuilds,
    ),
    _Question(
        "controller-or-software", "A controller card or software?",
        _Half("A controller card", "Its own memory and battery; only one like it reads the disks.",
              _read_in("the same controller")),
        _Half("Software", "Any computer reads the disks.", _read_in("any computer")),
        _box_hours,
    ),
    _Question(
        "gigabit", "Is gigabit enough for one editor?",
        _Half("Gigabit", "It is in the wall, and proxies fit through it.", _seats_at("1GbE")),
        _Half("Ten gigabit", "Camera footage fits through it with room for jumps.", _seats_at("10GbE")),
        _seat_ratios,
    ),
    _Question(
        "new-or-used", "New drives, or used ones that were tested?",
        _Half("New", "Warranty, and five years before them.", _drives(are_used=False)),
        _Half("Used, tested", "A third off; their best years are gone.", _drives(are_used=True)),
        _odds,
    ),
    _Question(
        "listed-drives", "Drives from the box's list only, or any?",
        _Half("From the list", "Whoever sells the box answers for it.", _lists(are_kept=True)),
        _Half("Any", "Cheaper and sooner; support may end with the first odd drive.", _lists(are_kept=False)),
        _findings("vendor-list-excludes-the-drive", "flash-refused-in-that-role-by-the-boxs-list"),
    ),
    _Question(
        "project-files", "Project files beside the footage, or on the workstation's flash?",
        _Half("On the share", "Everybody finds them, and the nightly copy has them.",
              _brief(projects_live="on the share")),
        _Half("On each workstation", "Quick for many small writes; each needs a copy plan of its own.",
              _brief(projects_live="on each workstation")),
        _findings("projects-catalogues-on-the-share", "project-files-in-no-copy-plan"),
    ),
    _Question(
        "retiring", "Projects retired soon, or kept hot?",
        _Half("After four weeks", "Little flash does.", _brief(hot_weeks=4)),
        _Half("After sixteen weeks", "What is asked for again is still there.", _brief(hot_weeks=16)),
        _hot,
    ),
    _Question(
        "scrubbing", "Scrub every week, or every three months?",
        _Half("Every week", "What went bad is found while all drives live.", _rule(scrub_every_days=7.0)),
        _Half("Every three months", "The drives' time is the people's.", _rule(scrub_every_days=90.0)),
        _odds,
    ),
    _Question(
        "error-correction", "From when is error-correcting memory a must?",
        _Half("From ten TB on", "A flipped bit stays for ever.", _rule(error_correction_from_tb=10.0)),
        _Half("From a hundred TB on", "Checksums at the workstation find it as well.",
              _rule(error_correction_from_tb=100.0)),
        _findings("memory-below-recommendation-no-error-correction-where-wanted"),
    ),
    _Question(
        "second-site", "How many copies, and where?",
        _Half("Three, one elsewhere", "Two kinds of media, so that no one fault ruins all.",
              _rule(copies_min=3, media_kinds_min=2, copies_elsewhere_min=1)),
        _Half("Two, one elsewhere", "Labelled drives or a mirror box: cheap enough to be done.",
              _rule(copies_min=2, media_kinds_min=1, copies_elsewhere_min=1)),
        _findings("copies-below-the-house-rule", "no-copy-elsewhere"),
    ),
    _Question(
        "wiping-cards", "How many copies before a card is wiped?",
        _Half("Two", "Cards are back in the camera by the evening.", _rule(copies_min=2)),
        _Half("Three", "One may turn out bad when the other is gone.", _rule(copies_min=3)),
        _cards,
    ),
)  # fmt: skip
