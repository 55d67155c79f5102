"""Findings about copies: what one loss takes, copies that are none, that never finish, that nobody reads."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from datetime import date

from larder.base.patch import set_fields
from larder.base.units import SECONDS_A_DAY
from larder.plan.bundle import Bundle
from larder.plan.safekeeping import Copy, Store
from larder.stages.copies import COPIES, Cell, CopyRun, MaterialKept
from larder.stages.keeping import APART, Keeping
from larder.stages.registry import SAFEGUARD_STAGE
from larder.stages.stage import Judged

from .finding import Evidence, Figures, Found, Remedy, finding
from .nightly import KEPT, copied_patch

WEEK_HOURS, VERSIONS_DAYS = 168.0, 30
ELSEWHERE_HOURS = 2.0
"""Until drives that are kept elsewhere are here. A stated assumption."""


def _worth_keeping(f: Figures) -> Iterator[MaterialKept]:
    return (m for m in f.of(COPIES).materials if m.worth != "replaceable")


def _names(materials: Iterable[MaterialKept]) -> str:
    names = [m.name for m in materials]
    head = ", ".join([names[0], *(name[:1].lower() + name[1:] for name in names[1:-1])])
    return head if len(names) == 1 else f"{head} and {names[-1][:1].lower()}{names[-1][1:]}"


def _sizes(materials: Iterable[MaterialKept]) -> tuple[Evidence, ...]:
    return tuple(Evidence(label=m.name, value=m.bytes, unit="bytes") for m in materials)


def carried(bundle: Bundle, material_ids: str) -> Remedy:
    """Drives that are written every week and kept in another building."""
    store = {
        "name": "Drives kept elsewhere",
        "kind": "loose disks",
        "place_id": "elsewhere",
        "fetch_hours": ELSEWHERE_HOURS,
    }
    copy = {"name": "Carried elsewhere every week", "every_hours": WEEK_HOURS}
    return Remedy(
        words="Carry drives elsewhere every week", patch=copied_patch(bundle, material_ids, store, copy)
    )


def _ids(materials: Iterable[MaterialKept]) -> str:
    return " ".join(m.id for m in materials)


@finding("redundancy-taken-for-backup", SAFEGUARD_STAGE, "warn")
def redundancy_taken_for_backup(f: Figures) -> Iterator[Found]:
    """There is storage with something on it, and not one copy is planned."""
    material = list(_worth_keeping(f))
    if f.of(COPIES).has_said or not material or not f.tiers.pools or not f.brief.need_bytes:
        return
    yield Found(
        title="Nobody has said where copies go",
        evidence=_sizes(material),
        why="Redundancy keeps people working when a drive dies. It holds nothing that is deleted, "
        "encrypted, burnt or stolen with the box.",
        remedy=carried(f.bundle, _ids(material)),
    )


@finding("no-copy-elsewhere", SAFEGUARD_STAGE, "warn")
def no_copy_elsewhere(f: Figures) -> Iterator[Found]:
    """One fire takes all there is."""
    material = [m for m in _worth_keeping(f) if not m.elsewhere]
    if not f.of(COPIES).has_said or not material:
        return
    yield Found(
        severity="block" if any(m.worth == "irreplaceable" for m in material) else "warn",
        title=f"{_names(material)}: in one building only",
        evidence=_sizes(material),
        why="Fire, water and burglars take every copy in a building. A safe in it is the same building.",
        remedy=carried(f.bundle, _ids(material)),
    )


@finding("copies-below-the-house-rule", SAFEGUARD_STAGE, "warn")
def copies_below_the_house_rule(f: Figures) -> Iterator[Found]:
    """Too few copies, or all on one kind of medium."""
    rules = f.bundle.house_rules
    if not f.of(COPIES).has_said:
        return
    for m in _worth_keeping(f):
        if not m.lacking or not m.elsewhere:
            continue
        yield Found(
            at=m.id,
            title=f"{m.name}: {m.lacking}",
            evidence=(
                Evidence(label="Copies, with the one in use", value=m.copies, unit="count"),
                Evidence(label="House rule", value=rules.copies_min, unit="count"),
            ),
            why="Of two copies one often turns out bad when the other is gone; what ruins one kind of "
            "medium spares another.",
            remedy=Remedy(words="Add a copy, or set the rule that this house keeps to.", at=f"{KEPT}/copies"),
        )


@finding("one-loss-takes-every-copy", SAFEGUARD_STAGE, "warn")
def one_loss_takes_every_copy(f: Figures) -> Iterator[Found]:
    """Besides fire and theft, some one loss leaves nothing."""
    if not f.of(COPIES).has_said:
        return
    for m in _worth_keeping(f):
        gone = [cell.loss for cell in m.cells if not cell.survivors]
        if not m.elsewhere or not gone:
            continue
        yield Found(
            at=m.id,
            title=f"{m.name}: nothing is left after {' or '.join(gone)}",
            evidence=(Evidence(label=m.name, value=m.bytes, unit="bytes"),),
            why="Copies that one loss takes together are one copy.",
            remedy=carried(f.bundle, m.id),
        )


@finding("sync-taken-for-backup", SAFEGUARD_STAGE, "warn")
def sync_taken_for_backup(f: Figures) -> Iterator[Found]:
    """All copies of something follow every deletion."""
    for kept in f.keeping.materials:
        copies = kept.whole[1:]
        likenesses = [h.copy for h in copies if h.copy and h.follows and not h.goes_back]
        if not likenesses or len(likenesses) < len(copies) or kept.kept.worth == "replaceable":
            continue
        copy = likenesses[0]
        yield Found(
            at=kept.kept.id,
            title=f"{kept.kept.name}: what is deleted is gone from its copy as well",
            evidence=(Evidence(label="It follows within", value=copy.every_hours, unit="h"),),
            why="What is made alike holds the same mistakes. A backup keeps what is no longer there.",
            remedy=Remedy(
                words=f"Keep earlier versions for {VERSIONS_DAYS} days",
                patch=set_fields(
                    f"{KEPT}/copies/{copy.id}", way="keeps versions", versions_days=VERSIONS_DAYS
                ),
            ),
        )


@finding("copy-that-is-none", SAFEGUARD_STAGE, "warn")
def copy_that_is_none(f: Figures) -> Iterator[Found]:
    """A copy that is planned and could not help."""
    for copy in f.of(COPIES).copies:
        if copy.missing:
            yield Found(
                at=copy.id,
                title=f"{copy.name} is no copy: {copy.missing}",
                evidence=(Evidence(label="Should hold", value=copy.bytes, unit="bytes"),),
                why="It is counted nowhere until that is mended.",
                remedy=Remedy(words="Let it go to something else", at=f"{KEPT}/copies/{copy.id}"),
            )


@finding("first-upload-takes-weeks", SAFEGUARD_STAGE, "warn")
def first_upload_takes_weeks(f: Figures) -> Iterator[Found]:
    """The first copy over the line is longer on its way than the house allows."""
    most = f.bundle.house_rules.first_copy_days_max
    for copy in f.of(COPIES).copies:
        if copy.first_days is None or copy.first_days <= most:
            continue
        yield Found(
            at=copy.id,
            title=f"{copy.name}: the first one takes {copy.first_days / 7:.0f} weeks",
            evidence=(
                Evidence(label="On its way", value=round(copy.first_days, 1), unit="days"),
                Evidence(label="House rule", value=most, unit="days"),
            ),
            why="Until the first copy is complete nothing is protected there.",
            remedy=Remedy(
                words="Carry the first copy there on drives",
                patch=set_fields(f"{KEPT}/copies/{copy.id}", first_by_hand=True),
            ),
        )


@finding("off-site-copy-never-catches-up", SAFEGUARD_STAGE, "block")
def off_site_copy_never_catches_up(f: Figures) -> Iterator[Found]:
    """More comes in than the line takes away in its hours."""
    yield from _behind(f, over_the_line=True)


@finding("copy-not-done-in-its-time", SAFEGUARD_STAGE, "warn")
def copy_not_done_in_its_time(f: Figures) -> Iterator[Found]:
    """A copy in the house that is not over by the morning."""
    yield from _behind(f, over_the_line=False)


def _behind(f: Figures, *, over_the_line: bool) -> Iterator[Found]:
    copies = {copy.id: copy for copy in f.bundle.plan.safekeeping.copies}
    for result in f.of(COPIES).copies:
        if result.keeps_up or result.missing or result.is_over_the_line != over_the_line:
            continue
        copy = copies[result.id]
        took = result.bytes_per_s * result.window_hours * 3600
        title = f"{copy.name} is not over in time"
        if over_the_line:
            behind = "falls further behind every day" if took else "is carried by no line"
            title = f"{copy.name} {behind}"
        yield Found(
            at=copy.id,
            title=title,
            evidence=(
                Evidence(label="A run moves", value=result.run_bytes, unit="bytes"),
                Evidence(label="Fits into its hours", value=took, unit="bytes"),
            ),
            why=f"Held back by {result.limited_by}. What is made faster than it is copied is never whole.",
            remedy=_catches_up(f, copy, result, took),
        )


def _catches_up(f: Figures, copy: Copy, result: CopyRun, fits_bytes: float) -> Remedy:
    """All day long, or the small things that fit into its hours, whichever first is enough."""
    path = f"{KEPT}/copies/{copy.id}"
    by_size = sorted(f.keeping.of(copy), key=lambda each: each.kept.changed_bytes_per_day)
    whole_day = result.bytes_per_s * SECONDS_A_DAY
    if sum(each.kept.changed_bytes_per_day for each in by_size) <= whole_day and result.is_over_the_line:
        return Remedy(words="Let it run day and night", patch=set_fields(path, by_minute=copy.from_minute))
    for count in range(len(by_size) - 1, 0, -1):
        few = by_size[:count]
        if sum(each.kept.changed_bytes_per_day for each in few) <= fits_bytes:
            ids = " ".join(each.kept.id for each in few)
            names = ", ".join(each.kept.name for each in few)
            return Remedy(words=f"Copy {names} only", patch=set_fields(path, material_ids=ids))
    where = "plan/brief/limits/line/up_bytes_per_s" if result.is_over_the_line else f"{path}/by_minute"
    return Remedy(words="Carry drives instead, copy less, or take a faster way.", at=where)


@finding("a-dropped-cloud-plan-was-the-only-off-site-copy", SAFEGUARD_STAGE, "block")
def dropped_service_was_the_only_one(f: Figures) -> Iterator[Found]:
    """A service that is given up before the horizon holds the only copy elsewhere of something."""
    for store in f.bundle.plan.safekeeping.stores:
        if store.ends_on is None or store.ends_on > f.bundle.plan.brief.horizon_date:
            continue
        alone = [m for m in f.of(COPIES).materials if _only_there(f, m, store)]
        if alone:
            yield Found(
                at=store.id,
                title=f"{store.name} ends, and {_names(alone).lower()} is nowhere else",
                evidence=_sizes(alone),
                why="When the plan is given up its copies go with it: another has to be complete before.",
                remedy=carried(f.bundle, _ids(alone)),
            )


def _only_there(f: Figures, m: MaterialKept, store: Store) -> bool:
    """Whether the store holds something of a material that no other store elsewhere holds."""
    kept = f.keeping.material(m.id)
    home = {building for body in kept.every[0].bodies for building in body.buildings}
    away = [
        body.key
        for holding in kept.every[1:]
        for body in holding.bodies
        if not home & body.buildings and (not holding.missing or body.key == f"store:{store.id}")
    ]
    return m.worth != "replaceable" and set(away) == {f"store:{store.id}"}


@finding("offline-copy-not-read-back-in-a-year", SAFEGUARD_STAGE, "warn")
def offline_copy_not_read_back(f: Figures) -> Iterator[Found]:
    """An offline copy that exists, and that nobody has read for longer than the house allows."""
    most = f.bundle.house_rules.read_back_days_max
    offline = {s.id for s in f.bundle.plan.safekeeping.stores if s.access == "offline"}
    for copy in f.bundle.plan.safekeeping.copies:
        since: date | None = copy.read_back_on or copy.newest_on
        if copy.where.id not in offline or since is None or (f.bundle.as_of - since).days <= most:
            continue
        yield Found(
            at=copy.id,
            title=f"{copy.name}: not read back for {(f.bundle.as_of - since).days} days",
            evidence=(Evidence(label="House rule", value=most, unit="days"),),
            why="What nobody has read for a year is a hope, not a copy: drives stick and tapes age unseen.",
            remedy=Remedy(
                words="Read it back whole, compare, and note the day",
                patch=set_fields(f"{KEPT}/copies/{copy.id}", read_back_on=str(f.bundle.as_of)),
            ),
        )


@finding("key-held-by-nobody", SAFEGUARD_STAGE, "warn", key="key-held-by-one")
def key_held_by_one(f: Figures) -> Iterator[Found]:
    """A store that only one person can unlock, or sign in to."""
    for store in f.bundle.plan.safekeeping.stores:
        if not store.unlocked_by.strip() or store.unlocked_by_two:
            continue
        yield Found(
            at=store.id,
            title=f"Nobody else can unlock {store.name}",
            evidence=(Evidence(label="People who can", value=1, unit="count"),),
            why="The one who knows is ill, has left or has lost the telephone on the day when it is needed.",
            remedy=Remedy(
                words="Give a second person the key, sealed, and try it",
                patch=set_fields(f"{KEPT}/stores/{store.id}", unlocked_by_two=True),
            ),
        )


@finding("everyone-shares-one-password-or-has-full-access", SAFEGUARD_STAGE, "warn")
def everyone_shares_one_password(f: Figures) -> Iterator[Found]:
    """With one password for all, whoever has it can delete everything and its snapshots."""
    if f.bundle.plan.safekeeping.sign_in != "everyone shares one":
        return
    yield Found(
        title="Everyone signs in with one password",
        evidence=(Evidence(label="People who can delete all", value=f.people, unit="count"),),
        why="One stolen or careless sign-in reaches every share and snapshot, and nobody can tell whose.",
        remedy=Remedy(
            words="Let each have their own, and the administrator a second factor",
            patch=set_fields(KEPT, sign_in=APART),
        ),
    )


@finding("no-alerts-set-up", SAFEGUARD_STAGE, "note")
def no_alerts(f: Figures) -> Iterator[Found]:
    """A dead drive that nobody hears of."""
    alerts = f.bundle.plan.safekeeping.alerts
    if alerts not in ("unsaid", "to nobody") or not f.tiers.pools:
        return
    yield Found(
        severity="warn" if alerts == "to nobody" else "note",
        title="Nobody is told when something breaks"
        if alerts == "to nobody"
        else "Nobody has said who is told when something breaks",
        evidence=(
            Evidence(label="Pools that could hang by a drive", value=len(f.tiers.pools), unit="count"),
        ),
        why="Redundancy buys time to replace a drive. Unheard, it only hides the first death until the next.",
        remedy=Remedy(
            words="Have alerts sent by mail, and try one", patch=set_fields(KEPT, alerts="by mail")
        ),
    )


@finding("restore-longer-than-tolerated", SAFEGUARD_STAGE, "warn")
def restore_longer_than_tolerated(f: Figures) -> Iterator[Found]:
    """After some loss work stands still for longer than the brief allows, though a copy is left."""
    if not f.of(COPIES).has_said:
        return
    tolerances = {t.id: t.downtime_hours for t in f.bundle.plan.brief.limits.tolerances}
    kinds = {m.id: m.kind for m in f.bundle.plan.safekeeping.materials}
    for m in f.of(COPIES).materials:
        late = [c for c in m.cells if c.is_late and c.survivors and c.recovery_hours is not None]
        # Settings come back with the box; by themselves nobody waits for them.
        if not late or kinds[m.id] == "settings":
            continue
        worst = max(late, key=lambda c: c.recovery_hours or 0.0)
        yield Found(
            at=m.id,
            title=f"{m.name}: people wait {(worst.recovery_hours or 0) / 24:.0f} days after {worst.loss}",
            evidence=(
                Evidence(label="Until it is back", value=round(worst.recovery_hours or 0.0, 1), unit="h"),
                Evidence(label="Tolerated", value=tolerances[m.worth], unit="h"),
            ),
            why="A copy that comes back too late costs the delivery all the same.",
            remedy=_sooner(f, m, late),
        )


def _sooner(f: Figures, m: MaterialKept, late: list[Cell]) -> Remedy:
    """People work on a copy meanwhile, where one change makes the worst of them soon enough."""
    words = "Work on a copy meanwhile, keep spare parts, or let it stand still for longer."
    losses = {cell.loss for cell in late}
    for copy in f.bundle.plan.safekeeping.copies:
        if m.id not in copy.materials or copy.people_can_work_on_it or not _is_within_reach(f, copy):
            continue
        patch = set_fields(f"{KEPT}/copies/{copy.id}", people_can_work_on_it=True)
        better = Keeping(_with_copy(f.judged, copy.model_copy(update={"people_can_work_on_it": True})))
        kept = better.material(m.id)
        tolerated = next(t for t in f.bundle.plan.brief.limits.tolerances if t.id == m.worth).downtime_hours
        if all((kept.after(loss).recovery_hours or 0.0) <= tolerated for loss in losses):
            return Remedy(words=f"Let people work on {copy.name.lower()} meanwhile", patch=patch)
    return Remedy(words=words, at=f"{KEPT}/copies")


def _with_copy(judged: Judged, copy: Copy) -> Judged:
    """The same plan with one of its copies changed."""
    copies = judged.bundle.plan.safekeeping.copies
    changed = tuple(copy if each.id == copy.id else each for each in copies)
    return Judged(judged.bundle.with_copies(changed), judged.results)


def _is_within_reach(f: Figures, copy: Copy) -> bool:
    """Whether what it lies on can be worked on at all: a pool, a box, or flash drives that one plugs in."""
    if copy.where.kind != "store":
        return True
    store = next(s for s in f.bundle.plan.safekeeping.stores if s.id == copy.where.id)
    return store.kind in ("a box", "loose flash drives")
