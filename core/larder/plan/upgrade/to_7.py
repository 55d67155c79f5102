"""Version 7 has copies: places, stores and what is copied where. Two ticks that only said so become copies.

Where to was never said: such a copy goes to a box of its own in the house, which is the least it can be.
"""

from __future__ import annotations

from typing import Any

from .change import Change, Document, items_at

_OF_WORK, _OF_ARCHIVE, _PROJECTS = ("hot", "settings"), ("archive", "exports"), "projects"


def step(document: Document, changes: list[Change]) -> Document:
    """The document with copies in place of ticks."""
    made = dict(document)
    plan = document.get("plan")
    if not isinstance(plan, dict):
        return made
    stores: list[Document] = []
    copies: list[Document] = []
    pools: Any = plan.get("pools")
    if isinstance(pools, list):
        tiers = {pool.get("tier", "work") for _, pool in items_at(document, "plan/pools")}
        for path, pool in items_at(document, "plan/pools"):
            if pool.get("is_copied_nightly") is True:
                of: tuple[str, ...] = (*_OF_WORK, *_OF_ARCHIVE)
                if len(tiers) > 1:
                    of = _OF_WORK if pool.get("tier", "work") == "work" else _OF_ARCHIVE
                store, copy = _copied(str(pool.get("id")), str(pool.get("name")), of)
                stores.append(store)
                copies.append(copy)
                changes.append(_change(f"{path}/is_copied_nightly", copy["name"]))
        pools = [_without(pool, "is_copied_nightly") for pool in pools]
        plan = plan | {"pools": pools}
    brief = plan.get("brief")
    if isinstance(brief, dict) and "projects_copied" in brief:
        if brief["projects_copied"] is True:
            store, copy = _copied("projects", "Project files", (_PROJECTS,))
            stores.append(store)
            copies.append(copy)
            changes.append(_change("plan/brief/projects_copied", copy["name"]))
        plan = plan | {"brief": _without(brief, "projects_copied")}
    if copies:
        plan = plan | {"safekeeping": {"stores": stores, "copies": copies}}
    return made | {"plan": plan}


def _copied(item_id: str, name: str, of: tuple[str, ...]) -> tuple[Document, Document]:
    """(store, copy) of what was only said to be copied."""
    copied_id = f"copied-{item_id}"[:40].rstrip("-")
    store = {"id": copied_id, "name": f"Where {name[:50]} goes at night", "kind": "a box", "access": "online"}
    copy = {
        "id": copied_id,
        "name": f"{name[:60]}, every night",
        "material_ids": " ".join(of),
        "to": f"store:{copied_id}",
    }
    return store, copy


def _change(path: str, name: str) -> Change:
    said = f"What was only ticked as copied is now the copy “{name}”; where it goes, say in Safeguard."
    return Change(path, was=True, now=name, said=said)


def _without(item: Any, field: str) -> Any:
    return {key: value for key, value in item.items() if key != field} if isinstance(item, dict) else item
