"""Writes what of the client follows from the OpenAPI document and from `Shelf`; ``--check`` only compares."""

from __future__ import annotations

import inspect
import json
import keyword
import subprocess
import sys
from collections.abc import Iterable, Iterator
from pathlib import Path
from typing import Any

from tallshelf.client import Shelf

ROOT = Path(__file__).parents[1]
TARGET = ROOT / "src/tallshelf/client/results.py"
HEAD = '''"""The kinds of records that the client answers with; written by docs/write_client.py."""

from __future__ import annotations

from tallshelf.client._record import Record
'''
_PLAIN = {"string": "str", "integer": "int", "number": "float", "boolean": "bool", "null": "None"}


def written(document: dict[str, Any]) -> str:
    """Return the module: a class for each object that some call answers with, and for those inside it."""
    components = document["components"]["schemas"]
    wanted = [
        name
        for calls in document["paths"].values()
        for call in calls.values()
        for status in ("200", "201")
        for name in _named(call["responses"].get(status, {}))
    ]
    names: list[str] = []
    while wanted:
        name = wanted.pop()
        if name not in names and components[name].get("properties") is not None:
            names.append(name)
            wanted += _named(components[name])
    classes = [_class(name, components) for name in sorted(names)]
    inside = [line for name in sorted(names) if (line := _records(name, components))]
    return formatted(HEAD + "".join(classes) + "\n\n" + "\n".join(inside) + "\n", TARGET)


ASYNC = ROOT / "src/tallshelf/client/aio.py"
ASYNC_HEAD = '''"""The client for programs that await: each method of `Shelf`; written by docs/write_client.py."""

from __future__ import annotations

from collections.abc import AsyncIterator, Mapping, Sequence
from datetime import datetime
from typing import Any, Literal

from tallshelf.client import results
from tallshelf.client._async import AsyncWire
from tallshelf.client._record import Record
from tallshelf.client._requests import Answer
from tallshelf.core.snapshot import Snapshot


class AsyncShelf(AsyncWire):
    """A service, as one account sees it, for programs that await; what each method does `Shelf` says."""
'''


def asynchronous() -> str:
    """Return the module of the asynchronous client: a method for each of the synchronous one, in its order."""
    methods = [
        (name, method)
        for cls in (Shelf, *Shelf.__bases__)
        for name, method in vars(cls).items()
        if inspect.isfunction(method) and not name.startswith("_")
    ]
    return formatted(ASYNC_HEAD + "".join(_method(name, method) for name, method in methods), ASYNC)


def _method(name: str, method: Any) -> str:
    signature = inspect.signature(method)
    taken = [one for one in signature.parameters.values() if one.name != "self"]
    sent = ", ".join(_sent(one) for one in taken)
    told = (method.__doc__ or "").strip().split("\n")[0]
    answer = str(signature.return_annotation)
    head = f"def {name}({', '.join(['self', *_taken(taken)])})"
    call = f"self._shelf.{name}{', ' if sent else ''}{sent}"
    if answer.startswith("Iterator["):
        return f'\n    {head} -> Async{answer}:\n        """{told}"""\n        return self._each({call})\n'
    return f'\n    async {head} -> {answer}:\n        """{told}"""\n        return await self._call({call})\n'


def _taken(parameters: list[inspect.Parameter]) -> Iterator[str]:
    """Yield the parameters as they are written, with the star before those that take a name alone."""
    starred = False
    for one in parameters:
        if one.kind is one.KEYWORD_ONLY and not starred:
            starred = True
            yield "*"
        stars = "**" if one.kind is one.VAR_KEYWORD else ""
        default = "" if one.default is one.empty else f" = {one.default!r}"
        yield f"{stars}{one.name}: {one.annotation}{default}"


def _sent(one: inspect.Parameter) -> str:
    if one.kind is one.VAR_KEYWORD:
        return f"**{one.name}"
    return f"{one.name}={one.name}" if one.kind is one.KEYWORD_ONLY else one.name


def formatted(text: str, target: Path) -> str:
    """Return a module in the form of the project."""
    form = [sys.executable, "-m", "ruff", "format", "--stdin-filename", str(target), "-"]
    return subprocess.run(form, input=text, capture_output=True, text=True, check=True).stdout


def class_name(component: str) -> str:
    """Return the name of the class of a component."""
    return "".join(part[:1].upper() + part[1:] for part in component.replace("-", "_").split("_"))


def _class(name: str, components: dict[str, Any]) -> str:
    shape = components[name]
    members = []
    for member, value in sorted(shape["properties"].items()):
        kind, _ = _type(value, components)
        if not keyword.iskeyword(member) and member.isidentifier() and not hasattr(dict, member):
            members.append(f"    {member}: {kind}")
    doc = str(shape.get("description", "")).strip().split("\n")[0][:110]
    lines = [f"\n\nclass {class_name(name)}(Record):", f'    """{doc or f"The component {name}."}"""', ""]
    return "\n".join([*lines, *(members or ["    pass"]), ""])


def _records(name: str, components: dict[str, Any]) -> str:
    """Return the line that says which members of a class hold records of which class."""
    found = {
        member: record
        for member, value in sorted(components[name]["properties"].items())
        if (record := _type(value, components)[1])
    }
    inside = ", ".join(f'"{member}": {record}' for member, record in found.items())
    return f"{class_name(name)}._records = {{{inside}}}" if found else ""


def _type(value: Any, components: dict[str, Any]) -> tuple[str, str]:
    """Return a member's type, and the class of the record that it holds, if it holds one."""
    if not isinstance(value, dict):
        return "Any", ""
    if "$ref" in value:
        name = value["$ref"].rpartition("/")[2]
        shape = components[name]
        if shape.get("properties") is not None:
            return class_name(name), class_name(name)
        return _type(shape, components)
    for keyword_ in ("anyOf", "oneOf", "allOf"):
        if keyword_ in value:
            found = [_type(one, components) for one in value[keyword_]]
            kinds = dict.fromkeys(kind for kind, _ in found)
            record = next((one for _, one in found if one), "")
            return _union(kinds), record
    types = value.get("type")
    if isinstance(types, list):
        kinds = dict.fromkeys(_type({**value, "type": one}, components)[0] for one in types)
        record = next((found for one in types if (found := _type({**value, "type": one}, components)[1])), "")
        return _union(kinds), record
    if types == "array":
        inner, record = _type(value.get("items", {}), components)
        return f"list[{inner}]", record
    if types == "object":
        return "Record", ""
    if types is None and "const" in value:
        return type(value["const"]).__name__, ""
    if types is None and "enum" in value:
        return ("str | None" if None in value["enum"] else "str"), ""
    return _PLAIN.get(str(types), "Any"), ""


def _union(kinds: Iterable[str]) -> str:
    each = dict.fromkeys(part for kind in kinds for part in kind.split(" | "))
    return "Any" if "Any" in each else " | ".join(sorted(each, key=lambda kind: kind == "None"))


def _named(value: Any) -> list[str]:
    if isinstance(value, dict):
        reference = value.get("$ref")
        if isinstance(reference, str) and reference.startswith("#/components/schemas/"):
            return [reference.rpartition("/")[2]]
        return [name for one in value.values() for name in _named(one)]
    if isinstance(value, list):
        return [name for one in value for name in _named(one)]
    return []


def main() -> None:
    document = json.loads((ROOT / "docs/openapi.json").read_text("utf-8"))
    for target, text in ((TARGET, written(document)), (ASYNC, asynchronous())):
        if "--check" not in sys.argv:
            target.write_text(text, "utf-8")
        elif not target.exists() or target.read_text("utf-8") != text:
            sys.exit(f"{target.name} is not current: run docs/write_client.py")


if __name__ == "__main__":
    main()
