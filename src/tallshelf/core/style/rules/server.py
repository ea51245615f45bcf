"""Rules on what a server declares about itself as a whole, and on how it is run."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tallshelf.core.snapshot import names_version
from tallshelf.core.style.rule import Rule, RuleHit, Subject, at
from tallshelf.core.style.rules._examples import server, tool, tools
from tallshelf.core.words.pattern import Pattern

_LISTS = {"tools": "tools", "resources": "resources", "resourceTemplates": "resources", "prompts": "prompts"}
_OLD_REVISION = "2025-03-26"
_OLD_TRANSPORTS = frozenset({"http+sse", "sse"})
_READS_ALONE = Pattern(
    r"\b(?:all|every|only|these) (?:of (?:the|its) )?(?:tools?|calls?)?\s*(?:are |is |merely )?(?:read[- ]only|reads?\b|only reads?)|\bnone of (?:the|its|these) tools? (?:changes?|writes?|modif\w+)|\bread[- ]only server\b|\bonly reads?\b|\bserver is read[- ]only\b|\bnever (?:changes|writes|modifies)\b|\bchanges nothing\b",
    re.IGNORECASE,
)
_COUNTED = Pattern(r"\b(one|two|three|four|five|six|seven|eight|nine|ten|\d+) tools\b", re.IGNORECASE)
_NUMBERS = {
    word: number
    for number, word in enumerate(
        ["zero", "one", "two", "three", "four", "five", "six", "seven", "eight", "nine", "ten"]
    )
}
_NO_KIND = Pattern(
    r"\b(?:no|without|not (?:offer|have|provide)(?: any)?) (tools|resources|prompts)\b", re.IGNORECASE
)
_LONG = 10
_INFO = {"name": "berths", "version": "1.4.0"}


def _same_name_twice(subject: Subject) -> Iterator[RuleHit]:
    for identity in sorted(subject.snapshot.twice):
        yield RuleHit(identity, "", "it is declared more than once; which one a host takes is chance")


def _odd_version(subject: Subject) -> Iterator[RuleHit]:
    info = subject.snapshot.server_info
    if "version" not in info:
        return
    version = subject.snapshot.declared_version
    if version is None or not names_version(version):
        message = f"{info['version']!r} is not a version; write MAJOR.MINOR.PATCH, or a calendar version of three or four numbers"
        yield RuleHit("server", "/serverInfo/version", message)


def _version_differs(subject: Subject) -> Iterator[RuleHit]:
    declared = subject.snapshot.declared_version
    if subject.version is not None and declared is not None and declared != subject.version:
        message = f"the server calls itself {declared} and is submitted as {subject.version}"
        yield RuleHit("server", "/serverInfo/version", message)


def _unmoved_version(subject: Subject) -> Iterator[RuleHit]:
    before, version = subject.before, subject.snapshot.declared_version
    if before is None or version is None or before.declared_version != version:
        return
    if [item.digest for item in before.items] != [item.digest for item in subject.snapshot.items]:
        message = f"the server still calls itself {version}, and its items are not those of {version}"
        yield RuleHit("server", "/serverInfo/version", message)


def _missing_instructions(subject: Subject) -> Iterator[RuleHit]:
    if (
        len(subject.view.tools) > _LONG
        and not subject.view.instructions.text.strip()
        and subject.snapshot.server
    ):
        yield RuleHit(
            "server",
            "/instructions",
            f"{len(subject.view.tools)} tools and no instructions; say how they go together",
        )


def _contradicting_instructions(subject: Subject) -> Iterator[RuleHit]:
    text = subject.view.instructions
    if not text.text:
        return
    writing = [item.name for item in subject.view.tools if item.annotations.get("readOnlyHint") is False]
    match = _READS_ALONE.search(text.text)
    if match and writing:
        yield at(text, f"“{match.group()}”, and `{writing[0]}` says that it writes", match.span())
    counted = _COUNTED.search(text.text)
    if counted and "tools" in subject.snapshot.lists:
        word = counted.group(1).lower()
        number = _NUMBERS.get(word, int(word) if word.isdigit() else 0)
        if number != len(subject.view.tools):
            yield at(
                text,
                f"the instructions speak of {word} tools, and there are {len(subject.view.tools)}",
                counted.span(),
            )
    denied = _NO_KIND.search(text.text)
    if denied and subject.snapshot.lists.get(denied.group(1).lower()):
        yield at(text, f"“{denied.group()}”, and some are declared", denied.span())
    names = {item.name for item in subject.view.items}
    for token in re.finditer(
        r"`([a-z]\w*_\w+)`|\b(?:call|use|run|with|try|see) (?:the )?(?:tool )?([a-z]+(?:_[a-z]+)+)\b",
        text.text,
    ):
        name = token.group(1) or token.group(2)
        members = {field.name for field in subject.view.fields}
        if name not in names and name not in members:
            yield at(text, f"the instructions send the model to `{name}`, which is not there", token.span())


def _contradicting_capabilities(subject: Subject) -> Iterator[RuleHit]:
    declared = subject.snapshot.server.get("capabilities")
    if not isinstance(declared, dict):
        return
    for name, capability in _LISTS.items():
        if subject.snapshot.lists.get(name) and capability not in declared:
            message = f"it lists {name}, and does not declare the capability {capability}; hosts will not ask for them"
            yield RuleHit("server", f"/capabilities/{capability}", message)
    kinds = ("tools", "prompts", "resources")
    if all(kind in declared for kind in kinds) and any(subject.snapshot.lists.values()):
        return  # common SDKs declare them all, whatever a server has
    for kind in kinds:
        lists = [subject.snapshot.lists.get(name) for name, of in _LISTS.items() if of == kind]
        if kind in declared and all(items == () for items in lists):
            yield RuleHit(
                "server", f"/capabilities/{kind}", f"it declares the capability {kind}, and lists none"
            )


def _old_transport(subject: Subject) -> Iterator[RuleHit]:
    captured = subject.snapshot.captured.get("transport")
    if captured in _OLD_TRANSPORTS:
        yield RuleHit(
            "server", "", f"it was captured over {captured}, which MCP has deprecated; use Streamable HTTP"
        )
    for record in subject.launches or ():
        if record.transport in _OLD_TRANSPORTS:
            yield RuleHit(
                "server", "", f"{record.environment}: {record.transport} is deprecated; use Streamable HTTP"
            )
        for profile in subject.style.profiles:
            if profile.transports and record.transport not in profile.transports:
                yield RuleHit(
                    "server",
                    "",
                    f"{record.environment}: the host {profile.name} does not speak {record.transport}",
                )


def _old_revision(subject: Subject) -> Iterator[RuleHit]:
    revision = subject.snapshot.captured.get("protocolVersion")
    if not isinstance(revision, str):
        return
    if revision < _OLD_REVISION:
        yield RuleHit(
            "server",
            "",
            f"it speaks the protocol revision {revision}; later ones bring annotations and Streamable HTTP",
        )
    for profile in subject.style.profiles:
        if profile.revisions and revision not in profile.revisions:
            yield RuleHit(
                "server", "", f"the host {profile.name} does not speak the protocol revision {revision}"
            )


def _not_for_hosts(subject: Subject) -> Iterator[RuleHit]:
    for profile in subject.style.profiles:
        for kind, taken in (("resources", profile.resources), ("prompts", profile.prompts)):
            if not taken and subject.snapshot.lists.get(kind):
                yield RuleHit(
                    "server",
                    "",
                    f"the host {profile.name} shows no {kind}; what is told there alone is not seen",
                )


def _unpinned_package(subject: Subject) -> Iterator[RuleHit]:
    for record in subject.launches or ():
        if record.package is not None and not record.package.integrity:
            message = f"{record.environment}: {record.package.name} is not pinned by a hash; other bytes may come under its version"
            yield RuleHit("server", "", message)


def _unnamed_server(subject: Subject) -> Iterator[RuleHit]:
    if subject.snapshot.server and not subject.snapshot.server_name.strip():
        yield RuleHit("server", "/serverInfo/name", "the server does not name itself")


def _info(version: str) -> dict[str, object]:
    return server(serverInfo={"name": "s", "version": version})


_STDIO = {"environment": "production", "transport": "stdio", "command": "uvx", "args": ["harbour"]}
_SSE = {"environment": "production", "transport": "http+sse", "url": "https://harbour.pellam.example/sse"}
_PACKAGE = {"name": "harbour", "version": "1.0.0"}
_NAMED = {"name": "harbour", "version": "1.0.0"}
_WRITER = tool("cancel_booking", annotations={"readOnlyHint": False})


def _in_other_languages(subject: Subject) -> Iterator[RuleHit]:
    found = sorted(subject.view.in_other_languages)
    if found:
        many = f"{found[0]} and {len(found) - 1} more" if len(found) > 1 else found[0]
        message = f"not checked for wording, since the text is not in English: {many}"
        yield RuleHit("server", "", message)


RULES = (
    Rule(
        id="same-name-twice",
        family="server",
        covers=(),
        level="error",
        reason="Two items under one name cannot both be called, and cannot be compared.",
        check=_same_name_twice,
        bad=tools(tool(), tool(description="Find berths.")),
        good=tools(tool()),
    ),
    Rule(
        id="odd-version",
        family="server",
        covers=("version-not-semver",),
        level="error",
        reason="Only a SemVer number tells users whether an update is safe.",
        check=_odd_version,
        bad=_info("june build"),
        good=_info("1.4.0"),
    ),
    Rule(
        id="version-differs",
        family="server",
        covers=(),
        level="warning",
        reason="Users who see one number in the catalog and another in their host lose the thread.",
        check=_version_differs,
        bad=_info("1.3.0"),
        good=_info("1.4.0"),
        submitted_as="1.4.0",
    ),
    Rule(
        id="unmoved-version",
        family="server",
        covers=(),
        level="warning",
        reason="A version that never moves cannot tell anyone which of two servers they talk to.",
        check=_unmoved_version,
        before=server(serverInfo=_INFO, tools=[tool("list_quays")]),
        bad=server(serverInfo=_INFO, tools=[tool("list_berths")]),
        good=server(serverInfo=_INFO, tools=[tool("list_berths")]),
    ),
    Rule(
        id="in-another-language",
        family="server",
        covers=(),
        level="note",
        reason="The rules of wording read English; what they did not look at is said, not passed over.",
        check=_in_other_languages,
        bad=server(
            tools=[tool("liste_quais", "Liste les quais libres du port, avec leur longueur en mètres.")]
        ),
        good=server(tools=[tool()]),
    ),
    Rule(
        id="missing-instructions",
        family="server",
        covers=(),
        level="note",
        reason="How many tools go together is said in the instructions or nowhere.",
        check=_missing_instructions,
        bad=server(serverInfo=_NAMED, tools=[tool(f"get_part_{chr(97 + index)}") for index in range(11)]),
        good=server(serverInfo=_NAMED, instructions="Look up a berth first.", tools=[tool()]),
    ),
    Rule(
        id="contradicting-instructions",
        family="server",
        covers=("instructions-contradict", "mentions-unknown-tool"),
        level="warning",
        reason="A model believes the instructions, and the tools do otherwise.",
        check=_contradicting_instructions,
        bad=server(instructions="All tools are read-only.", tools=[_WRITER]),
        good=server(instructions="Call cancel_booking last.", tools=[_WRITER]),
    ),
    Rule(
        id="contradicting-capabilities",
        family="server",
        covers=("capabilities-contradict",),
        level="warning",
        reason="Hosts ask for what the capabilities name, and for nothing else.",
        check=_contradicting_capabilities,
        bad=server(capabilities={"tools": {}}, tools=[tool()], prompts=[{"name": "brief"}]),
        good=server(capabilities={"tools": {}}, tools=[tool()], prompts=[]),
    ),
    Rule(
        id="old-transport",
        family="server",
        covers=("old-transport",),
        level="warning",
        reason="Hosts are dropping what MCP has deprecated.",
        check=_old_transport,
        launch=(_SSE,),
        bad=tools(tool()),
        good=tools(tool()),
    ),
    Rule(
        id="old-revision",
        family="server",
        covers=("old-transport",),
        level="warning",
        reason="Without annotations and the newer transport a server cannot say what hosts ask for.",
        check=_old_revision,
        bad={**server(serverInfo=_NAMED, tools=[tool()]), "captured": {"protocolVersion": "2024-11-05"}},
        good={**server(serverInfo=_NAMED, tools=[tool()]), "captured": {"protocolVersion": "2025-06-18"}},
    ),
    Rule(
        id="not-for-all-hosts",
        family="server",
        covers=(),
        level="note",
        reason="What a host in use does not show might as well not be there.",
        check=_not_for_hosts,
        bad=server(tools=[tool()], prompts=[{"name": "brief"}]),
        good=server(tools=[tool()], prompts=[]),
    ),
    Rule(
        id="unpinned-package",
        family="server",
        covers=(),
        level="warning",
        reason="What was reviewed and what is installed are the same only where a hash says so.",
        check=_unpinned_package,
        launch=({**_STDIO, "package": _PACKAGE},),
        bad=tools(tool()),
        good=tools(tool()),
    ),
    Rule(
        id="unnamed-server",
        family="server",
        covers=(),
        level="warning",
        reason="Logs and people know a server by the name it gives itself.",
        check=_unnamed_server,
        bad=server(serverInfo={"version": "1.0.0"}, tools=[tool()]),
        good=server(serverInfo=_NAMED, tools=[tool()]),
    ),
)
