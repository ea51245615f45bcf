"""The client for programs that await: each method of `Shelf`; written by docs/write_client.py."""

from __future__ import annotations

from collections.abc import AsyncIterator, Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from tallshelf.client import results
from tallshelf.client._async import AsyncWire
from tallshelf.client._record import Record
from tallshelf.client._requests import Answer
from tallshelf.core.snapshot import Snapshot


class AsyncShelf(AsyncWire):
    """A service, as one account sees it, for programs that await; what each method does `Shelf` says."""

    async def me(self) -> results.Me:
        """Return who the token belongs to."""
        return await self._call(self._shelf.me)

    def servers(
        self,
        *,
        q: str = "",
        team: str = "",
        state: str = "",
        tag: str = "",
        data_class: str = "",
        transport: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> AsyncIterator[results.ServerRow]:
        """Yield servers, page by page: by slug, or as ``sort`` says (``-changed_at``, ``title``, ``-tokens``)."""
        return self._each(
            self._shelf.servers,
            q=q,
            team=team,
            state=state,
            tag=tag,
            data_class=data_class,
            transport=transport,
            sort=sort,
            changed_after=changed_after,
        )

    async def shelf(self) -> results.ShelfPicture:
        """Return what the shelf holds, counted by the teams that own it."""
        return await self._call(self._shelf.shelf)

    async def server(self, slug: str) -> results.ServerDetail:
        """Return one server with its releases and suspensions."""
        return await self._call(self._shelf.server, slug)

    async def release(self, slug: str, version: str = "current") -> results.ReleaseDetail:
        """Return one release."""
        return await self._call(self._shelf.release, slug, version)

    async def snapshot(self, slug: str, version: str = "current") -> Snapshot:
        """Return the snapshot of a release."""
        return await self._call(self._shelf.snapshot, slug, version)

    async def items(self, slug: str, version: str = "current", item: str = "") -> results.Items:
        """Return the items of a release as a model sees them, with findings and declared objects."""
        return await self._call(self._shelf.items, slug, version, item)

    async def connection(
        self, slug: str, version: str = "current", environment: str = ""
    ) -> results.Connection:
        """Return the connection block of a release."""
        return await self._call(self._shelf.connection, slug, version, environment)

    async def comparison(self, old: str, new: str) -> results.ReleaseComparison:
        """Return the comparison of two releases, named ``server@version``."""
        return await self._call(self._shelf.comparison, old, new)

    async def life(self, slug: str, item: str) -> results.Life:
        """Return the life of an item, such as ``tool:get_tide_times``, through all published releases."""
        return await self._call(self._shelf.life, slug, item)

    async def stand_in(self, a: str, b: str) -> results.StandIn:
        """Return whether tool ``b`` can take the place of tool ``a``, each ``server[@version]#tool``."""
        return await self._call(self._shelf.stand_in, a, b)

    async def by_digest(self, digest: str) -> results.ByDigest:
        """Return whether the bytes of a digest are approved, and as which releases."""
        return await self._call(self._shelf.by_digest, digest)

    async def find(self, text: str, *, kind: str = "", team: str = "", limit: int = 20) -> results.Found:
        """Return what does what a text says: ``results``, best first, ``respelled`` words, and the ``fit``."""
        return await self._call(self._shelf.find, text, kind=kind, team=team, limit=limit)

    async def suspensions(self) -> list[results.SuspensionRow]:
        """Return the suspensions that stand."""
        return await self._call(self._shelf.suspensions)

    def ledger(
        self, *, subject: str = "", event: str = "", sort: str = "", changed_after: datetime | None = None
    ) -> AsyncIterator[results.EntryRow]:
        """Yield the ledger, newest first; ``sort="number"``: oldest first."""
        return self._each(
            self._shelf.ledger, subject=subject, event=event, sort=sort, changed_after=changed_after
        )

    async def checkpoint(self) -> results.Checkpoint:
        """Return where the ledger stands now, signed, and the public key."""
        return await self._call(self._shelf.checkpoint)

    def export_ledger(self) -> AsyncIterator[bytes]:
        """Yield the lines of the whole ledger, as `tallshelf.core.ledger.read_export` reads them."""
        return self._each(self._shelf.export_ledger)

    async def proof(self, digest: str) -> Record:
        """Return what shows offline that the bytes of a release or snapshot digest were approved."""
        return await self._call(self._shelf.proof, digest)

    async def tokens(self) -> list[results.TokenRow]:
        """Return one's own tokens."""
        return await self._call(self._shelf.tokens)

    async def user_notes(self, slug: str, version: str = "current") -> results.UserNotes:
        """Return what users say of a release, newest first."""
        return await self._call(self._shelf.user_notes, slug, version)

    async def leave_note(self, slug: str, text: str, version: str = "current") -> results.UserNotes:
        """Leave a note on a release."""
        return await self._call(self._shelf.leave_note, slug, text, version)

    async def answer_note(self, number: int, text: str) -> results.UserNoteRow:
        """Answer a note on a release of your team."""
        return await self._call(self._shelf.answer_note, number, text)

    async def remove_note(self, number: int) -> None:
        """Remove a note of yours."""
        return await self._call(self._shelf.remove_note, number)

    async def enrol(
        self, slug: str, *, title: str, team: str, contact: str, **more: Any
    ) -> results.ServerDetail:
        """Put a server on the shelf."""
        return await self._call(self._shelf.enrol, slug, title=title, team=team, contact=contact, **more)

    async def check(
        self,
        slug: str,
        snapshot: Mapping[str, Any],
        *,
        version: str | None = None,
        launch: Sequence[Mapping[str, Any]] | None = None,
        base: str | None = None,
        breaking: bool = False,
    ) -> results.Checked:
        """Assess a snapshot as a release of a server, storing nothing; ``base`` names a version."""
        return await self._call(
            self._shelf.check, slug, snapshot, version=version, launch=launch, base=base, breaking=breaking
        )

    async def edit(self, slug: str, *, seen: str = "", **changes: Any) -> results.ServerDetail:
        """Change a server's title, contact, source_link, tags or data_class."""
        return await self._call(self._shelf.edit, slug, seen=seen, **changes)

    async def suspend(self, server: str, reason: str, item: str = "") -> results.SuspensionRow:
        """Suspend a server or one item of it at once."""
        return await self._call(self._shelf.suspend, server, reason, item)

    async def make_token(self, name: str, scopes: Sequence[str], days: int = 90) -> results.MadeToken:
        """Make a token; its secret is in the answer, this once."""
        return await self._call(self._shelf.make_token, name, scopes, days)

    async def end_token(self, number: int) -> None:
        """End a token at once."""
        return await self._call(self._shelf.end_token, number)

    def notices(self, *, unread: bool = False) -> AsyncIterator[results.NoticeRow]:
        """Yield what you were told, newest first; only what you have not read."""
        return self._each(self._shelf.notices, unread=unread)

    async def read_notices(self, upto: int) -> None:
        """Note that you have read what you were told, up to a notice's ``entry``."""
        return await self._call(self._shelf.read_notices, upto)

    async def events_page(
        self, after: int = 0, *, types: Sequence[str] = (), limit: int = 200
    ) -> results.EventsPage:
        """Return events behind a number, the oldest first, and the ``next`` number to ask with."""
        return await self._call(self._shelf.events_page, after, types=types, limit=limit)

    def events(self, after: int = 0, *, types: Sequence[str] = ()) -> AsyncIterator[results.CloudEvent]:
        """Yield every event behind a number that is there now, as CloudEvents; ``type`` is such as kit.moved."""
        return self._each(self._shelf.events, after, types=types)

    async def following(self) -> list[results.FollowingRow]:
        """Return what you follow, and how you are told of it."""
        return await self._call(self._shelf.following)

    async def follow(self, about: str, how: str = "inbox") -> list[results.FollowingRow]:
        """Choose how you are told of ``catalog``, ``server:SLUG``, ``kit:NAME`` or ``team:SLUG``."""
        return await self._call(self._shelf.follow, about, how)

    async def mail(self) -> results.Mail:
        """Return where you get mail, and how."""
        return await self._call(self._shelf.mail)

    async def set_mail(self, *, address: str | None = None, how: str | None = None) -> results.Mail:
        """Name where you get mail (a code goes there; empty: no mail), how you are told, or both."""
        return await self._call(self._shelf.set_mail, address=address, how=how)

    async def confirm_mail(self, code: str) -> results.Mail:
        """Confirm your address by the code that was sent there."""
        return await self._call(self._shelf.confirm_mail, code)

    async def webhooks(self) -> list[results.WebhookRow]:
        """Return the webhooks of your teams; of all for curators."""
        return await self._call(self._shelf.webhooks)

    async def make_webhook(
        self, team: str, address: str, *, about: str = "team", types: Sequence[str] = ()
    ) -> results.MadeWebhook:
        """Have events sent to an address; the answer has the ``secret`` that signs them, shown this once."""
        return await self._call(self._shelf.make_webhook, team, address, about=about, types=types)

    async def rotate_webhook(self, number: int) -> results.MadeWebhook:
        """Give a webhook another secret; for a day the one before signs as well."""
        return await self._call(self._shelf.rotate_webhook, number)

    async def end_webhook(self, number: int, reason: str) -> results.WebhookRow:
        """End a webhook."""
        return await self._call(self._shelf.end_webhook, number, reason)

    async def try_webhook(self, number: int) -> results.WebhookRow:
        """Have an event sent that nothing happened."""
        return await self._call(self._shelf.try_webhook, number)

    def deliveries(self, webhook: int = 0, *, state: str = "") -> AsyncIterator[results.DeliveryRow]:
        """Yield what was sent and is to be sent to a webhook, newest first; to all and by mail, for stewards."""
        return self._each(self._shelf.deliveries, webhook, state=state)

    async def resend(self, key: str) -> None:
        """Send a message again, under its own name."""
        return await self._call(self._shelf.resend, key)

    async def looks(self, slug: str) -> list[results.LookRow]:
        """Return how a server was found last where it runs, by environment."""
        return await self._call(self._shelf.looks, slug)

    async def report_look(
        self, slug: str, environment: str, snapshot: Snapshot | None = None, detail: str = ""
    ) -> results.LookRow:
        """Report how a running server was found: with what it declares, or that it was not reached."""
        return await self._call(self._shelf.report_look, slug, environment, snapshot, detail)

    def kits(
        self,
        *,
        team: str = "",
        server: str = "",
        item: str = "",
        q: str = "",
        trouble: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> AsyncIterator[results.KitRow]:
        """Yield kits by name, or as ``sort`` says; those of a team, or that hold something of a server."""
        return self._each(
            self._shelf.kits,
            team=team,
            server=server,
            item=item,
            q=q,
            trouble=trouble,
            sort=sort,
            changed_after=changed_after,
        )

    async def kit(self, name: str) -> results.KitDetail:
        """Return one kit: what it holds, what is wrong with it, what would move, and how it came to this."""
        return await self._call(self._shelf.kit, name)

    async def put_kit(self, text: str, *, reason: str = "") -> results.KitPut:
        """Put a kit, written in TOML; ``reason`` is needed where it is to see higher data than before."""
        return await self._call(self._shelf.put_kit, text, reason=reason)

    async def check_kit(self, text: str) -> results.KitCheck:
        """Return what a kit would come to now, and what of that breaks it, storing nothing."""
        return await self._call(self._shelf.check_kit, text)

    async def read_for_kit(
        self, servers: Sequence[Mapping[str, Any]], names: Sequence[str]
    ) -> results.KnownForKit:
        """Return what the catalog knows of a host's servers (name, command, args, url) and of names in texts."""
        return await self._call(self._shelf.read_for_kit, servers, names)

    async def move_kit(self, name: str, to: str = "") -> results.KitMoved:
        """Move a kit to what its picks take now, or one server of it, named ``server@version``."""
        return await self._call(self._shelf.move_kit, name, to)

    async def drop_kit(self, name: str, reason: str) -> None:
        """Take a kit off the shelf; its locks stay, and it may be put again."""
        return await self._call(self._shelf.drop_kit, name, reason)

    async def proposed_kits(self) -> list[results.NamedProposal]:
        """Return the kits that are to see higher data, and wait for a second curator."""
        return await self._call(self._shelf.proposed_kits)

    async def answer_kit(
        self, name: str, answer: Literal["agree", "decline"], note: str = ""
    ) -> results.KitAnswered:
        """Agree to that a kit sees higher data, or decline it."""
        return await self._call(self._shelf.answer_kit, name, answer, note)

    async def kit_matrix(self, *, team: str = "") -> results.KitMatrix:
        """Return servers against kits: who holds what, at which version."""
        return await self._call(self._shelf.kit_matrix, team=team)

    async def ending(self, slug: str, *, version: str = "", item: str = "") -> results.Ending:
        """Return what it would hit that a server, a release or an item is used no more, and what could stand in."""
        return await self._call(self._shelf.ending, slug, version=version, item=item)

    async def kits_of(self, slug: str) -> list[results.ReleaseHeld]:
        """Return the releases of a server, newest first, each with the kits that hold it."""
        return await self._call(self._shelf.kits_of, slug)

    async def overlaps(self, slug: str, version: str = "current") -> results.Overlaps:
        """Return what a release overlaps with (``overlaps``), and its ``mix_ups``."""
        return await self._call(self._shelf.overlaps, slug, version)

    async def check_overlaps(
        self, snapshot: Mapping[str, Any], *, server: str | None = None
    ) -> results.Overlaps:
        """Return what a snapshot overlaps with in the catalog, storing nothing."""
        return await self._call(self._shelf.check_overlaps, snapshot, server=server)

    async def overlap_groups(
        self, *, state: str = "", cls: str = "", team: str = "", within: bool = False
    ) -> list[results.Group]:
        """Return the pairs of servers that overlap: ``open`` ones, ``ruled`` ones, or all; those ``within`` one."""
        return await self._call(self._shelf.overlap_groups, state=state, cls=cls, team=team, within=within)

    async def mix_ups(self, items: Sequence[str]) -> list[results.MixUp]:
        """Return which of some items, as ``server#item``, a chooser would confuse when offered together."""
        return await self._call(self._shelf.mix_ups, items)

    def rulings(
        self,
        *,
        state: str = "",
        word: str = "",
        server: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> AsyncIterator[results.RulingRow]:
        """Yield rulings, newest first, or as ``sort`` says (``-changed_at``); those on items of a ``server``."""
        return self._each(
            self._shelf.rulings, state=state, word=word, server=server, sort=sort, changed_after=changed_after
        )

    async def rule(
        self,
        pairs: Sequence[str],
        word: Literal["distinct", "keep-both", "prefer", "merge", "same-meaning"],
        reason: str,
        *,
        preferred: str = "",
        owner: str = "",
        due: str | None = None,
        release: str = "",
        base: str = "",
    ) -> results.RulingRow:
        """Propose a word on overlaps, named by their ``pair``; a second curator agrees to it."""
        return await self._call(
            self._shelf.rule,
            pairs,
            word,
            reason,
            preferred=preferred,
            owner=owner,
            due=due,
            release=release,
            base=base,
        )

    async def answer_ruling(
        self, number: int, answer: Literal["agree", "decline", "end"], note: str = ""
    ) -> results.RulingRow:
        """Agree to a proposed ruling, decline it, or end one."""
        return await self._call(self._shelf.answer_ruling, number, answer, note)

    def requests(
        self,
        state: str = "",
        *,
        mine: bool = False,
        team: str = "",
        kind: str = "",
        q: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> AsyncIterator[results.RequestRow]:
        """Yield requests, newest first or as ``sort`` says (``-changed_at``, ``opened_at``)."""
        return self._each(
            self._shelf.requests,
            state,
            mine=mine,
            team=team,
            kind=kind,
            q=q,
            sort=sort,
            changed_after=changed_after,
        )

    async def request(self, number: int) -> results.RequestDetail:
        """Return one request."""
        return await self._call(self._shelf.request, number)

    async def inbox(self) -> list[results.InboxEntry]:
        """Return what waits for the asker, the most pressing first."""
        return await self._call(self._shelf.inbox)

    async def submit(
        self,
        slug: str,
        snapshot: Mapping[str, Any],
        *,
        version: str | None = None,
        launch: Sequence[Mapping[str, Any]] = (),
        note: str = "",
        request: int | None = None,
        breaking: bool = False,
    ) -> results.RequestDetail:
        """Ask to publish a release; the same again answers with the same request."""
        return await self._call(
            self._shelf.submit,
            slug,
            snapshot,
            version=version,
            launch=launch,
            note=note,
            request=request,
            breaking=breaking,
        )

    async def ask(self, kind: str, server: str, reason: str, **terms: Any) -> results.RequestDetail:
        """Ask for another act: ``deprecate``, ``withdraw``, ``lift``, ``data-class`` or ``version-scheme``."""
        return await self._call(self._shelf.ask, kind, server, reason, **terms)

    async def sign_off(
        self,
        number: int,
        answer: Answer,
        *,
        release_digest: str,
        assessment_digest: str,
        note: str = "",
        desk: str = "",
        conditions: Sequence[Mapping[str, str]] = (),
        despite: Mapping[str, str] | None = None,
    ) -> results.RequestDetail:
        """Answer a request about exactly one release and one assessment of it."""
        return await self._call(
            self._shelf.sign_off,
            number,
            answer,
            release_digest=release_digest,
            assessment_digest=assessment_digest,
            note=note,
            desk=desk,
            conditions=conditions,
            despite=despite,
        )

    async def publish(self, number: int) -> results.Publication:
        """Publish an agreed request."""
        return await self._call(self._shelf.publish, number)

    async def reassess(self, number: int) -> results.RequestDetail:
        """Have a request assessed anew when something that its assessment rests on has moved."""
        return await self._call(self._shelf.reassess, number)

    async def take_back(self, number: int) -> results.RequestDetail:
        """Take a request back."""
        return await self._call(self._shelf.take_back, number)

    async def take(self, number: int, *, hand_on: bool = False) -> results.RequestDetail:
        """Take a request that waits at an own desk, or hand it on."""
        return await self._call(self._shelf.take, number, hand_on=hand_on)

    async def comment(
        self,
        number: int,
        text: str,
        *,
        question: bool = False,
        objection: bool = False,
        item: str = "",
        pointer: str = "",
    ) -> results.RequestDetail:
        """Say something on a request, perhaps on a place in an item; or ask what blocks until it is answered."""
        return await self._call(
            self._shelf.comment,
            number,
            text,
            question=question,
            objection=objection,
            item=item,
            pointer=pointer,
        )

    async def answer_comment(self, number: int, comment: int, text: str) -> results.RequestDetail:
        """Answer a remark or question."""
        return await self._call(self._shelf.answer_comment, number, comment, text)

    async def follow_ups(self, state: str = "open", *, mine: bool = False) -> list[results.FollowUpRow]:
        """Return the conditions that reviewers agreed under, those due first before others."""
        return await self._call(self._shelf.follow_ups, state, mine=mine)

    async def close_follow_up(self, number: int, note: str) -> results.FollowUpRow:
        """Close a follow-up, saying what was done."""
        return await self._call(self._shelf.close_follow_up, number, note)

    async def deputies(self) -> list[results.DeputyRow]:
        """Return who signs in whose place."""
        return await self._call(self._shelf.deputies)

    async def name_deputy(self, deputy: str, until: str, since: str | None = None) -> list[results.DeputyRow]:
        """Name who signs in one's place, between two moments."""
        return await self._call(self._shelf.name_deputy, deputy, until, since)

    async def end_deputy(self, number: int) -> None:
        """End that somebody signs in one's place."""
        return await self._call(self._shelf.end_deputy, number)

    async def routing(self, version: int | None = None) -> results.Routing:
        """Return the routing rules in force, or those of a version, with their TOML as ``text``."""
        return await self._call(self._shelf.routing, version)

    async def routing_versions(self) -> list[results.RoutingRow]:
        """Return every version of the routing rules, newest first."""
        return await self._call(self._shelf.routing_versions)

    async def try_routing(self, text: str, *, days: int = 90) -> results.RoutingRehearsal:
        """Return who would have been asked by other rules, on the requests of the last days."""
        return await self._call(self._shelf.try_routing, text, days=days)

    async def apply_routing(self, text: str, note: str, *, seen: int | None = None) -> results.Routing:
        """Store routing rules: in force at once, or proposed when they ask less."""
        return await self._call(self._shelf.apply_routing, text, note, seen=seen)

    async def answer_routing(
        self, version: int, answer: Literal["agree", "decline"], note: str = ""
    ) -> results.Routing:
        """Agree to proposed routing rules, or decline them."""
        return await self._call(self._shelf.answer_routing, version, answer, note)

    async def desks(self) -> list[results.DeskRow]:
        """Return every desk, with who sits there."""
        return await self._call(self._shelf.desks)

    async def rules(self) -> list[results.Rule]:
        """Return the rules of the house style, each with its reason, settings and examples."""
        return await self._call(self._shelf.rules)

    async def style(self, version: int | None = None) -> results.Style:
        """Return the house style in force, or one by its version, with its TOML as ``text``."""
        return await self._call(self._shelf.style, version)

    async def styles(self) -> list[results.StyleRow]:
        """Return every version of the house style, newest first."""
        return await self._call(self._shelf.styles)

    def preview_style(self, text: str) -> AsyncIterator[Record]:
        """Yield how far the effect of a style is worked out (``done``, ``of``), and last the effect."""
        return self._each(self._shelf.preview_style, text)

    async def apply_style(self, text: str, note: str, *, seen: int | None = None) -> results.Style:
        """Store a house style: in force at once, or proposed when it loosens."""
        return await self._call(self._shelf.apply_style, text, note, seen=seen)

    async def answer_style(
        self, version: int, answer: Literal["agree", "decline"], note: str = ""
    ) -> results.Style:
        """Agree to a proposed house style, or decline it."""
        return await self._call(self._shelf.answer_style, version, answer, note)

    async def findings(self, slug: str, version: str = "current") -> list[results.Finding]:
        """Return what the house style says of a release."""
        return await self._call(self._shelf.findings, slug, version)

    async def lint(
        self,
        snapshot: Mapping[str, Any],
        *,
        house_style: str | None = None,
        version: str | None = None,
        server: str | None = None,
    ) -> list[results.Finding]:
        """Return the findings of a snapshot under the style in force, or another in TOML."""
        return await self._call(
            self._shelf.lint, snapshot, house_style=house_style, version=version, server=server
        )

    async def findings_summary(self) -> list[results.SummaryRow]:
        """Return how often each rule speaks in each team's current releases."""
        return await self._call(self._shelf.findings_summary)

    def places(
        self, *, rule: str = "", team: str = "", server: str = "", level: str = ""
    ) -> AsyncIterator[results.Placed]:
        """Yield the findings of all current releases with where they are, filtered."""
        return self._each(self._shelf.places, rule=rule, team=team, server=server, level=level)

    def waivers(
        self,
        *,
        server: str = "",
        state: str = "",
        rule: str = "",
        sort: str = "",
        changed_after: datetime | None = None,
    ) -> AsyncIterator[results.WaiverRow]:
        """Yield waivers, newest first, or as ``sort`` says (``until``, ``-changed_at``)."""
        return self._each(
            self._shelf.waivers, server=server, state=state, rule=rule, sort=sort, changed_after=changed_after
        )

    async def ask_waiver(
        self, server: str, rule: str, item: str, reason: str, until: str, *, pointer: str | None = None
    ) -> results.WaiverRow:
        """Ask that a rule be set aside for an item, or one place in it, until a moment (ISO 8601)."""
        return await self._call(self._shelf.ask_waiver, server, rule, item, reason, until, pointer=pointer)

    async def answer_waiver(
        self, number: int, answer: Literal["grant", "refuse", "end"], note: str = ""
    ) -> results.WaiverRow:
        """Grant, refuse or end a waiver."""
        return await self._call(self._shelf.answer_waiver, number, answer, note)

    async def known(self, slug: str) -> results.Known:
        """Return how many findings of a server are accepted as ``known``, and what is ``proposed``."""
        return await self._call(self._shelf.known, slug)

    async def propose_known(self, slug: str, reason: str) -> results.Known:
        """Propose to accept all findings of the current release as known, but for those on safety."""
        return await self._call(self._shelf.propose_known, slug, reason)

    async def answer_known(
        self, number: int, answer: Literal["agree", "decline"], note: str = ""
    ) -> results.Known:
        """Agree to a proposal of another curator about known findings, or decline it."""
        return await self._call(self._shelf.answer_known, number, answer, note)
