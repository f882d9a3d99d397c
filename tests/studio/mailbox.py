"""A mail server that stores what it receives: as much of SMTP (RFC 5321) as Python's smtplib speaks."""

import email
import socketserver
import threading
from email.message import Message

__all__ = ["Mailbox"]


class _Talk(socketserver.StreamRequestHandler):
    def handle(self) -> None:
        self.wfile.write(b"220 here\r\n")
        while line := self.rfile.readline():
            verb = line[:4].upper()
            if verb == b"DATA":
                self.wfile.write(b"354 go on\r\n")
                text = b""
                while (line := self.rfile.readline()) not in (b".\r\n", b""):
                    text += line
                self.server.mails.append(email.message_from_bytes(text))
            self.wfile.write(b"221 bye\r\n" if verb == b"QUIT" else b"250 good\r\n")
            if verb == b"QUIT":
                return


class Mailbox(socketserver.ThreadingTCPServer):
    """Serves at a port of 127.0.0.1 while `with` lasts; `mails` is what came, put to what is there already."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int, mails: list[Message] | None = None):
        super().__init__(("127.0.0.1", port), _Talk)
        self.mails = [] if mails is None else mails

    def __enter__(self) -> "Mailbox":
        threading.Thread(target=self.serve_forever, args=(0.05,), daemon=True).start()
        return self

    def __exit__(self, *_: object) -> None:
        self.shutdown()
        self.server_close()
