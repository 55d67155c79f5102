"""The core of Grand Larder: the rules of shared storage for people who edit, as pure functions.

No Django, no files, no clock: values in, values out. The names below are what the floors above use.
"""

from .bundle import Bundle
from .cache import Burst, write_burst
from .capacity import Capacity, pool_capacity
from .demand import Load, SeatClass, joint_load
from .errors import LarderError, Refused, RefusedMany
from .evaluation import Evaluation, evaluate
from .layout import LAYOUTS, Layout, parse_layout
from .media import FormatRate, format_rate
from .path import PathRate, parse_path, path_rate
from .probe import Clip, read_probe
from .reading import bundle_from, read_bundle
from .throughput import Throughput, pool_throughput

__all__ = [
    "LAYOUTS",
    "Bundle",
    "Burst",
    "Capacity",
    "Clip",
    "Evaluation",
    "FormatRate",
    "LarderError",
    "Layout",
    "Load",
    "PathRate",
    "Refused",
    "RefusedMany",
    "SeatClass",
    "Throughput",
    "bundle_from",
    "evaluate",
    "format_rate",
    "joint_load",
    "parse_layout",
    "parse_path",
    "path_rate",
    "pool_capacity",
    "pool_throughput",
    "read_bundle",
    "read_probe",
    "write_burst",
]
