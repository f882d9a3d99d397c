"""`make serve` attacked for real, on loopback, with bounded counts."""

import contextlib
import re
import socket
import stat
import time
import unittest

from .helpers import jpeg
from .serving import Served

FORM = b"--b\r\nContent-Disposition: form-data; name=photo; filename=sea.jpg\r\n\r\n%s\r\n--b--\r\n"
STRANGER = "127.0.0.9"


class Serving(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        super().setUpClass()
        cls.served = Served(GOUGE_ADDRESS="250")
        cls.served.__enter__()
        cls.addClassCleanup(cls.served.__exit__)

    def sent(self, path: str, size: int, headers: dict[str, str], chunked: bool = False) -> tuple[int, bytes]:
        """Send a body of zeros until it is cut off; return how many bytes went out, and the answer's head."""
        block = bytes(100_000)
        with socket.create_connection(("127.0.0.1", self.served.port), 20) as line:
            told = "Transfer-Encoding: chunked" if chunked else f"Content-Length: {size}"
            lines = [f"POST {path} HTTP/1.1", "Host: 127.0.0.1", told, "Content-Type: multipart/form-data; boundary=b"]
            lines += [f"{k}: {v}" for k, v in headers.items()]
            line.sendall("\r\n".join([*lines, "", ""]).encode())
            gone = 0
            with contextlib.suppress(OSError):
                while gone < size:
                    line.sendall(b"%x\r\n%s\r\n" % (len(block), block) if chunked else block)
                    gone += len(block)
                    line.settimeout(0.001)
                    with contextlib.suppress(TimeoutError):
                        return gone, line.recv(200)
                    line.settimeout(20)
            with contextlib.suppress(OSError):
                return gone, line.recv(200)
        return gone, b""

    def kept(self) -> int:
        """Return how many bytes of bodies lie on the disk."""
        return sum(f.stat().st_size for f in (self.served.data / "front" / "bodies").rglob("*") if f.is_file())

    def test_a_body_above_the_limit_is_cut_off_while_it_arrives(self):
        for chunked in (False, True):
            with self.subTest(chunked=chunked):
                gone, answer = self.sent("/sign-in", 300_000_000, {}, chunked)
                self.assertIn(b" 413 ", answer.split(b"\r\n")[0])
                self.assertLess(gone, 30_000_000)
        gone, answer = self.sent(f"/p/{self.served.pk}/photos", 1 << 30, self.served.headers())
        self.assertIn(b" 413 ", answer.split(b"\r\n")[0])
        self.assertLess(gone, 30_000_000)
        self.assertEqual(self.kept(), 0)

    def test_files_of_strangers_are_refused_by_their_head_alone(self):
        for headers in ({}, self.served.headers(signed_in=False), {**self.served.headers(), "X-CSRFToken": "b" * 32}):
            gone, answer = self.sent(f"/p/{self.served.pk}/photos", 90_000_000, headers)
            self.assertIn(b" 403 ", answer.split(b"\r\n")[0])
            self.assertLess(gone, 30_000_000)
        self.assertEqual(self.kept(), 0)
        body = FORM % jpeg()
        kind = {"Content-Type": "multipart/form-data; boundary=b"}
        status, _, told = self.served.ask(
            "POST", f"/p/{self.served.pk}/photos", body, {**self.served.headers(), **kind}
        )
        self.assertEqual(status, 200, told)

    def test_slow_connections_keep_nobody_waiting(self):
        lines = []
        try:
            for k in range(200):
                line = socket.create_connection(("127.0.0.1", self.served.port), 5, (STRANGER, 0))
                lines.append(line)
                if k % 2:
                    line.sendall(b"GET /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nX-")
                else:
                    line.sendall(b"POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 5000\r\n\r\nu")
            for _ in range(5):
                for line in lines:
                    with contextlib.suppress(OSError):
                        line.sendall(b"a")
                for _ in range(4):
                    self.assertEqual(self.served.ask("GET", "/sign-in")[0], 200)
        finally:
            for line in lines:
                line.close()

    def test_an_address_has_so_many_connections_and_no_more(self):
        lines = []
        try:
            for _ in range(260):
                line = socket.create_connection(("127.0.0.1", self.served.port), 5, ("127.0.0.8", 0))
                lines.append(line)
                line.sendall(b"POST /sign-in HTTP/1.1\r\nHost: 127.0.0.1\r\nContent-Length: 5000\r\n\r\nu")
            end = time.monotonic() + 30
            # they are counted as they are accepted
            while self.served.ask("GET", "/sign-in", at="127.0.0.8")[0] != 429:
                self.assertLess(time.monotonic(), end)
            self.assertEqual(self.served.ask("GET", "/sign-in")[0], 200)
        finally:
            for line in lines:
                line.close()

    def test_the_address_that_counts_is_the_one_that_the_front_saw(self):
        lied = {**self.served.headers(False), "X-Real-IP": "10.0.0.1", "X-Forwarded-For": "10.0.0.2"}
        lied["Content-Type"] = "application/x-www-form-urlencoded"
        for k in range(11):
            body = f"username=nobody{k}&password=x".encode()
            # hashing has the lowest priority: beside other tests it may wait long
            headers = {**lied, "Accept": "text/html"}
            status, _, told = self.served.ask("POST", "/sign-in", body, headers, "127.0.0.7", patience=90)
        self.assertEqual(status, 429)
        self.assertIn(b"Try again in 10 minutes", told)

    def test_pages_scripts_and_the_database(self):
        status, head, page = self.served.ask("GET", "/sign-in", headers={"Accept-Encoding": "gzip"})
        self.assertEqual((status, head["Content-Encoding"]), (200, "gzip"))
        self.assertIn("no-store", head["Cache-Control"])
        names = re.findall(
            rb'"(/static/[^"]+)"', self.served.ask("GET", f"/p/{self.served.pk}/", headers=self.served.headers())[2]
        )
        self.assertGreater(len(names), 5)
        for name in {n.decode() for n in names}:
            self.assertRegex(name, r"\.[0-9a-f]{12}\.\w+$")
            status, head, _ = self.served.ask("GET", name)
            self.assertEqual(status, 200, name)
            self.assertIn("immutable", head["Cache-Control"])
        for file in self.served.data.glob("gouge.sqlite3*"):
            self.assertEqual(stat.S_IMODE(file.stat().st_mode), 0o600, file)

    def test_nothing_that_is_written_can_be_read_by_another_user_of_the_machine(self):
        photo = FORM % jpeg()
        files = {**self.served.headers(), "Content-Type": "multipart/form-data; boundary=b"}
        self.assertEqual(self.served.ask("POST", f"/p/{self.served.pk}/photos", photo, files)[0], 200)
        asked = {**self.served.headers(False), "Content-Type": "application/x-www-form-urlencoded"}
        status, _, _ = self.served.ask("POST", "/forgotten", b"email=ada%40example.org", asked)
        self.assertEqual(status, 302)
        end = time.monotonic() + 180
        while not list(self.served.data.glob("post-box/*")):
            self.assertLess(time.monotonic(), end, "no mail came")
            time.sleep(0.1)
        ours = {"log"}
        for there in [self.served.data, *self.served.data.rglob("*")]:
            if there.name not in ours:
                self.assertEqual(stat.S_IMODE(there.stat().st_mode) & 0o077, 0, there)
        for name in ("queue.sqlite3", "media/photos", "media/previews"):
            self.assertTrue((self.served.data / name).exists(), name)

    def test_a_wrong_host_is_one_line_in_the_log(self):
        before = self.served.said()
        status, _, _ = self.served.ask("GET", "/", headers={"Host": "elsewhere.example"})
        self.assertEqual(status, 400)
        end = time.monotonic() + 30
        while "elsewhere.example" not in self.served.said()[len(before) :]:
            self.assertLess(time.monotonic(), end)
            time.sleep(0.02)
        # what would come after it in the log is there once another request has its answer
        self.assertEqual(self.served.ask("GET", "/health")[0], 200)
        lines = self.served.said()[len(before) :].splitlines()
        self.assertEqual(len([line for line in lines if "elsewhere.example" in line]), 1)
        self.assertNotIn("Traceback", self.served.said()[len(before) :])
