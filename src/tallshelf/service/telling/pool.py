"""The threads that send: in each worker process a pool of its own, so that no act and no reader waits for them.

They look for what is due twice a second, and at once when something was sent. One slow address holds one thread, and
never another address's events.
"""

from __future__ import annotations

import logging
import threading
import time
from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from typing import Any

from django.db import OperationalError, close_old_connections, connection

from tallshelf.service.unwritten import unavailable

_EVERY_SECONDS = 0.5
_MAIL_THREADS, _EVENT_THREADS = 4, 6
_log = logging.getLogger("tallshelf.outbox")


class Post:
    """What this process is sending: to whom, by which threads."""

    def __init__(self) -> None:
        self._mail = ThreadPoolExecutor(_MAIL_THREADS, "mail")
        self._events = ThreadPoolExecutor(_EVENT_THREADS, "events")
        self._people: set[int] = set()
        self._webhooks: set[int] = set()
        self._sent = threading.Event()

    def wait(self, seconds: float) -> None:
        """Wait until something was sent, or for some seconds."""
        self._sent.wait(seconds)
        self._sent.clear()

    def look(self) -> None:
        """Claim what is due and give it to the threads, as many as are free."""
        from tallshelf.service.telling import outbox, sending

        free = _MAIL_THREADS - len(self._people)
        for rows in outbox.claim_mails(free, set(self._people)) if free > 0 else ():
            self._give(self._mail, self._people, rows[0].person_id, sending.send_mail, rows)
        free = _EVENT_THREADS - len(self._webhooks)
        for row in outbox.claim_events(free, set(self._webhooks)) if free > 0 else ():
            self._give(self._events, self._webhooks, row.webhook_id, sending.send_event, row)

    def _give(
        self,
        pool: ThreadPoolExecutor,
        busy: set[int],
        whom: int | None,
        send: Callable[[Any], None],
        rows: Any,
    ) -> None:
        assert whom is not None
        busy.add(whom)

        def work() -> None:
            try:
                send(rows)
            except OperationalError as fault:
                _log.warning("what was sent could not be noted: %s", unavailable(fault).reason)
            except Exception:
                _log.exception("sending failed; it is tried again when its lease has run out")
            finally:
                connection.close()
                busy.discard(whom)
                self._sent.set()

        pool.submit(work)


def start() -> threading.Thread:
    """Start looking for what is to be sent; it ends with the process."""
    thread = threading.Thread(target=_run, name="post", daemon=True)
    thread.start()
    return thread


def _run() -> None:
    post = Post()
    while True:
        post.wait(_EVERY_SECONDS)
        close_old_connections()
        try:
            post.look()
        except OperationalError as fault:
            _log.warning("what is to be sent waits: %s", unavailable(fault).reason)
            time.sleep(_EVERY_SECONDS)
        except Exception:
            _log.exception("looking for what is to be sent failed; it is tried again")
            time.sleep(10 * _EVERY_SECONDS)
