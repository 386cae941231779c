"""What ships to run a shop for years: units that systemd reads, and the commands that they and the containers name."""

import os
import re
import shutil
import subprocess
import time
import urllib.error
import urllib.request
from pathlib import Path

import pytest
import yaml

from tests.breadth import breadth
from tests.machines import Broker, free_port
from tests.running import ROOT, wait_until

DEPLOY = ROOT / "deploy"
UNITS = sorted((DEPLOY / "systemd").iterdir())
SERVER, WORKER = (next(unit for unit in UNITS if unit.name.startswith(name)) for name in ("horismos.", "horismos-w"))


def command_of(unit: Path) -> list[str]:
    (line,) = re.findall(r"^ExecStart=(.+)$", unit.read_text(), re.M)
    return str(line).replace("/opt/horismos/horismos", str(ROOT / "horismos")).replace("%i", "north").split()


@pytest.mark.skipif(shutil.which("systemd-analyze") is None, reason="no systemd-analyze on this machine")
@pytest.mark.parametrize("unit", UNITS, ids=lambda unit: unit.name)
def test_systemd_reads_the_units(unit: Path, tmp_path: Path) -> None:
    """As they are, but for the program and the account, which are not installed here."""
    name = unit.name.replace("@.", "@north.")
    said = unit.read_text().replace("/opt/horismos/horismos", "/bin/true").replace("User=horismos", "User=root")
    (tmp_path / name).write_text(said.replace("Group=horismos", "Group=root"))
    done = subprocess.run(
        ["systemd-analyze", "verify", "--man=no", str(tmp_path / name)], capture_output=True, text=True, check=False
    )
    about_it = [line for line in done.stderr.splitlines() if name in line]
    assert done.returncode == 0 and not about_it, done.stderr


def test_containers_run_the_same_commands_and_name_what_there_is() -> None:
    compose = yaml.safe_load((DEPLOY / "compose.yaml").read_text())
    services = compose["services"]
    assert set(services) == {"redis", "server", "worker-north", "worker-south", "proxy"}
    for name, command in {"server": command_of(SERVER), "worker-north": command_of(WORKER)}.items():
        said = services[name]["command"]
        assert said[0] == "./horismos" and said[1] == command[1] and said[2] == command[2], name
        assert services[name]["environment"]["HORISMOS_STORE"] == "/store", "one store for all"
    assert (ROOT / services["server"]["build"]["dockerfile"]).is_file()
    used = {volume.split(":")[0] for name in ("server", "worker-north") for volume in services[name]["volumes"]}
    assert set(compose["volumes"]) >= used
    proxy = (DEPLOY / "nginx.conf").read_text()
    address = services["proxy"]["networks"]["inside"]["ipv4_address"]
    assert services["server"]["environment"]["HORISMOS_PROXIES"] == address
    assert "server server:8040;" in proxy and "location = /metrics" in proxy
    known = (ROOT / "docs" / "running.md").read_text() + (ROOT / "docs" / "scaling.md").read_text()
    named = set(re.findall(r"HORISMOS_[A-Z_]+", "".join(path.read_text() for path in (
        DEPLOY / "horismos.env", DEPLOY / "compose.yaml", DEPLOY / "Containerfile", *UNITS
    ))))
    assert all(f"`{name}" in known for name in named), named


def asked(port: int, path: str) -> tuple[int, str]:
    request = urllib.request.Request(f"http://127.0.0.1:{port}{path}", headers={"Host": "another.example"})
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            return answer.status, answer.read().decode()
    except urllib.error.HTTPError as error:
        return error.code, error.read().decode()
    except OSError:
        return 0, ""


@breadth(0.17, "several machines")
def test_the_commands_of_the_units_bring_a_shop_up_that_is_ready_once_a_worker_is(tmp_path: Path) -> None:
    broker, port = Broker(tmp_path), free_port()
    environment = {
        **{name: value for name, value in os.environ.items() if not name.startswith("HORISMOS_")},
        "HORISMOS_VAR": str(tmp_path / "var"), "HORISMOS_BROKER": broker.address, "HORISMOS_TLS": "1",
        "HORISMOS_STORE": str(tmp_path / "store"), "HORISMOS_HOSTS": "shop.example", "HORISMOS_PROXIES": "127.0.0.1",
        "HORISMOS_CACHE": str(tmp_path / "cache"), "HORISMOS_LOG": "ERROR",
    }
    serve = [part.replace("8040", str(port)) for part in command_of(SERVER)]
    quiet = {"stdout": subprocess.DEVNULL, "stderr": subprocess.DEVNULL, "env": environment}
    server = subprocess.Popen(serve, **quiet)  # type: ignore[call-overload]
    worker = None
    try:
        assert wait_until(lambda: asked(port, "/healthz") == (200, "ok\n"), 120)
        code, why = asked(port, "/readyz")
        assert code == 503 and "no worker" in why
        worker = subprocess.Popen(command_of(WORKER), **quiet)  # type: ignore[call-overload]
        assert wait_until(lambda: asked(port, "/readyz") == (200, "ready\n"), 120)
        assert "horismos_workers{" in asked(port, "/metrics")[1]
        assert asked(port, "/")[0] in (301, 400), "people come through the proxy alone"
    finally:
        for process in (worker, server):
            if process is not None:
                process.terminate()
                process.wait(60)
        broker.stop()
        time.sleep(0.1)
