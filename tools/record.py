"""Write what plans that do not change are answered anew, into core/larder/tests/recorded.

Run it after a rule was changed on purpose, and read the difference: it is what the change does.
"""

from __future__ import annotations

import os
import subprocess
import sys
import tempfile
from pathlib import Path

from cluster import ROOT

CORE = ROOT / "core"
KEPT = CORE / "larder" / "tests" / "recorded"
HELPERS = ("raised", "cleared", "mended", "hold_recorded")


def main() -> int:
    """Run every module that holds recorded lines, and keep the lines that it says."""
    modules = [
        ".".join(path.relative_to(CORE).with_suffix("").parts)
        for path in sorted((CORE / "larder").rglob("test_*.py"))
        if any(helper in path.read_text() for helper in HELPERS)
    ]
    with tempfile.TemporaryDirectory() as folder:
        environment = os.environ | {"LARDER_RECORD": folder}
        done = subprocess.run(
            [sys.executable, "-m", "unittest", *modules], cwd=CORE, env=environment, check=False
        )
        for said in sorted(Path(folder).glob("*.txt")):
            lines = sorted(set(said.read_text().splitlines()))
            (KEPT / said.name).write_text("".join(f"{line}\n" for line in lines))
            print(f"{said.name}: {len(lines)} lines")
    return done.returncode


if __name__ == "__main__":
    sys.exit(main())
