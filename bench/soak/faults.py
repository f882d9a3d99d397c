"""Faults for a server; each is recorded with its start and its end."""

import contextlib
import signal
import sqlite3
import subprocess
import threading
import time
from collections.abc import Iterator
from pathlib import Path

import psutil

from tests.studio.mailbox import Mailbox
from tests.studio.serving import Served, free_port

__all__ = ["NAMES", "Faults", "Redis"]


class Faults:
    """Faults for a server: each method causes one and returns when it is over."""

    def __init__(self, served: Served, redis: "Redis", mail_port: int, has_disk: bool):
        self.served, self.redis, self.has_disk = served, redis, has_disk
        self.mail_port, self.came = mail_port, []
        self.done: list[tuple[str, float, float]] = []

    def processes(self, *words: str) -> list[psutil.Process]:
        found = []
        for one in psutil.Process(self.served.process.pid).children(recursive=True):
            with contextlib.suppress(psutil.Error):
                if all(word in " ".join(one.cmdline()) for word in words):
                    found.append(one)
        return found

    def answers(self) -> bool:
        with contextlib.suppress(OSError):
            return self.served.ask("GET", "/sign-in", at="127.0.2.1", patience=5)[0] == 200
        return False

    def kill(self, name: str) -> None:
        """Kill a process by its name, and wait until pages are served again."""
        began = time.monotonic()
        master = psutil.Process(self.served.process.pid)
        if name == "page worker":
            victims = [p for p in master.children() if p.cmdline() == master.cmdline()][:1]
        elif name == "worker for long gestures":
            victims = self.processes("studio.work.worker")[:1]
        elif name == "queue worker":
            victims = [p for m in self.processes("studio", "worker", "--processes") for p in m.children()][:1]
        elif name == "queue":
            victims = self.processes("studio", "worker", "--processes")[:1]
        elif name == "nginx":
            victims = self.processes("nginx", "master")[:1]
        else:
            victims = [master]
        for victim in victims:
            with contextlib.suppress(psutil.NoSuchProcess):
                victim.send_signal(signal.SIGKILL)
        if victims == [master]:
            self.served.process.wait(10)
            # as systemd does
            self.served.start()
        while not self.answers():
            time.sleep(0.1)
        self.done.append((name if victims else f"{name} (none was there)", began, time.monotonic()))

    def disk_full(self, seconds: float) -> None:
        began = time.monotonic()
        filler = self.served.data / "filler"
        with contextlib.suppress(OSError), filler.open("wb", buffering=0) as out:
            while True:
                out.write(bytes(1 << 16))
        time.sleep(seconds)
        filler.unlink()
        self.done.append(("the disk is full", began, time.monotonic()))

    def database_locked(self, seconds: float) -> None:
        began = time.monotonic()
        base = sqlite3.connect(self.served.data / "gouge.sqlite3", timeout=60, isolation_level=None)
        base.execute("BEGIN IMMEDIATE")
        time.sleep(seconds)
        base.execute("ROLLBACK")
        base.close()
        self.done.append(("the database is held", began, time.monotonic()))

    def redis_gone(self, seconds: float) -> None:
        began = time.monotonic()
        self.redis.kill()
        time.sleep(seconds)
        self.redis.start()
        self.done.append(("Redis is gone", began, time.monotonic()))

    @contextlib.contextmanager
    def mail_server(self, gone: tuple[float, float], began: float) -> Iterator[None]:
        """Run a mail server, with a gap of a while."""
        over = threading.Event()

        def serve() -> None:
            for until in (gone[0], None):
                with Mailbox(self.mail_port, self.came):
                    while not over.wait(0.5) and (until is None or time.monotonic() - began < until):
                        pass
                if until is not None and not over.is_set():
                    away = time.monotonic()
                    over.wait(gone[1])
                    self.done.append(("the mail server is gone", away, time.monotonic()))

        thread = threading.Thread(target=serve)
        thread.start()
        try:
            yield
        finally:
            over.set()
            thread.join()


class Redis:
    """A Redis that writes every command to disk (appendfsync always), at a port of 127.0.0.1."""

    def __init__(self, folder: Path):
        self.port, self.folder = free_port(), folder
        self.start()

    def start(self) -> None:
        command = ["redis-server", "--port", str(self.port), "--bind", "127.0.0.1", "--dir", str(self.folder)]
        command += ["--appendonly", "yes", "--appendfsync", "always", "--save", ""]
        self.process = subprocess.Popen(command, stdout=subprocess.DEVNULL)

    def kill(self) -> None:
        self.process.kill()
        self.process.wait()


NAMES = ("page worker", "worker for long gestures", "queue worker", "queue", "nginx", "all")
"""What is killed in turn."""
