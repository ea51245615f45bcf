"""The closed protocol table: which kind of change has which impact, on whom.

Kinds whose ``proof`` is ``protocol-table`` are breaking by what MCP says, without a witness.
For kinds judged by schema containment the impact of the row is only a default.
"""

from __future__ import annotations

from collections.abc import Iterable

from msgspec import Struct

from tallshelf.core.changes.result import IMPACTS, Change, Impact, Reach


class Row(Struct, frozen=True):
    """One kind of change."""

    impact: Impact
    reach: tuple[Reach, ...]
    why: str
    silent: bool = False


_CALLERS: tuple[Reach, ...] = ("callers",)
_RECEIVERS: tuple[Reach, ...] = ("receivers",)
_CHOOSERS: tuple[Reach, ...] = ("choosers",)
_OPERATORS: tuple[Reach, ...] = ("operators",)

TABLE: dict[str, Row] = {
    "item-removed": Row("breaking", _CALLERS, "calls to it fail"),
    "item-added": Row("compatible", _CHOOSERS, "nobody depends on it yet"),
    "declared-twice": Row("undecided", _CALLERS, "a host may pick either of the two"),
    "schema-undecided": Row("undecided", _CALLERS, "neither a proof nor a counterexample was found"),
    "argument-refused": Row("breaking", _CALLERS, "a call that worked is refused"),
    "argument-accepted": Row("compatible", _CALLERS, "every call that worked still works"),
    "result-widened": Row("breaking", _RECEIVERS, "a result may come that was promised not to"),
    "result-narrowed": Row("compatible", _RECEIVERS, "every result is one that was promised"),
    "undeclared-member": Row("compatible", (), "only calls with members never offered differ"),
    "argument-ignored": Row(
        "caution", _CALLERS, "calls that give it are accepted, and answered as if they had not", silent=True
    ),
    "result-no-longer-declared": Row("caution", _RECEIVERS, "it may no longer be returned"),
    "result-added": Row("compatible", _RECEIVERS, "receivers may ignore it"),
    "more-differences": Row("caution", _CALLERS, "they are too many to be told one by one"),
    "output-schema-dropped": Row("breaking", _RECEIVERS, "structured results are no longer promised"),
    "output-schema-added": Row("compatible", _RECEIVERS, "results gain a promise"),
    "input-schema-missing": Row("undecided", _CALLERS, "MCP asks every tool for an input schema"),
    "prompt-argument-required": Row("breaking", _CALLERS, "prompts asked for without it fail"),
    "prompt-argument-removed": Row("breaking", _CALLERS, "MCP lets a server refuse unknown arguments"),
    "prompt-argument-optional": Row("compatible", _CALLERS, "every call that worked still works"),
    "prompt-argument-added": Row("compatible", _CALLERS, "it may be left out"),
    "capability-dropped": Row("breaking", _CALLERS, "hosts may no longer use that part of the protocol"),
    "capability-added": Row("compatible", _CALLERS, "hosts may ignore it"),
    "notices-dropped": Row("caution", _OPERATORS, "hosts are no longer told when the list changes"),
    "revision-changed": Row("caution", _OPERATORS, "the server speaks another protocol revision"),
    "task-required": Row("breaking", _CALLERS, "a plain call, which MCP allows elsewhere, is refused"),
    "task-refused": Row("breaking", _CALLERS, "calls that run as a task are refused"),
    "task-offered": Row("compatible", _CALLERS, "calls may run as a task, and need not"),
    "header-mirrored": Row("caution", _OPERATORS, "proxies see, and may act on, a header of this argument"),
    "audience-changed": Row("caution", _CHOOSERS, "hosts may show it to others than before"),
    "deprecation-marked": Row("caution", _CALLERS, "it still works, and is meant to go"),
    "launch-added": Row("compatible", _OPERATORS, "one more environment runs it"),
    "launch-removed": Row("caution", _OPERATORS, "an environment has no way to run it any more"),
    "transport-changed": Row("caution", _OPERATORS, "hosts must connect in another way"),
    "address-changed": Row("caution", _OPERATORS, "hosts and firewalls must know another address"),
    "command-changed": Row("caution", _OPERATORS, "another program is started"),
    "package-changed": Row("caution", _OPERATORS, "another package is installed"),
    "package-version-moved": Row("compatible", _OPERATORS, "another version of the same package"),
    "package-pinned": Row("compatible", _OPERATORS, "one version is installed, where any was"),
    "package-unpinned": Row("caution", _OPERATORS, "nothing says which bytes are installed"),
    "secret-needed": Row("caution", _OPERATORS, "a variable or header must be set where it runs"),
    "secret-dropped": Row("compatible", _OPERATORS, "a variable or header is no longer needed"),
    "mime-type-added": Row("compatible", _RECEIVERS, "receivers may read by it, and had nothing to read by"),
    "mime-type-changed": Row("caution", _RECEIVERS, "receivers may read the content by its type"),
    "mime-type-replaced": Row(
        "breaking", _RECEIVERS, "receivers that read by the type cannot read the content"
    ),
    "encoding-changed": Row(
        "caution", _CALLERS, "nothing validates how a text is encoded, and it is read otherwise", silent=True
    ),
    "nullable-changed": Row(
        "caution", _CALLERS, "the schema does not know the keyword, and servers act on it", silent=True
    ),
    "consent-loosened": Row("caution", _OPERATORS, "hosts ask people less before they call it"),
    "consent-misplaced": Row(
        "breaking", _OPERATORS, "hosts ask people less before a call that seems to write"
    ),
    "consent-tightened": Row("compatible", _OPERATORS, "hosts ask people more before they call it"),
    "name-changed": Row("caution", _CHOOSERS, "people and models know it by the old name"),
    "unit-moved": Row(
        "caution",
        _CALLERS,
        "the schema did not change: old calls are answered wrongly, without an error",
        silent=True,
    ),
    "limit-moved": Row("caution", _CALLERS, "a number in the text moved and the schema did not", silent=True),
    "meaning-moved": Row(
        "caution",
        _CALLERS,
        "the text now leaves out, takes in or does something else; the schema did not change",
        silent=True,
    ),
    "example-changed": Row(
        "caution", _CALLERS, "models copy examples, and the schema does not tell", silent=True
    ),
    "explanation-changed": Row(
        "caution", _CALLERS, "the same values now stand for something else, or may", silent=True
    ),
    "default-changed": Row(
        "caution", _CALLERS, "calls that leave it out now mean something else", silent=True
    ),
    "written-down": Row("compatible", _CALLERS, "the schema says what was so before"),
    "format-changed": Row(
        "caution", _CALLERS, "a format never validates, but servers read by it", silent=True
    ),
    "description-changed": Row("caution", _CHOOSERS, "a model chooses and fills by this text"),
    "description-reworded": Row("compatible", _CHOOSERS, "other words for the same"),
    "description-added": Row("compatible", _CHOOSERS, "a text where there was none"),
    "title-changed": Row("compatible", _CHOOSERS, "a label for people"),
    "instructions-changed": Row("caution", _CHOOSERS, "hosts may hand this text to the model"),
    "version-string-changed": Row("compatible", _OPERATORS, "the server's own version"),
    "metadata-changed": Row("compatible", _OPERATORS, "a field without meaning for callers"),
}


LOOSENED_CONSENT = frozenset({"consent-loosened", "consent-misplaced"})
"""The kinds by which hosts ask people less."""


def worst(changes: Iterable[Change]) -> Impact | None:
    """Return the worst impact among changes, or None when there are none."""
    found = {change.impact for change in changes}
    return next((impact for impact in IMPACTS if impact in found), None)
