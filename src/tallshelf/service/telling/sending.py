"""Sending what waits in the outbox: mail by SMTP, events by HTTP."""

from __future__ import annotations

import json
import logging
import smtplib
from collections.abc import Sequence
from typing import Any

import orjson
from django.conf import settings
from django.core.mail import EmailMultiAlternatives, get_connection
from django.utils.html import escape, format_html, format_html_join

from tallshelf.core.errors import Denied, ShelfError
from tallshelf.core.telling import CONTENT_TYPE, cloud_event, sign
from tallshelf.protocol import Bounds, HttpEndpoint, send_bytes
from tallshelf.service import clock
from tallshelf.service.ledger.models import Entry
from tallshelf.service.telling import outbox, webhooks
from tallshelf.service.telling.following import code_of
from tallshelf.service.telling.models import Delivery, MailAddress

_SECONDS = 10.0
_BOUNDS = Bounds(request_seconds=_SECONDS, total_seconds=2 * _SECONDS, bytes=200_000, attempts=1)
_SUBJECT = 120
_log = logging.getLogger("tallshelf.outbox")


def send_mail(rows: Sequence[Delivery]) -> None:
    """Send one message for rows that were claimed together: a code, a notice, or a digest."""
    first = rows[0]
    address = MailAddress.objects.filter(person=first.person).first()
    person = first.person
    if person is None or not person.is_active or address is None or not address.address:
        outbox.undeliverable(rows, "this person has no address any more, or no account")
        return
    if address.confirmed_at is None and first.notice is not None:
        outbox.undeliverable(rows, "the address was not confirmed")
        return
    try:
        message = _message(rows, address)
        with _connection() as connection:
            connection.send_messages([message])
    except smtplib.SMTPRecipientsRefused as fault:
        code = max((recipient[0] for recipient in fault.recipients.values()), default=0)
        _failed(rows, f"the address was refused: SMTP {code}", str(code), final=code >= 500)
    except smtplib.SMTPResponseException as fault:
        _failed(rows, f"the mail server answered SMTP {fault.smtp_code}", str(fault.smtp_code))
    except (OSError, smtplib.SMTPException, ValueError) as fault:
        _failed(rows, f"no mail could be sent: {type(fault).__name__}")
    else:
        outbox.sent(rows, "250")


def _failed(rows: Sequence[Delivery], error: str, answer: str = "", *, final: bool = False) -> None:
    if final:
        outbox.undeliverable(rows, error, answer)
    else:
        outbox.try_later(rows, error, answer)
    _log.info("mail was not sent: %s", error, extra={"message_id": rows[0].key})


def _connection() -> Any:
    config = settings.CONFIG
    return get_connection(
        "django.core.mail.backends.smtp.EmailBackend",
        host=config.mail_host,
        port=config.mail_port,
        username=config.mail_user,
        password=config.mail_password,
        use_tls=config.mail_security == "starttls",
        use_ssl=config.mail_security == "tls",
        timeout=_SECONDS,
    )


def _message(rows: Sequence[Delivery], address: MailAddress) -> EmailMultiAlternatives:
    config = settings.CONFIG
    first = rows[0]
    if first.notice is None:
        subject = "confirm your address"
        lines = [
            ("Confirm on your own page that this address is yours, by the code", code_of(address), "/me")
        ]
    elif first.digest:
        count = len(rows)
        subject = f"{count} thing{'' if count == 1 else 's'} since your last digest"
        lines = [_line(delivery.notice) for delivery in rows]
    else:
        subject = first.notice.words
        lines = [_line(first.notice)]
    text = "\n\n".join(f"{words}\n  {why}\n  {config.source}{page}" for words, why, page in lines)
    foot = f"What you are told, and how, is yours to choose: {config.source}/me"
    key = first.batch or first.key
    domain = config.mail_sender.rpartition("@")[2].strip("> ")
    message = EmailMultiAlternatives(
        f"[Tall Shelf] {' '.join(subject.split())[:_SUBJECT]}",
        f"{text}\n\n--\n{foot}\n",
        config.mail_sender,
        [address.address],
        headers={
            "Message-ID": f"<{key}@{domain}>",
            "Auto-Submitted": "auto-generated",
            "X-Auto-Response-Suppress": "All",
        },
    )
    message.attach_alternative(_html(lines, foot), "text/html")
    return message


def _line(notice: Any) -> tuple[str, str, str]:
    return f"{notice.words[:1].upper()}{notice.words[1:]}", f"because {notice.because}", notice.page


def _html(lines: Sequence[tuple[str, str, str]], foot: str) -> str:
    source = settings.CONFIG.source
    rows = format_html_join(
        "",
        '<p style="margin:0 0 1.2em"><strong>{}</strong><br><span style="color:#555">{}</span><br>'
        '<a href="{}">{}</a></p>',
        ((words, why, source + page, source + page) for words, why, page in lines),
    )
    return format_html(
        '<!doctype html><html lang="en"><body style="font:16px/1.5 Georgia,serif;max-width:38em">{}'
        '<p style="color:#555;font-size:14px">{}</p></body></html>',
        rows,
        escape(foot),
    )


def send_event(row: Delivery) -> None:
    """Send one event to its webhook; what fails is tried again later, longer each time."""
    webhook = row.webhook
    assert webhook is not None
    body, moment = event_body(row), int(clock.now().timestamp())
    try:
        keys = webhooks.signing_keys(webhook)
    except Denied as denied:
        outbox.undeliverable([row], denied.reason)
        return
    headers = {
        "Content-Type": f"{CONTENT_TYPE}; charset=utf-8",
        "User-Agent": "tallshelf",
        "webhook-id": row.key,
        "webhook-timestamp": str(moment),
        "webhook-signature": sign(keys, row.key, moment, body),
    }
    answer, wait = "", 0.0
    try:
        endpoint = HttpEndpoint(webhook.address, headers, webhooks.policy())
        status, retry_after = send_bytes(endpoint, _BOUNDS, body)
    except ShelfError as fault:
        error = fault.reason
    else:
        if 200 <= status < 300:
            outbox.sent([row], str(status))
            outbox.rest(webhook, None)
            return
        if status == 410:
            outbox.undeliverable([row], "the address is gone", "410")
            webhooks.end_gone(webhook)
            return
        answer, error = str(status), f"the address answered HTTP {status}"
        wait = float(retry_after) if retry_after.isascii() and retry_after.isdigit() else 0.0
    due = outbox.try_later([row], error, answer, wait)
    outbox.rest(webhook, due)
    _log.info("an event was not taken: %s", error, extra={"message_id": row.key, "webhook": webhook.pk})


def event_body(row: Delivery) -> bytes:
    """Return what is sent of an entry: the same bytes however often it is tried."""
    source = settings.CONFIG.source
    if not row.entry:
        return orjson.dumps(
            {
                "specversion": "1.0",
                "id": row.key,
                "source": source,
                "type": "tallshelf.webhook.trial",
                "time": row.made_at.isoformat(timespec="seconds").replace("+00:00", "Z"),
                "datacontenttype": "application/json",
                "data": {"words": "nothing happened; this shows that events arrive"},
            }
        )
    entry = Entry.objects.values("number", "at", "event", "hash", "body").get(pk=row.entry)
    told = cloud_event({**entry, "body": json.loads(entry["body"])}, source)
    if row.because:
        told["data"]["because"] = row.because
    return orjson.dumps(told)
