"""Rules on size: what a server takes of a model's context."""

from __future__ import annotations

from collections.abc import Iterator

from tallshelf.core.snapshot import item_tokens
from tallshelf.core.style.rule import Rule, RuleHit, Setting, Subject
from tallshelf.core.style.rules._examples import server, takes, tool, tools

ITEM = Setting("big-item", "most_tokens", 1500, "estimated tokens of one item")
SERVER = Setting("big-server", "most_tokens", 20_000, "estimated tokens of all items of a server")
TOOLS = Setting("many-tools", "most_tools", 60, "tools of one server")
ENUM = Setting("big-enum", "most_values", 60, "values of one enum")
ICON = Setting("big-icon", "most_bytes", 32_768, "bytes of an icon that is sent along")


def _big_item(subject: Subject) -> Iterator[RuleHit]:
    most = subject.of(ITEM)
    for item in subject.view.items:
        tokens = item_tokens(item.item)
        if tokens > most:
            yield RuleHit(
                item.identity,
                "",
                f"about {tokens:,} tokens, read at every choice; at most {most:,} are meant",
            )


def _big_server(subject: Subject) -> Iterator[RuleHit]:
    most, tokens = subject.of(SERVER), sum(item_tokens(item.item) for item in subject.view.items)
    if tokens > most:
        yield RuleHit("server", "", f"about {tokens:,} tokens for all items; at most {most:,} are meant")


def _many_tools(subject: Subject) -> Iterator[RuleHit]:
    limits = [profile.tools for profile in subject.style.profiles if profile.tools]
    most, count = min([subject.of(TOOLS), *limits]), len(subject.view.tools)
    if count > most:
        yield RuleHit(
            "server", "", f"{count} tools; a model chooses well among at most {most}: split the server"
        )


def _big_enum(subject: Subject) -> Iterator[RuleHit]:
    most = subject.of(ENUM)
    for parameter in subject.view.parameters:
        values = parameter.schema.get("enum")
        if isinstance(values, list) and len(values) > most:
            message = (
                f"`{parameter.path}` lists {len(values)} values; offer a tool to look them up, or a pattern"
            )
            yield RuleHit(parameter.item.identity, f"{parameter.pointer}/enum", message)


def _big_icon(subject: Subject) -> Iterator[RuleHit]:
    most = subject.of(ICON)
    for item in subject.view.items:
        icons = item.item.body.get("icons")
        for index, icon in enumerate(icons if isinstance(icons, list) else ()):
            source = icon.get("src") if isinstance(icon, dict) else None
            if isinstance(source, str) and len(source) > most:
                yield RuleHit(
                    item.identity,
                    f"/icons/{index}/src",
                    f"an icon of {len(source):,} bytes travels with every list; link to it",
                )


RULES = (
    Rule(
        id="big-item",
        family="size",
        covers=("item-too-big",),
        level="warning",
        reason="Every item of every server is in a model's context before the first question.",
        check=_big_item,
        settings=(ITEM,),
        bad=takes(
            **{f"part_{index}": "A part of the report that is " + "very long " * 60 for index in range(11)}
        ),
        good=takes(words="Words of the report"),
    ),
    Rule(
        id="big-server",
        family="size",
        covers=("server-too-many-tools", "item-too-big"),
        level="warning",
        reason="A server that fills the context leaves no room for the job.",
        check=_big_server,
        settings=(SERVER,),
        bad=tools(*(tool(f"get_part_{index}", "It is long. " * 450) for index in range(16))),
        good=tools(tool()),
    ),
    Rule(
        id="many-tools",
        family="size",
        covers=("server-too-many-tools",),
        level="warning",
        reason="Among too many tools a model picks worse.",
        check=_many_tools,
        settings=(TOOLS,),
        bad=tools(*(tool(f"get_part_{chr(97 + index // 26)}{chr(97 + index % 26)}") for index in range(61))),
        good=tools(tool()),
    ),
    Rule(
        id="big-enum",
        family="size",
        covers=("enum-too-big",),
        level="warning",
        reason="A long list is read at every choice, and is out of date the day after.",
        check=_big_enum,
        settings=(ENUM,),
        bad=takes(port={"enum": [f"P{index}" for index in range(61)], "description": "Port"}),
        good=takes(port={"enum": ["north", "south"], "description": "Port"}),
    ),
    Rule(
        id="big-icon",
        family="size",
        covers=(),
        level="note",
        reason="An icon inside the list is sent with it each time.",
        check=_big_icon,
        settings=(ICON,),
        bad=server(tools=[{**tool(), "icons": [{"src": "data:image/png;base64," + "A" * 40_000}]}]),
        good=server(tools=[{**tool(), "icons": [{"src": "https://harbour.pellam.example/i.png"}]}]),
    ),
)
