"""Findings in the formats of other programs: SARIF 2.1.0 (OASIS) and JUnit XML."""

from __future__ import annotations

import xml.etree.ElementTree as ET
from collections.abc import Mapping, Sequence
from typing import Any
from urllib.parse import quote

from tallshelf.core.reports.lines import escape
from tallshelf.core.reports.places import JsonPlaces, Region
from tallshelf.core.style import RULES, Finding

_SARIF = "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"


def lint_sarif(
    results: Mapping[str, Sequence[Finding]], version: str, texts: Mapping[str, str] | None = None
) -> dict[str, Any]:
    """Return findings, by the name of the snapshot they are of, as a SARIF 2.1.0 log.

    ``texts`` are the files that they were read from, by the same names: their findings carry regions, so that a host
    shows them at a line.
    """
    places = {name: JsonPlaces(text) for name, text in (texts or {}).items()}
    index = {rule.id: number for number, rule in enumerate(RULES)}
    return {
        "$schema": _SARIF,
        "version": "2.1.0",
        "runs": [
            {
                "tool": {
                    "driver": {
                        "name": "tallshelf",
                        "semanticVersion": version,
                        "rules": [
                            {
                                "id": rule.id,
                                "shortDescription": {"text": rule.id.replace("-", " ")},
                                "fullDescription": {"text": rule.reason},
                                "defaultConfiguration": {"level": rule.level},
                                "properties": {"family": rule.family, "covers": list(rule.covers)},
                            }
                            for rule in RULES
                        ],
                    }
                },
                "columnKind": "unicodeCodePoints",
                "results": [
                    _result(name, finding, index, places.get(name))
                    for name, findings in results.items()
                    for finding in findings
                ],
            }
        ],
    }


def _result(
    name: str, finding: Finding, index: Mapping[str, int], places: JsonPlaces | None
) -> dict[str, Any]:
    region = places.region(finding.item, finding.pointer) if places else None
    found: dict[str, Any] = {
        "ruleId": finding.rule,
        "level": finding.level,
        "message": {"text": escape(finding.message)},
        "locations": [
            {
                "physicalLocation": {
                    "artifactLocation": {"uri": quote(name, safe="/@:#")},
                    **({"region": _region(region)} if region else {}),
                },
                "logicalLocations": [
                    {"fullyQualifiedName": f"{escape(finding.item)}{escape(finding.pointer)}"}
                ],
            }
        ],
        "partialFingerprints": {"tallshelf/1": finding.fingerprint},
    }
    if finding.rule in index:
        found["ruleIndex"] = index[finding.rule]
    if finding.waived or finding.known:
        why = f"waived by {finding.waived}" if finding.waived else "accepted when the server was taken in"
        found["suppressions"] = [{"kind": "external", "justification": why}]
    return found


def _region(region: Region) -> dict[str, int]:
    return {
        "startLine": region.start_line,
        "startColumn": region.start_column,
        "endLine": region.end_line,
        "endColumn": region.end_column,
    }


def lint_junit(results: Mapping[str, Sequence[Finding]]) -> str:
    """Return findings as JUnit XML: a suite for each snapshot, a case for each rule and item.

    Errors that count are failures; what is set aside is skipped; the rest is told and passes.
    """
    root = ET.Element("testsuites", name="tallshelf lint")
    for name, findings in results.items():
        failures = sum(finding.counts and finding.level == "error" for finding in findings)
        suite = ET.SubElement(
            root, "testsuite", name=escape(name), tests=str(len(findings)), failures=str(failures)
        )
        for finding in findings:
            case = ET.SubElement(suite, "testcase", classname=escape(finding.item), name=finding.rule)
            told = f"{escape(finding.message)} (at {escape(finding.pointer) or 'the whole'})"
            if not finding.counts:
                ET.SubElement(
                    case, "skipped", message=f"waived by {finding.waived}" if finding.waived else "known"
                )
            elif finding.level == "error":
                ET.SubElement(case, "failure", type=finding.rule, message=told)
            else:
                ET.SubElement(case, "system-out").text = f"{finding.level}: {told}"
    ET.indent(root)
    return '<?xml version="1.0" encoding="UTF-8"?>\n' + ET.tostring(root, encoding="unicode")
