"""Django's commands against the database of the ./start that runs from this clone.

``.venv/bin/python tools/manage.py COMMAND ...``, for instance ``set_password technician``.
"""

from __future__ import annotations

import os
import sys

from clone import running
from cluster import ROOT, Cluster, NoCluster, home_of


def main(arguments: list[str]) -> None:
    """Become manage.py with the running database's environment."""
    from serve import environment

    result = running()
    if not result:
        print("Nothing runs from this clone: start it with ./start first.", file=sys.stderr)
        sys.exit(1)
    cluster = Cluster(home_of(ROOT))
    cluster.port = int(result["database_port"])
    try:
        env = environment(cluster)
    except NoCluster as fault:
        print(fault, file=sys.stderr)
        sys.exit(1)
    script = str(ROOT / "server" / "manage.py")
    os.execve(sys.executable, [sys.executable, script, *arguments], env)  # noqa: S606


if __name__ == "__main__":
    main(sys.argv[1:])
