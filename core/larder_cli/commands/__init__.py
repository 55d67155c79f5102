"""The commands, a module each; ``ANSWERS`` has them by name."""

from larder_cli.arguments import Answer

from . import (
    advise,
    brief,
    burst,
    capacity,
    coincide,
    copies,
    cost,
    evaluate,
    fill,
    mttdl,
    path,
    probe,
    rebuild,
    rehearse,
    speed,
)
from . import format as footage

__all__ = ["ANSWERS"]

ANSWERS: dict[str, Answer] = {
    "capacity": capacity.ANSWER,
    "speed": speed.ANSWER,
    "path": path.ANSWER,
    "burst": burst.ANSWER,
    "format": footage.ANSWER,
    "probe": probe.ANSWER,
    "coincide": coincide.ANSWER,
    "evaluate": evaluate.ANSWER,
    "brief": brief.ANSWER,
    "rehearse": rehearse.ANSWER,
    "mttdl": mttdl.ANSWER,
    "rebuild": rebuild.ANSWER,
    "copies": copies.ANSWER,
    "fill": fill.ANSWER,
    "cost": cost.ANSWER,
    "advise": advise.ANSWER,
}
