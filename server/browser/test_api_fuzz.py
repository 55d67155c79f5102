"""Schemathesis, bounded: whatever the API is sent, it never answers with a fault of its own."""

from __future__ import annotations

import json
import subprocess
import sys
import tempfile
from pathlib import Path

from django.test import Client, LiveServerTestCase

from accounts.models import Role
from grandlarder.api import api
from larder.tests.drawn import IS_WHOLE
from tests.house import House

CHECKS = "not_a_server_error,status_code_conformance,content_type_conformance,response_schema_conformance"
EXAMPLES = 15 if IS_WHOLE else 3
PATIENCE_S = 120
"""How long an answer may take on a busy machine; how fast it has to be is measured by the bench."""


class Fuzz(LiveServerTestCase):
    def test_no_request_breaks_the_server_or_its_own_schema(self) -> None:
        house = House()
        client = Client()
        client.force_login(house.people[Role.OWNER])
        token = client.get("/api/session").json()["token"]
        cookies = "; ".join(f"{c.key}={c.value}" for c in client.cookies.values())
        schema = json.loads(json.dumps(api.get_openapi_schema(path_prefix="/api/")))
        for path in list(schema["paths"]):  # aim at what exists, or every answer would be 404
            methods = schema["paths"].pop(path)
            aimed = path.replace("{studio}", "slipway-house").replace("{plan_id}", str(house.tern.pk))
            for method in methods.values():
                gone = ("studio", "plan_id")
                method["parameters"] = [p for p in method.get("parameters", []) if p["name"] not in gone]
            if not aimed.endswith("/api/session"):  # signing out would end the run
                schema["paths"][aimed] = methods
        with tempfile.TemporaryDirectory() as folder:
            file = Path(folder, "openapi.json")
            file.write_text(json.dumps(schema))
            command = [
                str(Path(sys.executable).with_name("schemathesis")), "run", str(file), "--url", self.live_server_url,
                "--checks", CHECKS, "--max-examples", str(EXAMPLES), "--phases", "examples,fuzzing", "--seed", "7",
                "--generation-database", "none", "--no-color", "--exclude-method", "DELETE",
                "--request-timeout", str(PATIENCE_S),
                "-H", f"Cookie: {cookies}", "-H", f"X-CSRFToken: {token}",
                "-H", f"Referer: {self.live_server_url}/",
            ]  # fmt: skip
            done = subprocess.run(command, cwd=folder, text=True, capture_output=True, check=False)
        self.assertEqual(done.returncode, 0, done.stdout[-6000:] + done.stderr[-1000:])
