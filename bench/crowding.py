"""What other people notice of 200 slow connections, and of somebody guessing passwords."""

import contextlib
import socket
import statistics
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager

from picture.periodic import repeating
from tests.studio.serving import Served

__all__ = ["run"]

SLOW = 200
STRANGERS = 12


def _p95(served: Served, seconds: float = 6.0) -> tuple[float, float]:
    """Return the median and p95 (s) of a signed-in person's requests for a project's snapping lines."""
    times = []
    end = time.perf_counter() + seconds
    while time.perf_counter() < end:
        start = time.perf_counter()
        status, _, _ = served.ask("GET", f"/p/{served.pk}/snaps", headers=served.headers())
        assert status == 200
        times.append(time.perf_counter() - start)
        time.sleep(0.01)
    return statistics.median(times), statistics.quantiles(times, n=20)[-1]


@contextmanager
def _slow(served: Served) -> Iterator[None]:
    """Keep connections open that send a byte now and then."""
    lines = []

    def drip() -> None:
        for line in lines:
            with contextlib.suppress(OSError):
                line.sendall(b"a")

    for k in range(SLOW):
        line = socket.create_connection(("127.0.0.1", served.port), 5, ("127.0.0.9", 0))
        head = b"GET /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nX-"
        body = b"POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 5000\r\n\r\nu"
        line.sendall(head if k % 2 else body)
        lines.append(line)
    try:
        with repeating(0.5, drip):
            yield
    finally:
        for line in lines:
            line.close()


@contextmanager
def _passwords(served: Served) -> Iterator[None]:
    """Have strangers try passwords, each from an address and for an account of their own."""
    over = threading.Event()

    def tried(number: int) -> None:
        headers = {**served.headers(False), "Content-Type": "application/x-www-form-urlencoded", "Accept": "text/html"}
        count = 0
        while not over.is_set():
            count += 1
            body = f"username=nobody{number}-{count // 8}&password=x".encode()
            with contextlib.suppress(OSError):
                served.ask("POST", "/sign-in", body, headers, f"127.0.1.{number * 16 + count // 8 % 16}")

    hands = [threading.Thread(target=tried, args=(n,)) for n in range(1, STRANGERS + 1)]
    for hand in hands:
        hand.start()
    try:
        yield
    finally:
        over.set()
        for hand in hands:
            hand.join()


def run() -> list[tuple[str, float, str]]:
    """Return (what, ratio, limit) rows."""
    with Served(GOUGE_ADDRESS="250") as served:
        _p95(served, 2.0)
        usual = _p95(served)
        with _slow(served):
            slow = _p95(served)
        again = _p95(served)
        with _passwords(served):
            tried = _p95(served)
    for what, (middle, high) in (("usual", usual), ("slow", slow), ("usual again", again), ("passwords", tried)):
        print(f"  {what:12s} median {middle * 1e3:5.1f} ms, p95 {high * 1e3:5.1f} ms")
    return [
        (f"p95 beside {SLOW} slow connections ÷ usual", slow[1] / usual[1], "≤ 2"),
        (f"median beside {STRANGERS} strangers who try passwords ÷ usual", tried[0] / again[0], ""),
    ]
