"""Builds the wheel into `dist`, installs it into an empty environment elsewhere, and sees the demo there."""

import os
import re
import socket
import subprocess
import sys
import tempfile
import time
import venv
from pathlib import Path
from urllib.error import URLError
from urllib.request import urlopen

ROOT = Path(__file__).parent.parent


def main() -> None:
    """Ends with an error where the application, its front end or its data are not in the wheel."""
    with tempfile.TemporaryDirectory() as name:
        elsewhere = Path(name)
        run(ROOT, sys.executable, "-m", "hatchling", "build", "-t", "wheel", "-d", str(ROOT / "dist"))
        wheel = max((ROOT / "dist").glob("*.whl"), key=lambda found: found.stat().st_mtime)
        venv.create(elsewhere / "env", with_pip=True)
        python = elsewhere / "env/bin/python"
        pip = (str(python), "-m", "pip", "--quiet", "--disable-pip-version-check", "install")
        run(elsewhere, *pip, "-c", str(ROOT / "requirements.txt"), str(wheel))
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        program = [
            str(python.parent / "humble-relay"),
            "demo",
            "--data",
            str(elsewhere / "data"),
            "--port",
            str(port),
        ]
        server = subprocess.Popen(program, cwd=elsewhere, env=bare(), stdout=subprocess.DEVNULL)
        try:
            seen(f"http://127.0.0.1:{port}")
        finally:
            server.terminate()
            server.wait(10)
        print(f"dist/{wheel.name}: {wheel.stat().st_size / 1e6:.2f} MB, installed elsewhere, shows the demo.")


def run(where: Path, *command: str) -> None:
    """Runs a command in a folder, and ends with it where it fails."""
    subprocess.run(command, cwd=where, env=bare(), check=True, stdout=subprocess.DEVNULL)


def bare() -> dict[str, str]:
    """The surroundings without anything that leads back to this checkout."""
    return {k: v for k, v in os.environ.items() if k not in ("PYTHONPATH", "VIRTUAL_ENV")}


def seen(url: str) -> None:
    """The page with its scripts and styles, the demo's plan, and the reference shows."""
    page = text(url)
    for asset in re.findall(r'(?:src|href)="(/assets/[^"]+)"', page):
        assert text(url + asset), asset
    assert "saltmere-lantern-regatta" in text(f"{url}/api/plans")
    assert "proven" in text(f"{url}/api/plans/saltmere-lantern-regatta/proofs")
    assert len(re.findall('"twin"', text(f"{url}/api/examples"))) == 18


def text(url: str) -> str:
    """What is answered, as soon as anybody answers."""
    for _ in range(200):
        try:
            with urlopen(url, timeout=10) as answer:
                return str(answer.read().decode())
        except URLError as error:
            if not isinstance(error.reason, ConnectionRefusedError):
                raise
            time.sleep(0.1)
    raise SystemExit(f"nobody answers at {url}")


if __name__ == "__main__":
    main()
