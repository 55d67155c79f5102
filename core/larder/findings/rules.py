"""Every rule that looks for what is wrong or surprising in a plan, and their findings in order.

The ids are the phrases that the docs list; a rule yields a finding for every place it applies to.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator

from .bays import flash_refused_in_that_role, pool_joined_by_one_cable, vendor_list_excludes_the_drive
from .boxes import (
    bifurcation_needed,
    controller_or_usb_bus_saturated,
    flash_in_too_narrow_a_slot,
    lanes_short,
    memory_below_recommendation,
    memory_buys_nothing,
    no_error_correction_where_wanted,
    no_free_bay_at_fill_date,
    weak_processor_for_parity_or_encryption,
)
from .brief import (
    decode_bound_playback,
    project_files_in_no_copy_plan,
    projects_catalogues_on_the_share,
    remote_line_too_slow_for_the_format,
    sole_copies_on_one_drive,
)
from .caches import (
    cache_smaller_than_the_burst,
    cache_smaller_than_the_knee,
    flash_cache_on_flash,
    flash_wear_before_its_service_life,
    unmirrored_write_cache,
    write_back_without_power_protection,
)
from .drives import (
    desktop_class_disk_in_continuous_duty,
    disk_over_its_workload_rating,
    no_spare_and_long_delivery,
    pool_flash_wear,
    same_batch_throughout,
    shingled_disk_in_a_parity_group,
    striped_tier_with_no_nightly_copy,
    used_disk_with_hours_over_rule,
    used_disk_without_surface_test,
)
from .finding import Figures, Finding
from .small_files import latency_bound_small_files
from .tiers import (
    hot_tier_smaller_than_the_working_set,
    mixed_sizes_wasting_space,
    pool_past_its_fill_limit,
    single_parity_where_rebuild_exposure_exceeds_the_house_rule,
    tb_tib_surprise,
)
from .volumes import (
    key_held_by_nobody,
    no_snapshots,
    thin_volumes_overcommitted,
    volumes_reserve_more_than_the_pool_holds,
)
from .wiring import aggregation_for_one_client, hop_below_need

__all__ = ["RULES", "Figures", "Finding", "findings_of"]
RULES: tuple[Callable[[Figures], Iterator[Finding]], ...] = (
    sole_copies_on_one_drive,
    decode_bound_playback,
    remote_line_too_slow_for_the_format,
    projects_catalogues_on_the_share,
    project_files_in_no_copy_plan,
    pool_past_its_fill_limit,
    hot_tier_smaller_than_the_working_set,
    striped_tier_with_no_nightly_copy,
    shingled_disk_in_a_parity_group,
    desktop_class_disk_in_continuous_duty,
    disk_over_its_workload_rating,
    used_disk_without_surface_test,
    used_disk_with_hours_over_rule,
    no_spare_and_long_delivery,
    same_batch_throughout,
    volumes_reserve_more_than_the_pool_holds,
    thin_volumes_overcommitted,
    key_held_by_nobody,
    latency_bound_small_files,
    controller_or_usb_bus_saturated,
    weak_processor_for_parity_or_encryption,
    lanes_short,
    flash_in_too_narrow_a_slot,
    bifurcation_needed,
    memory_below_recommendation,
    no_error_correction_where_wanted,
    memory_buys_nothing,
    no_free_bay_at_fill_date,
    flash_refused_in_that_role,
    vendor_list_excludes_the_drive,
    pool_joined_by_one_cable,
    unmirrored_write_cache,
    write_back_without_power_protection,
    cache_smaller_than_the_burst,
    cache_smaller_than_the_knee,
    flash_wear_before_its_service_life,
    pool_flash_wear,
    flash_cache_on_flash,
    no_snapshots,
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
