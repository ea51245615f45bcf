"""The one error tree.

Every error carries a stable ``code``, a reason for people, a remedy, and where it
helps the places in the input that are at fault. They are mapped outward in exactly
two places: to problem documents by the service, to exit codes by the command line.

::

    ShelfError
    ├── BadArgument            a value that cannot be used (400, exit code 2)
    │   ├── BadReference       ``server@version#item`` that cannot be read
    │   └── BadDocument        refused whole (422)
    │       └── OverLimit      larger, deeper or longer than allowed (413)
    ├── NotFound               not here, or not for the asker (404, 2)
    ├── Conflict               does not fit the present state (409, 2)
    │   ├── VersionTaken
    │   ├── InputsMoved        what was agreed to has moved
    │   └── Outdated           changed since it was read (412)
    ├── Denied                 may not (403, 2)
    ├── SignInNeeded           no valid credential (401, 2)
    ├── Unreachable            no connection, or no start (502, 3)
    │   ├── TookTooLong
    │   ├── Misbehaved         a tool server against the protocol
    │   └── ServiceFault       the service failed (500)
    │       └── Unavailable    it cannot do this now (503)
    ├── TooSlow                a request did not come in time (408, 3)
    ├── LedgerBroken           the chain does not hold (503)
    └── NotInstalled           a part is missing (501, 2)
"""

from __future__ import annotations

from collections.abc import Sequence
from typing import ClassVar

from msgspec import Struct

__all__ = [
    "BadArgument",
    "BadDocument",
    "BadReference",
    "Conflict",
    "Denied",
    "InputsMoved",
    "LedgerBroken",
    "Misbehaved",
    "NotFound",
    "NotInstalled",
    "Outdated",
    "OverLimit",
    "Place",
    "ServiceFault",
    "ShelfError",
    "SignInNeeded",
    "TooSlow",
    "TookTooLong",
    "Unavailable",
    "Unreachable",
    "VersionTaken",
]


class Place(Struct, frozen=True):
    """One place in an input: a JSON Pointer (RFC 6901) and what is wrong there."""

    pointer: str
    detail: str


class ShelfError(Exception):
    """Base of all errors that Tall Shelf raises on purpose."""

    code: ClassVar[str] = "error"
    title: ClassVar[str] = "Something went wrong"

    def __init__(self, reason: str, *, remedy: str = "", places: Sequence[Place] = ()) -> None:
        super().__init__(reason)
        self.reason = reason
        self.remedy = remedy
        self.places = tuple(places)

    def __str__(self) -> str:
        return self.reason


UNREADABLE = (LookupError, TypeError, ValueError, AttributeError, ArithmeticError, ShelfError)
"""What reading stored words raises that do not have the form in which they were written."""


class BadArgument(ShelfError):
    """A value given by the caller cannot be used."""

    code = "bad-argument"
    title = "The request cannot be used as it stands"


class BadReference(BadArgument):
    """A reference such as ``server@version#item`` cannot be read."""

    code = "bad-reference"
    title = "The reference cannot be read"


class BadDocument(BadArgument):
    """A document is refused whole: not JSON, wrong envelope, duplicate keys and the like."""

    code = "bad-document"
    title = "The document is refused"


class OverLimit(BadDocument):
    """A document is larger, deeper or longer than the limits allow."""

    code = "over-limit"
    title = "The document is over a limit"


class NotFound(ShelfError):
    """Nothing of that name is here, or nothing that the asker may see."""

    code = "not-found"
    title = "Not found"


class Conflict(ShelfError):
    """The act does not fit the present state."""

    code = "conflict"
    title = "The act does not fit the present state"


class VersionTaken(Conflict):
    """A version of this server exists already, with other contents."""

    code = "version-taken"
    title = "The version exists already"


class InputsMoved(Conflict):
    """What a decision was based on has moved since; it must be looked at again."""

    code = "inputs-moved"
    title = "What was agreed to has moved"


class Outdated(Conflict):
    """What was to be changed has been changed by someone else since it was read."""

    code = "outdated"
    title = "It has been changed since"


class Denied(ShelfError):
    """The actor may not do this; the reason says why."""

    code = "denied"
    title = "Not allowed"


class SignInNeeded(ShelfError):
    """No valid credential came with the request."""

    code = "sign-in-needed"
    title = "Sign in first"


class Unreachable(ShelfError):
    """A tool server or the service could not be reached or started."""

    code = "unreachable"
    title = "Could not be reached"


class TookTooLong(Unreachable):
    """A tool server or the service did not answer within the time limit."""

    code = "took-too-long"
    title = "No answer in time"


class Misbehaved(Unreachable):
    """A tool server answered, but not as the protocol asks: nonsense, floods, endless pages."""

    code = "misbehaved"
    title = "The tool server misbehaved"


class ServiceFault(Unreachable):
    """The service answered with a fault of its own."""

    code = "service-fault"
    title = "The service failed"


class Unavailable(ServiceFault):
    """The service cannot do this now, and may soon: its disk is full, its database locked, or it is overloaded."""

    code = "unavailable"
    title = "The service cannot do this now"


class TooSlow(ShelfError):
    """A request came so slowly that the service stopped waiting for it."""

    code = "too-slow"
    title = "The request did not come in time"


class LedgerBroken(ShelfError):
    """The ledger's chain does not hold, so that nobody can be shown to be entitled to anything."""

    code = "ledger-broken"
    title = "The ledger does not hold"


class NotInstalled(ShelfError):
    """A part of Tall Shelf that this command needs is not installed."""

    code = "not-installed"
    title = "A part is not installed"
