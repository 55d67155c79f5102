"""What there is to lose: the classes of material, what each is worth, and where the one lies that people use.

A class takes its size, what changes of it and where it lives from the brief until somebody says otherwise.
"""

from __future__ import annotations

from functools import lru_cache
from typing import Annotated, Literal, NamedTuple

from pydantic import AfterValidator, Field, StringConstraints

from larder.base.errors import Refused
from larder.base.fields import Amount, Item, Name, Number, SizeBytes, labelled

from .vocabulary import Worth

MaterialKind = Literal["cards", "hot projects", "archive", "exports", "project files", "settings", "other"]
WhereKind = Literal["pool", "volume", "store", "cards", "workstations"]
_NAMED: tuple[WhereKind, ...] = ("pool", "volume", "store")
_UNNAMED: tuple[WhereKind, ...] = ("cards", "workstations")
WHERE_ACCEPTED = "pool:ID, volume:ID or store:ID"
LIVES_ACCEPTED = f"empty for where the brief puts it, cards, workstations, {WHERE_ACCEPTED}"


class Where(NamedTuple):
    """Where material lies: what kind of thing it lies on, and which; cards and workstations have no id."""

    kind: WhereKind
    id: str = ""

    @property
    def text(self) -> str:
        """As it stands in the plan file."""
        return f"{self.kind}:{self.id}" if self.id else self.kind


@lru_cache(maxsize=4_096)
def parse_where(text: str, field: str, accepted: str) -> Where:
    """What ``text`` names; raises :class:`Refused` for another grammar."""
    kind, _, item_id = text.partition(":")
    for known in _NAMED:
        if kind == known and item_id:
            return Where(known, item_id)
    for known in _UNNAMED:
        if text == known:
            return Where(known)
    raise Refused(field, text, accepted)


def _lives_on(value: str) -> str:
    return parse_where(value, "lives_on", LIVES_ACCEPTED).text if value else ""


class Material(Item):
    """A class of material. Null is what the brief tells: see :mod:`larder.stages.materials`.

    ``value`` is what it would cost to make it again, where money can do that.
    """

    name: Annotated[Name, labelled("Material")]
    kind: Annotated[MaterialKind, labelled("Kind")] = "other"
    worth: Annotated[Worth, labelled("Worth")] = "costly"
    lives_on: Annotated[
        str, StringConstraints(max_length=50), AfterValidator(_lives_on), labelled("Lives on")
    ] = ""
    bytes: Annotated[SizeBytes | None, labelled("Size", "TB", 1)] = None
    changed_bytes_per_day: Annotated[SizeBytes | None, labelled("New or changed a day", "GB", 10)] = None
    work_hours_per_day: Annotated[
        Number | None, Field(ge=0, le=24_000), labelled("People's work that goes into it a day", "h", 1)
    ] = None
    value: Annotated[Amount | None, labelled("Costs to make again", "money", 1000)] = None


USUAL_MATERIALS = (
    Material(id="cards", name="Cards on the bench", kind="cards", worth="irreplaceable"),
    Material(id="hot", name="Hot projects", kind="hot projects", worth="costly"),
    Material(id="archive", name="Archive", kind="archive", worth="irreplaceable"),
    Material(id="exports", name="Exports", kind="exports", worth="replaceable"),
    Material(id="projects", name="Project files, catalogues", kind="project files", worth="costly"),
    Material(id="settings", name="System settings", kind="settings", worth="costly"),
)
"""What every house has; a class without bytes is left out of what is drawn."""
