"""Writes the docs that are generated from the code; with ``--check`` only says whether they are current."""

from __future__ import annotations

import json
import os
import sys
from pathlib import Path

from tallshelf.core.changes import TABLE
from tallshelf.core.style import RULES

DOCS = Path(__file__).parent


def changes_page() -> str:
    lines = [
        "# Kinds of change",
        "",
        "The closed table that `compare` works by; written from the code by `docs/write_tables.py`.",
        "*Breaking* for callers or receivers always carries a proof: a witness that an independent",
        "validator confirms, or a row of this table. *Undecided* is treated as breaking.",
        "",
        "| kind | impact | reaches | silent | because |",
        "|---|---|---|---|---|",
    ]
    for kind, row in TABLE.items():
        reach = ", ".join(row.reach) or "nobody"
        lines.append(f"| `{kind}` | {row.impact} | {reach} | {'yes' if row.silent else ''} | {row.why} |")
    return "\n".join([*lines, ""])


def rules_page() -> str:
    lines = [
        "# House style: the rules",
        "",
        "Written from the rules themselves by `docs/write_tables.py`; `tallshelf lint --rules` lists them too.",
        "",
        "`tallshelf lint --explain RULE` shows a rule with a bad and a good example. Levels, settings, words",
        "and host profiles are the house's to set: see [House style](house-style.md).",
    ]
    for family in dict.fromkeys(rule.family for rule in RULES):
        lines += [
            "",
            f"## {family.capitalize()}",
            "",
            "| rule | level | because | settings |",
            "|---|---|---|---|",
        ]
        for rule in (one for one in RULES if one.family == family):
            settings = "; ".join(
                f"`{one.name}` ({_default(one.default)}): {one.means}" for one in rule.settings
            )
            lines.append(f"| `{rule.id}` | {rule.level} | {rule.reason} | {settings} |")
    return "\n".join([*lines, ""])


def _default(value: object) -> str:
    return ", ".join(value) or "none" if isinstance(value, tuple) else str(value)


def openapi_document() -> str:
    """Return the API's description, from which the console's types are made."""
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "tallshelf.service.settings")
    import django

    django.setup()
    from drf_spectacular.generators import SchemaGenerator

    from tallshelf.service.web import openapi  # noqa: F401 - registers its schemes

    document = SchemaGenerator().get_schema(request=None, public=True)
    return json.dumps(document, indent=1, ensure_ascii=False) + "\n"


PAGES = {"changes.md": changes_page, "rules.md": rules_page, "openapi.json": openapi_document}


def stale() -> list[str]:
    """Return the pages that are not what the code says."""
    return [
        name
        for name, page in PAGES.items()
        if not (DOCS / name).exists() or (DOCS / name).read_text("utf-8") != page()
    ]


if __name__ == "__main__":
    if "--check" in sys.argv:
        names = stale()
        if names:
            sys.exit(f"docs are stale: {', '.join(names)}; run python docs/write_tables.py")
    else:
        for name, page in PAGES.items():
            (DOCS / name).write_text(page(), "utf-8")
