"""What others install: the wheel in an environment of its own, the locks, the image, the commands."""

import contextlib
import os
import re
import socket
import subprocess
import sys
import sysconfig
import tempfile
import time
import tomllib
import unittest
import zipfile
from pathlib import Path
from urllib.request import urlopen

import yaml
from django.core.management import load_command_class
from packaging.requirements import Requirement

from studio.__main__ import COMMANDS

ROOT = Path(__file__).resolve().parents[1]
PACKAGES = ("outline", "sheet", "picture", "studio", "config")
SQUARE = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><rect x="{}" width="4" height="4"/></svg>'


def _run(*command: str | Path, at: Path = ROOT) -> subprocess.CompletedProcess:
    return subprocess.run([str(c) for c in command], cwd=at, capture_output=True, text=True, timeout=120)


def _locked(name: str) -> dict[str, str]:
    found = re.findall(r"^([\w.-]+)(?:\[.*\])?==(\S+) \\\n    --hash=sha256:", (ROOT / name).read_text(), re.M)
    return {package.lower().replace("_", "-"): version for package, version in found}


class Locks(unittest.TestCase):
    def test_they_have_all_that_is_asked_for_at_a_fitting_version(self):
        asked = tomllib.loads((ROOT / "pyproject.toml").read_text())["project"]
        extras = asked["optional-dependencies"]
        for file, names in (("requirements.txt", ("fast", "lettering", "app")), ("requirements-dev.txt", extras)):
            locked = _locked(file)
            lines = (*asked["dependencies"], *(line for name in names for line in extras[name]))
            for one in map(Requirement, lines):
                if one.name != "gouge":
                    with self.subTest(file=file, package=one.name):
                        version = locked[one.name.lower().replace("_", "-")]
                        self.assertTrue(one.specifier.contains(version, prereleases=True), version)

    def test_both_name_the_same_versions(self):
        self.assertLessEqual(_locked("requirements.txt").items(), _locked("requirements-dev.txt").items())

    def test_every_line_has_its_hashes(self):
        for name in ("requirements.txt", "requirements-dev.txt"):
            text = (ROOT / name).read_text()
            self.assertEqual(len(re.findall(r"^[\w.-]+(?:\[.*\])?==", text, re.M)), len(_locked(name)))


class Image(unittest.TestCase):
    def setUp(self):
        self.make = (ROOT / "Makefile").read_text()
        self.image = (ROOT / "Dockerfile").read_text()

    def test_it_installs_what_the_makefile_installs(self):
        (line,) = re.findall(r"--no-install-recommends (.*?) \\\n", self.image)
        wanted = set(re.findall(r"apt-([\w-]+)", self.make))
        # an image has Python; browser and Redis are the tests' own
        self.assertEqual(set(line.split()), wanted - {"python3-venv", "chromium", "redis-server", "get"})

    def test_its_steps_are_the_makefiles(self):
        for step in (
            r"pip install .*(uv==[\d.]+)",
            r"(-r requirements\.txt)",
            r"(-c requirements-dev\.txt redis \"django-storages\[s3\]\")",
            r"(-m outline\.compile)",
        ):
            with self.subTest(step):
                self.assertEqual(set(re.findall(step, self.image)), set(re.findall(step, self.make)))
                self.assertEqual(len(set(re.findall(step, self.image))), 1)

    def test_what_runs_is_a_command_of_the_app(self):
        services = yaml.safe_load((ROOT / "compose.yaml").read_text())["services"]
        self.assertEqual(set(services), {"app", "worker", "redis"})
        (started,) = re.findall(r'^CMD \["python", "manage.py", "(\w+)"\]', self.image, re.M)
        self.assertRegex(self.make, rf"manage\.py {started}\n")
        self.assertEqual(services["worker"]["command"][:3], ["python", "manage.py", "worker"])
        known = (ROOT / "config" / "settings.py").read_text()
        for name in services["app"]["environment"]:
            self.assertIn(name, known)
        for unit in (ROOT / "deploy").glob("*.service"):
            words = re.findall(r"ExecStart=\S+/gouge (\w+)", unit.read_text())
            self.assertIn(words[0], ("serve", "worker"))
            for name in re.findall(r"(GOUGE_\w+)=", unit.read_text()):
                self.assertIn(name, known + (ROOT / "config" / "gunicorn.py").read_text())


class Commands(unittest.TestCase):
    def test_each_has_a_help_with_an_example(self):
        for name in COMMANDS:
            with self.subTest(name):
                told = _run(sys.executable, "-m", "studio", name, "--help").stdout if name == "combine" else ""
                told = told or load_command_class("studio", name).create_parser("gouge", name).format_help()
                self.assertRegex(" ".join(told.split()), rf"usage: gouge {name} .*For example: .*gouge {name}\b")

    def test_without_a_name_all_are_listed(self):
        told = _run(sys.executable, "-m", "studio")
        self.assertEqual(told.returncode, 0)
        for name in ("serve", "batch", "export", "combine"):
            self.assertIn(f"\n  {name} ", told.stdout)
        wrong = _run(sys.executable, "-m", "studio", "nonsense")
        self.assertEqual(wrong.returncode, 64)
        self.assertIn("usage: gouge COMMAND", wrong.stderr)


class Wheel(unittest.TestCase):
    """One wheel, built once and installed with NumPy alone."""

    @classmethod
    def setUpClass(cls):
        folder = tempfile.TemporaryDirectory()
        cls.addClassCleanup(folder.cleanup)
        cls.folder = Path(folder.name)
        # from a copy: setuptools leaves its own folder beside what it builds
        source = cls.folder / "source"
        listed = _run("git", "ls-files", "-z", "--cached", "--others", "--exclude-standard").stdout.split("\0")
        cls.files = [name for name in listed if name and (ROOT / name).is_file()]
        for name in cls.files:
            if name.startswith(PACKAGES) or "/" not in name:
                (source / name).parent.mkdir(parents=True, exist_ok=True)
                (source / name).write_bytes((ROOT / name).read_bytes())
        built = _run(
            sys.executable, "-m", "pip", "wheel", "-q", "--no-deps", "--no-build-isolation",
            "--disable-pip-version-check", "-w", cls.folder, source,
        )  # fmt: skip
        assert built.returncode == 0, built.stderr
        (cls.wheel,) = cls.folder.glob("*.whl")
        _run(sys.executable, "-m", "venv", "--without-pip", cls.folder / "env")
        cls.bin = cls.folder / "env" / "bin"
        uv = Path(sys.executable).parent / "uv"
        if uv.exists():
            # what the tests run on was installed a while ago, and is kept
            into = [uv, "pip", "install", "-q", "--python", cls.bin / "python", cls.wheel]
            installed = _run(*into, "--offline")
            installed = installed if installed.returncode == 0 else _run(*into)
        else:
            installed = _run(sys.executable, "-m", "pip", "--python", cls.bin / "python", "install", "-q", cls.wheel)
        assert installed.returncode == 0, installed.stderr

    def test_every_file_of_the_packages_is_in_it(self):
        with zipfile.ZipFile(self.wheel) as box:
            there = set(box.namelist())
        wanted = {n for n in self.files if n.split("/")[0] in PACKAGES and not n.endswith("vendor.sh")}
        self.assertEqual(wanted - there, set())
        self.assertEqual({n.split("/")[0] for n in there if ".dist-info" not in n}, set(PACKAGES))

    def test_it_combines_two_files_with_numpy_alone(self):
        one, two = self.folder / "one.svg", self.folder / "two.svg"
        one.write_text(SQUARE.format(0))
        two.write_text(SQUARE.format(3))
        for command in ((self.bin / "outline",), (self.bin / "gouge", "combine")):
            with self.subTest(command):
                done = _run(*command, "union", one, two, "-o", "both.svg", at=self.folder)
                self.assertEqual(done.returncode, 0, done.stderr)
                self.assertIn('d="M0 0H7V4H0Z"', (self.folder / "both.svg").read_text())

    def test_the_app_runs_from_it_wherever_one_is(self):
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            port = probe.getsockname()[1]
        # the app's packages are those that the tests run on
        environment = {k: v for k, v in os.environ.items() if not k.startswith(("GOUGE_", "DJANGO_"))}
        environment |= {"PYTHONPATH": sysconfig.get_path("purelib"), "XDG_DATA_HOME": str(self.folder / "data")}
        environment |= {"GOUGE_KERNELS": "interpret", "GOUGE_WORKERS_QUEUED": "0", "GOUGE_WORKERS": "1"}
        command = [self.bin / "gouge", "demo", "--port", str(port)]
        with (self.folder / "log").open("w") as log:
            app = subprocess.Popen(command, cwd=self.folder, env=environment, stdout=log, stderr=log)
        try:
            end = time.monotonic() + 240
            while time.monotonic() < end and app.poll() is None:
                with contextlib.suppress(OSError), urlopen(f"http://127.0.0.1:{port}/sign-in", timeout=20) as answer:
                    self.assertIn(b"Open the demo", answer.read())
                    break
                time.sleep(0.2)
            else:
                self.fail((self.folder / "log").read_text())
        finally:
            app.terminate()
            app.wait(20)
        self.assertTrue((self.folder / "data" / "gouge" / "demo" / "gouge.sqlite3").exists())

    def test_what_more_it_needs_is_told(self):
        told = _run(self.bin / "gouge", "serve", at=self.folder)
        self.assertEqual(told.returncode, 1)
        self.assertIn("pip install gouge[app]", told.stderr)
        lettering = "import outline; outline.lettering('A', 'league-gothic', 10)"
        told = _run(self.bin / "python", "-c", lettering, at=self.folder)
        self.assertIn("pip install gouge[lettering]", told.stderr)
