"""Acts on the catalog. Each is one transaction with its ledger entry."""

from tallshelf.service.catalog.actions.adoption import Adoption, adopt
from tallshelf.service.catalog.actions.items import (
    check_item_ending,
    deprecate_item,
    deprecation_of,
    keep_item,
)
from tallshelf.service.catalog.actions.known import answer_known, propose_known, shrink_known
from tallshelf.service.catalog.actions.looks import report_look
from tallshelf.service.catalog.actions.notes import answer_note, leave_note, remove_note
from tallshelf.service.catalog.actions.releases import check_ending, end_release, set_current
from tallshelf.service.catalog.actions.rulings import WORDS as RULING_WORDS
from tallshelf.service.catalog.actions.rulings import answer_ruling, rule_on
from tallshelf.service.catalog.actions.servers import (
    EDITABLE,
    change_data_class,
    change_scheme,
    edit_server,
    enrol_server,
)
from tallshelf.service.catalog.actions.style import answer_style, apply_style
from tallshelf.service.catalog.actions.suspensions import lift, suspend

__all__ = [
    "EDITABLE",
    "RULING_WORDS",
    "Adoption",
    "adopt",
    "answer_known",
    "answer_note",
    "answer_ruling",
    "answer_style",
    "apply_style",
    "change_data_class",
    "change_scheme",
    "check_ending",
    "check_item_ending",
    "deprecate_item",
    "deprecation_of",
    "edit_server",
    "end_release",
    "enrol_server",
    "keep_item",
    "leave_note",
    "lift",
    "propose_known",
    "remove_note",
    "report_look",
    "rule_on",
    "set_current",
    "shrink_known",
    "suspend",
]
