"""What happened, what you are told of it and how, and where it is sent."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from tallshelf.client import results
from tallshelf.client._wire import Wire, path_step
from tallshelf.core.snapshot import Snapshot


class EventCalls(Wire):
    """The stream of events, notices, following, mail and webhooks."""

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

    def following(self) -> list[results.FollowingRow]:
        """Return what you follow, and how you are told of it."""
        return self._get(results.Followings, "following").results

    def follow(self, about: str, how: str = "inbox") -> list[results.FollowingRow]:
        """Choose how you are told of ``catalog``, ``server:SLUG``, ``kit:NAME`` or ``team:SLUG``.

        ``how`` is inbox, mail, digest, nothing, or default (as if nothing had been chosen).
        """
        answer = self._send("PUT", "following", body={"about": about, "how": how}, repeat=True)
        return results.Followings.of(answer.json()).results

    def mail(self) -> results.Mail:
        """Return where you get mail, and how."""
        return self._get(results.Mail, "mail")

    def set_mail(self, *, address: str | None = None, how: str | None = None) -> results.Mail:
        """Name where you get mail (a code goes there; empty: no mail), how you are told, or both."""
        body = {name: value for name, value in (("address", address), ("how", how)) if value is not None}
        return results.Mail.of(self._send("PATCH", "mail", body=body).json())

    def confirm_mail(self, code: str) -> results.Mail:
        """Confirm your address by the code that was sent there."""
        return self._post(results.Mail, "mail/confirmation", {"code": code}, repeat=True)

    def webhooks(self) -> list[results.WebhookRow]:
        """Return the webhooks of your teams; of all for curators."""
        return self._get(results.Webhooks, "webhooks").results

    def make_webhook(
        self, team: str, address: str, *, about: str = "team", types: Sequence[str] = ()
    ) -> results.MadeWebhook:
        """Have events sent to an address; the answer has the ``secret`` that signs them, shown this once."""
        body = {"team": team, "address": address, "about": about, "types": list(types)}
        return self._post(results.MadeWebhook, "webhooks", body)

    def rotate_webhook(self, number: int) -> results.MadeWebhook:
        """Give a webhook another secret; for a day the one before signs as well."""
        return self._post(results.MadeWebhook, f"webhooks/{number}/secret", {})

    def end_webhook(self, number: int, reason: str) -> results.WebhookRow:
        """End a webhook."""
        return self._post(results.WebhookRow, f"webhooks/{number}/end", {"reason": reason})

    def try_webhook(self, number: int) -> results.WebhookRow:
        """Have an event sent that nothing happened."""
        return self._post(results.WebhookRow, f"webhooks/{number}/trial", {})

    def deliveries(self, webhook: int = 0, *, state: str = "") -> Iterator[results.DeliveryRow]:
        """Yield what was sent and is to be sent to a webhook, newest first; to all and by mail, for stewards."""
        path = f"webhooks/{webhook}/deliveries" if webhook else "deliveries"
        return self._pages(results.DeliveryRow, path, {"state": state})

    def resend(self, key: str) -> None:
        """Send a message again, under its own name."""
        self._send("POST", f"deliveries/{path_step(key)}/resend", body={})

    def looks(self, slug: str) -> list[results.LookRow]:
        """Return how a server was found last where it runs, by environment."""
        return self._get(results.Looks, f"servers/{path_step(slug)}/looks").results

    def report_look(
        self, slug: str, environment: str, snapshot: Snapshot | None = None, detail: str = ""
    ) -> results.LookRow:
        """Report how a running server was found: with what it declares, or that it was not reached."""
        body = {
            "environment": environment,
            "standing": "not reached" if snapshot is None else "reached",
            "snapshot": None if snapshot is None else snapshot.document(),
            "detail": detail,
        }
        return self._post(results.LookRow, f"servers/{path_step(slug)}/looks", body, repeat=True)
