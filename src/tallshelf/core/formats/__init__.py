"""The JSON Schemas of our own formats, which ship with the package."""

from __future__ import annotations

import functools
import json
from pathlib import Path
from typing import Any

from tallshelf.core.errors import BadDocument, Place
from tallshelf.core.pointer import step_of

__all__ = ["check_format", "schema"]


@functools.cache
def schema(name: str) -> dict[str, Any]:
    """Return the JSON Schema of a format by its short name, such as ``snapshot-1``."""
    text = Path(__file__).with_name(f"{name}.schema.json").read_text("utf-8")
    loaded: dict[str, Any] = json.loads(text)
    return loaded


@functools.cache
def _validator(name: str) -> Any:
    import jsonschema_rs  # here, since most commands read no format of ours, and it takes long to load

    return jsonschema_rs.Draft202012Validator(schema(name))


def check_format(name: str, value: Any, what: str, remedy: str) -> None:
    """Raise `BadDocument` with every fault when a value does not fit a format."""
    faults = [
        Place("".join(f"/{step_of(str(step))}" for step in fault.instance_path), fault.message[:300])
        for fault in _validator(name).iter_errors(value)
    ]
    if faults:
        first = faults[0]
        where = f" at {first.pointer}" if first.pointer else ""
        raise BadDocument(f"{what}{where}: {first.detail}", remedy=remedy, places=faults[:20])
