"""What arrives of what a service sends: an SMTP server and a receiver of webhooks of a test's own, and ways to send."""

from __future__ import annotations

import email
import fcntl
import os
import tempfile
from contextlib import contextmanager
from http.server import BaseHTTPRequestHandler
from pathlib import Path

from aiosmtpd.controller import Controller

from tallshelf.run.ports import is_free
from tallshelf.run.scenario import history
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.telling import outbox, sending, webhooks
from tallshelf.service.telling.models import MailAddress

PORT = next(
    port
    for port in range(30_000 + os.getpid() % 2_000, 32_700, 2)
    if is_free("127.0.0.1", port) and is_free("127.0.0.1", port + 1)
)
"""Below the ports that the system gives to whoever asks, so that nobody takes it meanwhile."""
SMTP = PORT + 1
HOOK = f"http://127.0.0.1:{PORT}/hooks"


@contextmanager
def alone_at_the_ports():
    """Wait until no other process that chose these ports, as forks of one do, is at them."""
    with Path(tempfile.gettempdir(), f"tallshelf-ports-{PORT}.lock").open("w") as held:
        fcntl.flock(held, fcntl.LOCK_EX)
        yield


class Hooks(BaseHTTPRequestHandler):
    """Answers with the statuses it is told, 204 after; keeps what came."""

    came: list[tuple[dict[str, str], bytes]] = []
    statuses: list[int] = []

    def do_POST(self):
        body = self.rfile.read(int(self.headers["Content-Length"]))
        self.came.append((dict(self.headers), body))
        status = self.statuses.pop(0) if self.statuses else 204
        self.send_response(status)
        if status == 302:
            self.send_header("Location", "http://127.0.0.1:1/")
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, *_):
        pass


class Box:
    def __init__(self):
        self.mails, self.answers = [], []

    async def handle_DATA(self, server, session, envelope):
        self.mails.append(email.message_from_bytes(envelope.content))
        return self.answers.pop(0) if self.answers else "250 ok"

    async def handle_RCPT(self, server, session, envelope, address, options):
        if address.startswith("gone"):
            return "550 no such mailbox"
        envelope.rcpt_tos.append(address)
        return "250 ok"


@contextmanager
def mailbox():
    box = Box()
    running = Controller(box, hostname="127.0.0.1", port=SMTP)
    running.start()
    try:
        yield box
    finally:
        running.stop()


def confirmed(who: str, how: str, address: str = "") -> None:
    MailAddress.objects.create(
        person_id=history.actor(who).id,
        address=address or f"{who}@pellam.example",
        how=how,
        asked_at=clock.now(),
        confirmed_at=clock.now(),
    )


def post(most: int = 20) -> int:
    """Send what is due, as the threads do, in this one."""
    count = 0
    for rows in outbox.claim_mails(most, ()):
        sending.send_mail(rows)
        count += 1
    for row in outbox.claim_events(most, ()):
        sending.send_event(row)
        count += 1
    return count


def suspend(reason: str = "It dreams.", item: str = "tool:book_berth"):
    return catalog.suspend(history.actor("ines"), "berth-planner", reason, item)


def text_of(mail) -> tuple[str, str]:
    return tuple(part.get_payload(decode=True).decode() for part in mail.get_payload())


def made(who: str = "tomas", **more):
    return webhooks.make_webhook(history.actor(who), "berths", HOOK, **more)
