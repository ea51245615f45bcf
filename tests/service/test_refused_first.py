"""Who may not do an act is told so before anything is looked up, so that a refusal tells nothing of what there is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import replace
from datetime import timedelta
from typing import Any

import pytest

from tallshelf.core.errors import Denied
from tallshelf.run.scenario.player import actor
from tallshelf.service import clock
from tallshelf.service.catalog import actions as catalog
from tallshelf.service.catalog import findings, linting, queries, shelf
from tallshelf.service.catalog.overlap.layout import overlap_map
from tallshelf.service.catalog.overlap.rulings import rulings
from tallshelf.service.kits import shown as kits_shown
from tallshelf.service.ledger import queries as ledger
from tallshelf.service.people import accounts, desks, sessions
from tallshelf.service.people import actions as people
from tallshelf.service.people import queries as people_queries
from tallshelf.service.people.actor import Actor
from tallshelf.service.review import actions as review
from tallshelf.service.review import queries as review_queries
from tallshelf.service.review import routing
from tallshelf.service.review.actions.using import ask_use
from tallshelf.service.review.inbox import inbox
from tallshelf.service.telling import following, notices

NOTHING = "no-such-thing"
ACTS: dict[str, Callable[[Actor], Any]] = {
    "adopt": lambda who: catalog.adopt(who, None),
    "answer_comment": lambda who: review.answer_comment(who, 0, 0, ""),
    "answer_known": lambda who: catalog.answer_known(who, 0, NOTHING),
    "answer_rules": lambda who: review.answer_rules(who, 0, NOTHING),
    "answer_ruling": lambda who: catalog.answer_ruling(who, 0, NOTHING),
    "answer_style": lambda who: catalog.answer_style(who, 0, NOTHING),
    "apply_rules": lambda who: review.apply_rules(who, "]", ""),
    "apply_style": lambda who: catalog.apply_style(who, "]", ""),
    "add_desk": lambda who: desks.add_desk(who, "No Slug", ""),
    "add_person": lambda who: people.add_person(who, "No Name", "", NOTHING, []),
    "add_team": lambda who: people.add_team(who, "No Slug", ""),
    "change_account": lambda who: accounts.change_account(who, NOTHING, {}),
    "change_mail": lambda who: following.change_mail(who, how=NOTHING),
    "change_password": lambda who: sessions.change_password(who, "", ""),
    "check": lambda who: review.check(who, NOTHING, None),
    "check_kit": lambda who: kits_shown.check_kit(who, "]"),
    "choose_how": lambda who: following.choose_how(who, NOTHING),
    "close_follow_up": lambda who: review.close_follow_up(who, 0, ""),
    "comment": lambda who: review.comment(who, 0, ""),
    "confirm_mail": lambda who: following.confirm_mail(who, NOTHING),
    "ask_use": lambda who: ask_use(who, None, {"team": NOTHING}),
    "end_deputy": lambda who: people.end_deputy(who, 0),
    "end_session": lambda who: sessions.end_session(who, 0),
    "end_sessions": lambda who: accounts.end_sessions(who, NOTHING),
    "end_token": lambda who: people.end_token(who, 0),
    "follow": lambda who: following.follow(who, NOTHING, NOTHING),
    "invite": lambda who: accounts.invite(who, NOTHING),
    "leave_desk": lambda who: desks.leave_desk(who, NOTHING, NOTHING),
    "leave_note": lambda who: catalog.leave_note(who, NOTHING, "1", ""),
    "name_deputy": lambda who: people.name_deputy(who, NOTHING, clock.now() - timedelta(1)),
    "propose_known": lambda who: catalog.propose_known(who, NOTHING, ""),
    "seat_at_desk": lambda who: desks.seat_at_desk(who, NOTHING, NOTHING),
    "set_mail": lambda who: following.set_mail(who, NOTHING),
    "take": lambda who: review.take(who, 0),
}
READS: dict[str, Callable[[Actor], Any]] = {
    "deputies": people_queries.deputies,
    "entries": ledger.entries,
    "follow_ups": review_queries.follow_ups,
    "followings": following.followings,
    "inbox": lambda who: list(inbox(who)),
    "kit": lambda who: kits_shown.shown_kit(who, NOTHING),
    "looks": lambda who: queries.looks(who, NOTHING),
    "mail": following.mail_of,
    "notices": notices.notices,
    "overlap_map": lambda who: overlap_map(who, team=NOTHING),
    "proposals": kits_shown.proposals,
    "release": lambda who: queries.release(who, NOTHING, "1"),
    "rehearsal": lambda who: routing.rehearsal(who, "]", 0),
    "requests": lambda who: review_queries.requests(who, state=NOTHING),
    "rules": lambda who: routing.rules_document(who, 99),
    "rulings": lambda who: rulings(who, state=NOTHING),
    "servers": lambda who: shelf.servers(who, shelf.Wanted(team=NOTHING)),
    "sessions": lambda who: people_queries.sessions_of(who, ""),
    "style": lambda who: linting.style_document(who, 99),
    "summary": findings.summary,
    "teams": people_queries.teams,
    "tokens": people_queries.tokens_of,
    "waivers": lambda who: linting.waivers(who, state=NOTHING),
}


@pytest.mark.parametrize("act", [*ACTS, *READS])
def test_who_may_not_is_told_so_first_and_by_what_they_could(company, act):
    # A steward has every role's rights but by this token, which has none.
    nobody = replace(actor("pell"), via="token:1", scopes=frozenset())
    with pytest.raises(Denied) as refused:
        {**ACTS, **READS}[act](nobody)
    assert "Make a token with the scope" in (refused.value.remedy or "")
