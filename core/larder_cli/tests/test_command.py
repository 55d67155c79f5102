"""The command as people run it: README's examples to the letter, keys of the contract, refusals."""

import contextlib
import io
import json
import os
import re
import shlex
import subprocess
import tempfile
import unittest
from pathlib import Path

from larder_cli.main import main

ROOT = Path(__file__).resolve().parents[3]
LARDER = str(ROOT / "larder")
KEYS = {
    "capacity --layout cow2 --drives 8x16TB": "raw_bytes layout_bytes usable_bytes plannable_bytes layout_tib "
    "usable_tib plannable_tib guaranteed_failures max_failures waterfall",
    "speed --layout raid50:2 --members 8 --read 250MB/s --write 240MB/s --kind ssd --degraded": "read_bytes_per_s "
    "read_bytes_per_s_low read_bytes_per_s_high write_bytes_per_s write_bytes_per_s_low write_bytes_per_s_high",
    "path 10GbE pcie3x4 --mtu 9000": "bytes_per_s per_flow_bytes_per_s limiting_hop hops",
    "burst --size 1TB --arrive 10GbE --drain 2GB/s --cache 0B": "seconds_to_full seconds_total mean_bytes_per_s "
    "rate_after_full_bytes_per_s seconds_to_drained peak_dirty_bytes",
    "format --width 1920 --height 1080 --fps 30000/1001 --sampling bayer --bits 12": "bytes_per_s bytes_per_frame tb_per_hour",
    "probe docs/examples/gannet-ledge.ffprobe.json": "clips",
    "coincide docs/examples/seats.json": "mean_bytes_per_s p95_bytes_per_s p99_bytes_per_s max_bytes_per_s",
    "brief 9000EUR": "brief understood",
    "rehearse demo/one-box.json --fail main@11:00": "jobs seats unwatchable_s frozen_s dirty_bytes_max "
    "conservation_error_bytes",
    "rehearse demo/one-box.json --days 3 --seed 2": "jobs seats unwatchable_p50_s unwatchable_p95_s dirty_bytes_max "
    "conservation_error_bytes",
    "mttdl --tolerates 1 --members 8 --groups 2 --mttf-hours 1e6 --mttr-hours 24 --ure 1e-15 --member-bytes 18TB "
    "--years 5": "mttdl_hours loss_probability disk_loss_probability read_error_loss_probability",
    "rebuild --drive 18TB --rate 200MB/s --share 30 --members 8 --ure 1e-15": "seconds "
    "unrecoverable_read_probability",
    "evaluate demo/tern-and-tide.json": "brief tiers wiring odds copies money scales findings",
    "copies demo/tern-and-tide.json --at-once 2": "rows",
    "fill --capacity 112TB --used 23TB --per-week 590GB --growth 10": "fill_date order_by_date weeks",
    "cost demo/tern-and-tide.json": "currency capex five_years per_raw_tb per_usable_tb per_protected_tb "
    "per_plannable_tb break_even lines",
    "advise demo/halyard-street.json --max 2": "designs rejected",
}


def run(*arguments: str) -> subprocess.CompletedProcess[str]:
    """What the command does in this process, from the root: its status and what it prints."""
    out, err = io.StringIO(), io.StringIO()
    with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err), contextlib.chdir(ROOT):
        try:
            status = main(list(arguments))
        except SystemExit as ended:
            status = int(ended.code or 0)
    return subprocess.CompletedProcess(arguments, status, out.getvalue(), err.getvalue())


class Readme(unittest.TestCase):
    def test_every_example_prints_what_the_readme_shows(self) -> None:
        blocks = re.findall(r"```console\n\$ (.*)\n((?:.*\n)*?)```", (ROOT / "README.md").read_text())
        self.assertEqual({command.split()[1] for command, _ in blocks}, {key.split()[0] for key in KEYS})
        for command, shown in blocks:
            larder, bar, then = command.partition(" | ")
            program, *arguments = shlex.split(larder)
            self.assertEqual(program, "./larder")
            answer = run(*arguments)
            self.assertEqual((answer.returncode, answer.stderr), (0, ""), command)
            piped = ["bash", "-c", then] if bar else ["cat"]
            done = subprocess.run(piped, input=answer.stdout, text=True, capture_output=True, check=True)
            self.assertEqual(done.stdout, shown, command)


class AsAProcess(unittest.TestCase):
    """The thin shell around it: from anywhere, with the answer, the refusal and the status of the command."""

    def test_it_answers_and_refuses_from_any_folder(self) -> None:
        for line in ("fill --capacity 112TB --used 23TB --per-week 590GB --from 2026-11-23", "path 3GbE"):
            here = run(*line.split())
            done = subprocess.run(
                [LARDER, *line.split()], cwd=os.sep, text=True, capture_output=True, check=False
            )
            answer = (done.returncode, done.stdout, done.stderr)
            self.assertEqual(answer, (here.returncode, here.stdout, here.stderr))


class Contract(unittest.TestCase):
    def test_each_command_prints_one_json_object_with_its_keys(self) -> None:
        for line, keys in KEYS.items():
            done = run(*line.split(), "--json")
            self.assertEqual((done.returncode, done.stderr), (0, ""), line)
            self.assertLessEqual(set(keys.split()), set(json.loads(done.stdout)), line)

    def test_when_storage_is_full_is_the_closed_form(self) -> None:
        line = "fill --capacity 100TB --used 20TB --per-week 1TB --limit 80 --lead-days 30 --from 2027-01-01 --json"
        rows = json.loads(run(*line.split()).stdout)
        self.assertEqual(rows, {"fill_date": "2028-02-25", "order_by_date": "2028-01-26", "weeks": 60.0})
        never = json.loads(run(*line.replace("1TB", "0TB").split()).stdout)
        self.assertEqual(set(never.values()), {None})

    def test_the_grid_has_a_row_a_material_and_loss(self) -> None:
        rows = json.loads(run("copies", "demo/tern-and-tide.json", "--json").stdout)["rows"]
        keys = {"material", "loss", "survivors", "recovery_point_hours", "recovery_hours"}
        self.assertTrue(all(set(row) == keys for row in rows))
        self.assertEqual(len({(row["material"], row["loss"]) for row in rows}), 6 * 11)

    def test_bad_input_is_one_sentence_on_standard_error_and_status_2(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            wrong = Path(folder, "wrong.json")
            wrong.write_text('{"jobs": []}')
            for line in (
                "", "frob", "brief", "brief gold", "brief 9000EUR --on yesterday", "rehearse", "rehearse /nowhere",
                "rehearse demo/one-box.json --days 0", "rehearse demo/one-box.json --fail attic@11:00",
                "rehearse demo/one-box.json --fail main@25:00", "rehearse demo/one-box.json --seed x", "capacity", "capacity --layout raid6 --drives 3x18TB", "capacity --layout raid6 --drives 7x18Tb",
                "capacity --layout raid5 --drives 4x1TB --headroom 100", "capacity --layout raid5 --drives 4x1TB --spares -1",
                "speed --layout raid5 --members 4 --read 0MB/s --write 1MB/s", "path 3GbE", "path 1GbE --flows 0",
                "burst --size 0TB --arrive 1MB/s --drain 1MB/s --cache 1GB", "format --width 0 --height 1 --fps 1 --sampling 422 --bits 10",
                "format --width 1 --height 1 --fps 1/0 --sampling 422 --bits 10", f"probe {wrong}", f"coincide {wrong}",
                f"evaluate {wrong}", "evaluate /nowhere", f"evaluate {folder}", "coincide docs/examples/seats.json --common 2",
                "coincide docs/examples/seats.json --common nan",
                "fill", "fill --capacity 0TB --used 0TB --per-week 1TB",
                "fill --capacity 10TB --used 11TB --per-week 1TB", "fill --capacity 10TB --used 1TB --per-week lots",
                "fill --capacity 10TB --used 1TB --per-week 1TB --growth=-5",
                "fill --capacity 10TB --used 1TB --per-week 1TB --limit 0",
                "fill --capacity 10TB --used 1TB --per-week 1TB --limit 101",
                "fill --capacity 10TB --used 1TB --per-week 1TB --from 2026-02-30",
                "fill --capacity 10TB --used 1TB --per-week 1TB --lead-days=-1", "cost", "cost /nowhere",
                "copies /nowhere", "copies demo/one-box.json --at-once 3",
                "mttdl --tolerates 1 --members 1 --groups 1 --mttf-hours 1e6 --mttr-hours 24",
                "mttdl --tolerates 1 --members 8 --groups 1 --mttf-hours 0 --mttr-hours 24",
                "mttdl --tolerates 1 --members 8 --groups 1 --mttf-hours 1e6 --mttr-hours 0",
                "mttdl --tolerates 1 --members 8 --groups 1 --mttf-hours 1e6 --mttr-hours 24 --ure 1e-15",
                "mttdl --tolerates 1 --members 8 --groups 1 --mttf-hours 1e6 --mttr-hours 24 --ure 2 --member-bytes 1TB",
                "mttdl --tolerates 1 --members 8 --groups 1 --mttf-hours 1e6 --mttr-hours 24 --years 0",
                "rebuild --drive 0TB --rate 200MB/s --share 30 --members 8 --ure 1e-15",
                "rebuild --drive 1TB --rate 200MB/s --share 0 --members 8 --ure 1e-15",
                "rebuild --drive 1TB --rate 200MB/s --share 30 --members 1 --ure 1e-15",
            ):  # fmt: skip
                done = run(*line.split(), "--json")
                self.assertEqual((done.returncode, done.stdout), (2, ""), line)
                self.assertEqual(len(done.stderr.strip().splitlines()), 1, line + done.stderr)
                self.assertNotIn("Traceback", done.stderr, line)
                self.assertTrue(done.stderr.strip().endswith("."), done.stderr)
