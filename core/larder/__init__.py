"""The core of Grand Larder: the rules of shared storage for people who edit, as pure functions.

No Django, no files, no clock: values in, values out. The names below are what the floors above use.
"""

from .base.errors import LarderError, Refused, RefusedMany
from .judge.evaluation import Evaluation, evaluate
from .laws.burst import Burst, write_burst
from .laws.capacity import Capacity, pool_capacity
from .laws.demand import Load, Rush, SeatClass, joint_load
from .laws.layout import LAYOUTS, Layout, parse_layout
from .laws.media import FormatRate, format_rate
from .laws.path import PathRate, parse_path, path_rate
from .laws.throughput import Throughput, pool_throughput
from .plan.bundle import Bundle
from .readers.ffprobe import Clip, read_probe
from .readers.plan_file import bundle_from, read_bundle

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
    "Rush",
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
