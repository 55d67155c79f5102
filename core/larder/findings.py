"""Every rule that looks for what is wrong or surprising in a plan, and their findings in order.

The ids are the phrases that the docs list; a rule yields a finding for every place it applies to.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from .finding import Figures, Finding
from .findings_bays import (
    flash_refused_in_that_role,
    pool_joined_by_one_cable,
    vendor_list_excludes_the_drive,
)
from .findings_brief import (
    decode_bound_playback,
    project_files_in_no_copy_plan,
    projects_catalogues_on_the_share,
    remote_line_too_slow_for_the_format,
    sole_copies_on_one_drive,
)
from .findings_caches import (
    cache_smaller_than_the_burst,
    cache_smaller_than_the_knee,
    flash_cache_on_flash,
    flash_wear_before_its_service_life,
    unmirrored_write_cache,
    write_back_without_power_protection,
)
from .findings_tiers import (
    hot_tier_smaller_than_the_working_set,
    mixed_sizes_wasting_space,
    pool_past_its_fill_limit,
    single_parity_where_rebuild_exposure_exceeds_the_house_rule,
    tb_tib_surprise,
)
from .findings_wiring import aggregation_for_one_client, hop_below_need

__all__ = ["RULES", "Figures", "Finding", "findings_of"]


RULES: tuple[Callable[[Figures], Iterator[Finding]], ...] = (
    sole_copies_on_one_drive,
    decode_bound_playback,
    remote_line_too_slow_for_the_format,
    projects_catalogues_on_the_share,
    project_files_in_no_copy_plan,
    pool_past_its_fill_limit,
    hot_tier_smaller_than_the_working_set,
    flash_refused_in_that_role,
    vendor_list_excludes_the_drive,
    pool_joined_by_one_cable,
    unmirrored_write_cache,
    write_back_without_power_protection,
    cache_smaller_than_the_burst,
    cache_smaller_than_the_knee,
    flash_wear_before_its_service_life,
    flash_cache_on_flash,
    single_parity_where_rebuild_exposure_exceeds_the_house_rule,
    mixed_sizes_wasting_space,
    hop_below_need,
    aggregation_for_one_client,
    tb_tib_surprise,
)


def findings_of(figures: Figures) -> tuple[Finding, ...]:
    """Every finding on a plan, the gravest first; accepted ones carry their reason."""
    accepted = {a.id: a for a in figures.bundle.plan.acceptances}
    found = [
        finding.model_copy(
            update={"accepted_reason": a.reason, "accepted_by": a.by}
            if (a := accepted.get(finding.key))
            else {}
        )
        for rule in RULES
        for finding in rule(figures)
    ]
    return tuple(sorted(found, key=lambda f: ("block", "warn", "note").index(f.severity)))
