"""What a request may ask for: one value for each kind, read by service, command line and console alike."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from msgspec import Struct

from tallshelf.core.routing.classes import DATA_CLASSES
from tallshelf.core.snapshot import SCHEMES

Subject = Literal["release", "suspension", "server", "item"]


class Term(Struct, frozen=True):
    """One thing that goes with what is asked for, beside the reason; ``form`` is how it is filled in."""

    name: str
    form: Literal["date", "reference", "choice"]
    label: str
    hint: str = ""
    option: str = ""
    choices: tuple[str, ...] = ()
    required: bool = False

    def document(self) -> dict[str, Any]:
        return {
            "name": self.name,
            "form": self.form,
            "label": self.label,
            "hint": self.hint,
            "choices": list(self.choices),
            "required": self.required,
        }


class Kind(Struct, frozen=True):
    """One kind of request.

    ``subject`` is what it is on; ``asked`` whether it is asked for by `ask` (else by handing in a release);
    ``compared`` whether it is assessed as something new; ``alone`` whether a rule without sign-offs may approve
    it; ``event`` is the entry by which it is carried out, ``names`` the terms that must be in it. ``title`` is
    filled from ``subject`` and the terms; ``verb`` stands before a subject where terms are told elsewhere.
    """

    name: str
    subject: Subject
    title: str
    verb: str
    words: str
    about: str
    button: str
    done: str
    event: str
    terms: tuple[Term, ...] = ()
    names: tuple[str, ...] = ()
    asked: bool = True
    compared: bool = False
    alone: bool = True

    def titled(self, subject: str, terms: Mapping[str, Any]) -> str:
        """Return in words what a request of this kind asks for."""
        return self.title.format(subject=subject, **terms)

    def document(self) -> dict[str, Any]:
        return {
            "kind": self.name,
            "subject": self.subject,
            "verb": self.verb,
            "words": self.words,
            "about": self.about,
            "button": self.button,
            "done": self.done,
            "asked": self.asked,
            "terms": [term.document() for term in self.terms],
        }


KINDS: dict[str, Kind] = {
    kind.name: kind
    for kind in (
        Kind(
            name="publish",
            subject="release",
            title="publish {subject}",
            verb="publish",
            words="that a release is published",
            about="The desks look at what it declares, and agree to exactly these bytes.",
            button="Publish",
            done="published",
            event="release-published",
            asked=False,
            compared=True,
        ),
        Kind(
            name="deprecate",
            subject="release",
            title="deprecate {subject}",
            verb="deprecate",
            words="that nobody begins with a release any more",
            about="Once the desks agree it can still be connected to, with a warning; programs see it in the "
            "headers of every answer.",
            button="Deprecate",
            done="deprecated",
            event="release-deprecated",
            terms=(
                Term("sunset_at", "date", "Not to be used after", "May be left out.", "until"),
                Term(
                    "replacement",
                    "reference",
                    "Use instead",
                    "A server, or server@version; may be left out.",
                    "instead",
                ),
            ),
            names=("reason", "sunset_at", "replacement"),
        ),
        Kind(
            name="deprecate-item",
            subject="item",
            title="deprecate {subject}",
            verb="deprecate",
            words="that nobody begins with an item any more",
            about="Once the desks agree it can still be used, and whoever finds or holds it is told so.",
            button="Deprecate",
            done="deprecated",
            event="item-deprecated",
            terms=(
                Term("sunset_at", "date", "Not to be used after", "May be left out.", "until"),
                Term(
                    "replacement",
                    "reference",
                    "Use instead",
                    "A server, server@version or server#item; may be left out.",
                    "instead",
                ),
            ),
            names=("reason", "sunset_at", "replacement"),
        ),
        Kind(
            name="keep-item",
            subject="item",
            title="keep {subject}",
            verb="keep",
            words="that an item stays after all",
            about="It stays deprecated until the desks agree that it does not; who holds it is told then.",
            button="Keep",
            done="kept",
            event="item-kept",
            names=("reason",),
            alone=False,
        ),
        Kind(
            name="withdraw",
            subject="release",
            title="withdraw {subject}",
            verb="withdraw",
            words="that nobody uses a release any more",
            about="Once the desks agree nobody is given its connection block any more.",
            button="Withdraw",
            done="withdrawn",
            event="release-withdrawn",
            names=("reason",),
        ),
        Kind(
            name="lift",
            subject="suspension",
            title="lift the suspension of {subject}",
            verb="lift the suspension of",
            words="that a suspension ends",
            about="It stands until the desks agree that it ends.",
            button="Lift",
            done="lifted",
            event="suspension-lifted",
            alone=False,
        ),
        Kind(
            name="data-class",
            subject="server",
            title="make {subject} {data_class}",
            verb="change the data class of",
            words="that a server may see other data",
            about="The desks see what the current release is found to be under the new class.",
            button="Change the class",
            done="changed",
            event="data-class-changed",
            terms=(Term("data_class", "choice", "Data class", choices=DATA_CLASSES, required=True),),
            names=("data_class",),
            alone=False,
        ),
        Kind(
            name="version-scheme",
            subject="server",
            title="number {subject} by the {scheme} scheme",
            verb="change the version scheme of",
            words="that a server numbers its releases in another way",
            about="A calendar version says nothing of what changed: there whoever submits declares whether it breaks.",
            button="Change the scheme",
            done="numbered so",
            event="version-scheme-changed",
            terms=(
                Term("scheme", "choice", "Version scheme", option="scheme", choices=SCHEMES, required=True),
            ),
            names=("scheme",),
            alone=False,
        ),
        Kind(
            name="use",
            subject="server",
            title="let the kit {kit} use {subject}",
            verb="use",
            words="that a kit uses a server",
            about="Once its owner team agrees the kit may hold what it picks; it is asked again when it picks more.",
            button="Allow the use",
            done="allowed",
            event="use-allowed",
            names=("kit", "team", "range", "items"),
            asked=False,
            alone=False,
        ),
    )
}
REQUEST_KINDS = tuple(KINDS)
ASKED_FOR = tuple(name for name, kind in KINDS.items() if kind.asked)
ENDING = ("deprecate", "deprecate-item", "withdraw")
"""Kinds by which a release or an item ends for those who use it."""
RELEASE_KINDS = tuple(name for name, kind in KINDS.items() if kind.subject == "release")
