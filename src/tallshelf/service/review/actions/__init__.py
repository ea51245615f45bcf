"""Acts on requests: submit, answer, take back, publish; and the routing rules."""

from tallshelf.service.review.actions.answers import sign_off, take_back
from tallshelf.service.review.actions.publication import publish
from tallshelf.service.review.actions.reassessment import reassess
from tallshelf.service.review.actions.rules import answer_rules, apply_rules
from tallshelf.service.review.actions.submission import Submission, check, read_submission, submit
from tallshelf.service.review.actions.waivers import answer_waiver, ask_waiver

__all__ = [
    "Submission",
    "answer_rules",
    "answer_waiver",
    "apply_rules",
    "ask_waiver",
    "check",
    "publish",
    "read_submission",
    "reassess",
    "sign_off",
    "submit",
    "take_back",
]
