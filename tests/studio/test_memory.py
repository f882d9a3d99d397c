"""Large work waits until there is memory for it, in whatever process it is."""

import os
import subprocess
import sys
import tempfile
import threading
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import numpy as np
from django.test import SimpleTestCase, override_settings
from PIL import Image

from picture.photos import probe
from picture.progress import watched
from picture.write.memory import preparing
from sheet import SheetError
from studio.work.memory import reserved

from .helpers import StudioCase

PEAK = """
import sys
from pathlib import Path
from picture.photos import decode as photos
from picture.write import memory

def now(row):
    lines = Path("/proc/self/status").read_text().splitlines()
    return next(int(line.split()[1]) for line in lines if line.startswith(row)) * 1024

file, share = Path(sys.argv[1]), float(sys.argv[2])
photos.open_upright(Path(sys.argv[3]), "warm", 0.1)
Path("/proc/self/clear_refs").write_text("5")  # the peak is counted from here on (proc(5))
before = now("VmRSS")
photos.open_upright(file, "photo", share)
print(now("VmHWM") - before, memory.decoding(file, "photo", share))
"""


class Reserved(SimpleTestCase):
    long = True

    def setUp(self):
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        settings = override_settings(DATA_DIR=self.folder, GOUGE_BUDGET=1000, GOUGE_MEMORY=6000)
        settings.enable()
        self.addCleanup(settings.disable)

    def test_ten_at_once_never_have_more_than_the_budget(self):
        held, most, lock = 0, [], threading.Lock()

        def work(size: int) -> None:
            nonlocal held
            with reserved(size):
                with lock:
                    held += size
                    most.append(held)
                time.sleep(0.05)
                with lock:
                    held -= size

        with ThreadPoolExecutor(10) as hands:
            list(hands.map(work, [400_000_000, 300_000_000] * 5))
        self.assertEqual(len(most), 10)
        self.assertLessEqual(max(most), 1_000_000_000)
        self.assertGreater(max(most), 400_000_000)

    def test_what_is_larger_than_the_budget_is_done_alone(self):
        with reserved(2_000_000_000), self.assertRaisesRegex(SheetError, "other large work"), reserved(60_000_000, 0.2):
            pass
        with reserved(60_000_000), self.assertRaises(SheetError), reserved(2_000_000_000, 0.2):
            pass
        with self.assertRaisesRegex(SheetError, r"7\.0 GB"), reserved(7_000_000_000):
            pass

    def test_small_work_waits_for_nobody(self):
        with reserved(900_000_000), reserved(20_000_000, 0.0):
            pass

    def test_who_comes_first_is_served_first(self):
        order: list[str] = []

        def work(name: str, size: int) -> None:
            with reserved(size):
                order.append(name)
                time.sleep(0.02)

        with ThreadPoolExecutor(8) as hands:
            with reserved(300_000_000):
                waiting = hands.submit(work, "large", 900_000_000)
                while not list((self.folder / "memory").glob("waiting-*")):
                    time.sleep(0.005)
                # each of these would fit beside what is at work now
                for k in range(5):
                    hands.submit(work, f"small {k}", 100_000_000)
                while len(list((self.folder / "memory").glob("waiting-*"))) < 6:
                    time.sleep(0.005)
                self.assertEqual(order, [])
            waiting.result()
        self.assertEqual(order[0], "large")
        self.assertEqual(len(order), 6)
        self.assertEqual(list((self.folder / "memory").glob("waiting-*")), [])

    def test_what_was_taken_goes_back_to_the_system(self):
        def resident() -> int:
            return int(Path("/proc/self/statm").read_text().split()[1]) * os.sysconf("SC_PAGE_SIZE")

        with reserved(200_000_000):
            held = [b"x" * (60_000 + k % 2) for k in range(3000)]
            # what lies above all of it, and is still there
            last, full = held.pop(), resident()
            del held
        end = time.monotonic() + 60
        while resident() > full - 150_000_000 and time.monotonic() < end:
            time.sleep(0.05)
        self.assertLess(resident(), full - 150_000_000)
        self.assertEqual(len(last), 60_001)

    def test_a_process_that_was_killed_leaves_its_memory(self):
        held = "with reserved(900_000_000):\n  print('in', flush=True)\n  time.sleep(60)"
        code = f"import django, time; django.setup(); from studio.work.memory import reserved\n{held}"
        environment = {**os.environ, "GOUGE_DATA": str(self.folder), "DJANGO_SETTINGS_MODULE": "config.settings"}
        other = subprocess.Popen([sys.executable, "-c", code], env=environment, stdout=subprocess.PIPE, text=True)
        self.addCleanup(other.stdout.close)
        self.assertEqual(other.stdout.readline(), "in\n")
        with self.assertRaises(SheetError), reserved(900_000_000, 0.2):
            pass
        other.kill()
        other.wait()
        with reserved(900_000_000, 1.0):
            pass

    def test_a_ticket_that_a_killed_process_left_keeps_nobody_waiting(self):
        (self.folder / "memory").mkdir()
        (self.folder / "memory" / "waiting-00000000000000000001-a").touch()
        with reserved(900_000_000, 0.5):
            pass

    def test_whoever_waits_can_be_stopped(self):
        def stop(share: float) -> None:
            raise KeyError("stopped")

        with reserved(900_000_000), watched(stop), self.assertRaises(KeyError), reserved(900_000_000):
            pass

    def test_what_is_told_beforehand_is_what_it_takes(self):
        grain = np.random.default_rng(1).integers(0, 255, (90, 100, 3), dtype=np.uint8)
        photo = Image.fromarray(grain).resize((5000, 4500), Image.Resampling.BICUBIC)
        photo.save(self.folder / "a.jpg", quality=80)
        photo.save(self.folder / "p.jpg", quality=80, progressive=True)
        photo.save(self.folder / "a.png", compress_level=1)
        photo.save(self.folder / "a.webp", quality=60, method=0)
        photo.resize((500, 450)).save(self.folder / "warm.png")
        for name, share in (
            ("a.jpg", 1.0),
            ("a.jpg", 0.3),
            ("p.jpg", 0.2),
            ("a.png", 1.0),
            ("a.png", 0.2),
            ("a.webp", 0.2),
        ):
            file = self.folder / name
            run = [sys.executable, "-c", PEAK, str(file), str(share), str(self.folder / "warm.png")]
            took, told = map(int, subprocess.run(run, capture_output=True, text=True, check=True).stdout.split())
            with self.subTest(name=name, share=share):
                self.assertLessEqual(took, told * 1.1 + 12_000_000)
                self.assertLessEqual(told, 2.5 * took + 45_000_000)

    def test_an_upload_of_200_megapixels_is_small_work(self):
        file = self.folder / "large.jpg"
        Image.new("L", (16_000, 12_500), 90).save(file, quality=60)
        info = probe.inspect(file, "large", file.stat().st_size)
        self.assertLess(preparing(file, "large", info.width, info.height), 150_000_000)


class Busy(StudioCase):
    @override_settings(GOUGE_BUDGET=10, GOUGE_SECONDS=0.2)
    def test_who_cannot_wait_is_told_and_loses_nothing(self):
        Image.new("RGB", (5000, 4000)).save(file := Path(self._folder.name) / "a.png")
        with reserved(60_000_000):
            answer = self.upload(file.read_bytes(), "a.png")
        self.assertEqual(answer.status_code, 422)
        self.assertIn("other large work", answer.json()["error"])
        again = self.upload(file.read_bytes(), "a.png")
        self.assertEqual(again.status_code, 200, again.content)
