"""The table of commands: where each lives, and one line on what it does.

Only the module of the command that is asked for is imported, so that help and completion
stay quick; for the same reason nothing slow to load (typing) is used here.
"""

from __future__ import annotations


class Command:
    """One command of the command line: its name, module, summary and group in the overview."""

    __slots__ = ("group", "module", "name", "summary")

    def __init__(self, name: str, module: str, summary: str, group: str) -> None:
        self.name = name
        self.module = module
        self.summary = summary
        self.group = group


_FILES = "Without a service"
_SERVICE = "With a service"
_RUN = "Running the service"

COMMANDS: dict[str, Command] = {
    name: Command(name, module, summary, group)
    for group, rows in {
        _FILES: [
            ("capture", "tallshelf.cli.capture", "take a snapshot of a running tool server"),
            ("try", "tallshelf.cli.try_", "call one tool of a running server once"),
            ("outline", "tallshelf.cli.outline", "show a snapshot as a model will see it"),
            ("lint", "tallshelf.cli.lint", "check names and descriptions against the house style"),
            ("compare", "tallshelf.cli.compare", "say what breaks between two releases, and for whom"),
            ("overlap", "tallshelf.cli.overlap", "find tools that do the same job"),
            ("check", "tallshelf.cli.check", "all of the above on one page, with one exit code for CI"),
        ],
        _SERVICE: [
            ("sign-in", "tallshelf.cli.sign_in", "keep a token for a service"),
            ("find", "tallshelf.cli.find", "find servers and tools by what they do"),
            ("enrol", "tallshelf.cli.enrol", "put a server on the shelf"),
            ("submit", "tallshelf.cli.submit", "ask to publish a release"),
            ("ask", "tallshelf.cli.ask", "ask that a release ends, or for another act on a server"),
            ("queue", "tallshelf.cli.queue", "list the requests that wait"),
            ("inbox", "tallshelf.cli.inbox", "list what waits for you"),
            ("show", "tallshelf.cli.show", "show a server, a release, an item or a request"),
            ("answer", "tallshelf.cli.answer", "agree to a request, send it back or decline it"),
            ("comment", "tallshelf.cli.comment", "say something on a request, ask, or answer"),
            ("follow-up", "tallshelf.cli.follow_up", "list what reviewers agreed under, and close it"),
            ("deputy", "tallshelf.cli.deputy", "name who signs in your place while you are away"),
            ("publish", "tallshelf.cli.publish", "publish a request that everybody agreed to"),
            ("connect", "tallshelf.cli.connect", "print the block that connects a host to a release"),
            ("kit", "tallshelf.cli.kit", "put, check and move the pick of tools that an agent works with"),
            ("note", "tallshelf.cli.note", "say how a release works for you, and answer what users say"),
            ("follow", "tallshelf.cli.follow", "choose what you are told of, and how"),
            ("mail", "tallshelf.cli.mail", "say where you get mail"),
            (
                "webhook",
                "tallshelf.cli.webhook",
                "have events sent to an address, and see what became of them",
            ),
            ("style", "tallshelf.cli.style", "show, preview and change the service's house style"),
            ("waiver", "tallshelf.cli.waiver", "ask for exceptions to rules, and grant them"),
            ("known", "tallshelf.cli.known", "accept today's findings of a server as known"),
            ("ruling", "tallshelf.cli.ruling", "list the catalog's overlaps, and decide on them"),
            (
                "routing",
                "tallshelf.cli.routing",
                "show, try and change the rules that send requests to desks",
            ),
            ("desks", "tallshelf.cli.desks", "list desks, and who sits there"),
            ("suspend", "tallshelf.cli.suspend", "stop the use of a server or item at once"),
            ("watch", "tallshelf.cli.watch", "compare running servers with what was approved"),
            ("ledger", "tallshelf.cli.ledger", "list who did what, and when"),
        ],
        _RUN: [
            ("serve", "tallshelf.run.serve", "run the service"),
            ("admin", "tallshelf.run.admin", "set up, back up and verify a service"),
            ("completion", "tallshelf.cli.completion", "print the script that completes commands in a shell"),
            ("demo", "tallshelf.run.demo", "run a service with made-up data, or play the whole job"),
        ],
    }.items()
    for name, module, summary in rows
}
