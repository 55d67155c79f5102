"""Faults planted in the page's own arithmetic: the files of ``plan/`` and ``kit/`` that draw nothing."""

from __future__ import annotations

import json
import os
import subprocess

from cluster import ROOT
from mutants import Mutant

FRONTEND = ROOT / "frontend"
LISTED = ("node", "mutants.mjs")


def every() -> list[list[Mutant]]:
    """Every fault that can be planted, by file; ``change`` is its number in the page's own tool."""
    done = subprocess.run(LISTED, cwd=FRONTEND, check=True, text=True, capture_output=True)
    by_file: dict[str, list[Mutant]] = {}
    for hurt in json.loads(done.stdout):
        path = f"frontend/{hurt['file']}"
        mutant = Mutant(
            "page", hurt["file"], path, hurt["start"], hurt["number"], hurt["line"], hurt["words"]
        )
        by_file.setdefault(path, []).append(mutant)
    return list(by_file.values())


def run(mutant: Mutant) -> int:
    """0 where the tests that import the file pass with its fault."""
    command = [
        str(FRONTEND / "node_modules" / ".bin" / "vitest"), "related", "--run", "--no-isolate", "--bail=1",
        mutant.module, "--config", "mutants.config.ts",
    ]  # fmt: skip
    planted = json.dumps({"file": mutant.module, "number": mutant.change})
    done = subprocess.run(
        command,
        cwd=FRONTEND,
        env=os.environ | {"LARDER_PLANTED": planted},
        check=False,
        capture_output=True,
        timeout=180,
    )
    return done.returncode
