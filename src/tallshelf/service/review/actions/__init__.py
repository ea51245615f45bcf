"""Acts on requests: ask, answer, talk, take, carry out; and the routing rules."""

from tallshelf.service.review.actions.answers import sign_off, take_back
from tallshelf.service.review.actions.asking import RequestDraft, ask
from tallshelf.service.review.actions.comments import answer_comment, comment
from tallshelf.service.review.actions.execution import carry_out_agreed
from tallshelf.service.review.actions.follow_ups import close_follow_up
from tallshelf.service.review.actions.publication import publish
from tallshelf.service.review.actions.reassessment import reassess
from tallshelf.service.review.actions.reminding import remind_and_escalate
from tallshelf.service.review.actions.rules import answer_rules, apply_rules
from tallshelf.service.review.actions.submission import Submission, check, read_submission, submit
from tallshelf.service.review.actions.taking import take
from tallshelf.service.review.actions.waivers import answer_waiver, ask_waiver

__all__ = [
    "RequestDraft",
    "Submission",
    "answer_comment",
    "answer_rules",
    "answer_waiver",
    "apply_rules",
    "ask",
    "ask_waiver",
    "carry_out_agreed",
    "check",
    "close_follow_up",
    "comment",
    "publish",
    "read_submission",
    "reassess",
    "remind_and_escalate",
    "sign_off",
    "submit",
    "take",
    "take_back",
]
