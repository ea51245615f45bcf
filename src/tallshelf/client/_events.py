"""What happened, for programs that ask from time to time."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tallshelf.client import results
from tallshelf.client._wire import Wire


class EventCalls(Wire):
    """The stream of events."""

    def notices(self, *, unread: bool = False) -> Iterator[results.NoticeRow]:
        """Yield what you were told, newest first; only what you have not read."""
        return self._pages(results.NoticeRow, "notices", {"unread": "true" if unread else ""})

    def read_notices(self, upto: int) -> None:
        """Note that you have read what you were told, up to a notice's ``entry``."""
        self._post(results.NoticesRead, "notices/read", {"upto": upto}, repeat=True)

    def events_page(
        self, after: int = 0, *, types: Sequence[str] = (), limit: int = 200
    ) -> results.EventsPage:
        """Return events behind a number, the oldest first, and the ``next`` number to ask with."""
        params = {"after": str(after), "type": ",".join(types), "limit": str(limit)}
        return self._get(results.EventsPage, "events", params)

    def events(self, after: int = 0, *, types: Sequence[str] = ()) -> Iterator[results.CloudEvent]:
        """Yield every event behind a number that is there now, as CloudEvents; ``type`` is such as kit.moved."""
        more = True
        while more:
            page = self.events_page(after, types=types)
            yield from page.results
            after, more = page.next, page.more
