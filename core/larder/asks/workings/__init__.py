"""The workings of every figure, a module a subject; each registers its own as it is read."""

from . import scales, brief, pools, caches, boxes, small_files, wiring, safeguard, growth  # noqa: F401, I001  (this is their order)
from .working import Figure, figures_in, values_in

__all__ = ["Figure", "figures_in", "values_in"]
