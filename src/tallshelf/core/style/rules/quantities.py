"""Rules on quantities, dates, money and identifiers: whether their form is said."""

from __future__ import annotations

import re
from collections.abc import Iterator

from tallshelf.core.style.rule import Rule, RuleHit, Subject, at
from tallshelf.core.style.rules._examples import takes, tool, tools
from tallshelf.core.style.view import Parameter
from tallshelf.core.words.lexicon import lemma
from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.split import split_identifier, word_set
from tallshelf.core.words.units import is_unit_name, units_in

_QUANTITIES = word_set(
    "length width height depth draught draft beam distance radius diameter weight mass speed velocity "
    "temperature duration timeout delay interval volume pressure altitude elevation thickness "
    "wavelength frequency voltage power energy ttl latency uptime tonnage displacement clearance "
    "humidity viscosity torque wait fuel dose dosage flow discharge infusion load strength concentration cooldown mileage distance altitude"
)
_OF_TEXTS = word_set(
    "text string name title password message key list array queue code line token chunk context history prefix"
)
# Beside the units that the words know by their measures: what is counted in, rarer ones, and symbols in lower case.
_UNITS = Pattern(
    r"\b(?:[kmgt]i?b|kpa|kwh?|mwh|khz|characters?|chars?|words?|items?|entries|tokens?|lines?|rows?|pages?|times|points?|nautical|"
    r"cubic|square|teu|containers|nodes?|hops?|levels?|beaufort)\b",
    re.IGNORECASE,
)
_ON_SCREEN = word_set("viewport screenshot screen window browser")
"""What is on a screen is in pixels, without a word."""
_OF_STEPS = word_set(
    "discovery crawl link links tree recursion nesting traversal search page folder directory call commit commits history subfolders subdirectories"
)
_COUNTS = frozenset({"ratio", "factor", "count", "index", "level"})
_HOW = Pattern(r"\bhow (?:long|far|heavy|deep|high|tall|wide|fast|hot|warm|cold|loud)\b", re.IGNORECASE)
_DATES = frozenset(["date", "day", "datetime", "timestamp", "birthday", "deadline", "expiry"])
_MOMENTS = word_set(
    "time at when from since until till before after start end begin departure arrival departs arrives"
)
_TIME_TEXT = Pattern(r"\b(?:date|day|time|moment|when|hour|month|year)\b", re.IGNORECASE)
_DATE_FORM = Pattern(
    r"iso[- ]?8601|\biso[- ](?:date|time|format)|rfc[- ]?3339|y{2,4}[-/.]?m{2}|dd[-/.]mm|mm[-/.]dd|hh:?mm|h:mm|\d{4}-\d{2}|\d{1,2}:\d{2}|\d{1,2}[./]\d{1,2}[./]\d{2,4}|"
    r"\bepoch\b|unix|seconds? since|milliseconds|week ?days?|monday|\b(?:mon|tue)\b|day of the (?:week|month|year)|"
    r"cron|natural language|free (?:text|form)|relative|\btoday\b|\btomorrow\b|ago\b|24[- ]hour",
    re.IGNORECASE,
)
_NAME_OF = Pattern(r"\W*(?:the )?(?:name|kind|type) of\b", re.IGNORECASE)
_A_MOMENT = Pattern(
    r"(?:the )?(?:(?:moment|instant|point in time|date) (?:at|on|from|until|by) which\b|"
    r"(?:birth|due|start|end|expiry|delivery|departure|arrival|closing|opening) (?:date|day)\b|(?:first|last) day (?:of|on|for)\b|"
    r"(?:date|moment|day) of (?:the |a |an )?(?:birth|arrival|departure|delivery|loss|service|receipt|purchase|expiry|issue|leaving|entry|payment)\b|"
    r"when (?:it|the \w+|this) (?:is|was|ends?|starts?|begins?|expires?|opens?|closes?|may)\b|"
    r"(?:beginning|start|end) of (?:the|a) (?:period|window|range|interval|stay|booking)\b|"
    r"(?:oldest|newest|earliest|latest) \w+ (?:wanted|returned|shown))",
    re.IGNORECASE,
)
_MONEY = word_set(
    "price cost fare fee balance salary wage budget charge payment rent tariff revenue refund toll "
    "deposit premium deductible discount turnover earnings bonus allowance grant subsidy gratuity tip fine pension "
    "stipend royalty royalties commission surcharge instalment installment mortgage loan debt bail bounty prize"
)
_NUMBERS = frozenset({"integer", "number"})
_SUMS = frozenset({"amount", "total", "rate", "sum", "subtotal"})
_WORTHS = frozenset({"rate", "value", "bid", "offer"})
_WORTH = Pattern(
    r"\b(?:per|a|each) (?:night|stay|guest|head|room)\b|\b(?:value|worth) of (?:the |a |an )?"
    r"(?:goods|parcel|cargo|shipment|property|house|estate|car|contents|share|stake|object|loss|damage)\b"
    r"|\b(?:market|insured|declared|replacement|residual|book|face|cash) value\b|\bhighest bid\b"
)
"""Where what is called a rate or a value is money."""
_PAID = Pattern(r"\b(?:pay|paid|payable|price|cost|costs|charge|charged|bill|invoice|refund|money)\b")
_CURRENCY = Pattern(
    r"\b(?:currency|eur|euros?|usd|us\$|dollars?|gbp|pounds?|sterling|pence|cents?|chf|francs?|sek|nok|dkk|kron(?:er|or|e)|jpy|yen|"
    r"cad|aud|inr|rupees?|cny|yuan|minor units?|iso 4217|percent|points?|credits?|tokens?|gold|coins?|gems?)\b|[€$£¥%]",
    re.IGNORECASE,
)
_ZONE = Pattern(r"\b(?:utc|gmt|local|zone|offset|harbour time|ship'?s time|z)\b|[+-]\d\d:\d\d", re.IGNORECASE)
_ID_FORM = Pattern(
    r"such as|e\.g\.|for example|example|uuid|\breturned by\b|\bfrom\b|\bof\b|\bnumber\b|[A-Z]-?\d",
    re.IGNORECASE,
)


def _quantity_without_unit(subject: Subject) -> Iterator[RuleHit]:
    siblings: dict[str, frozenset[str]] = {}
    for parameter in subject.view.fields:
        if parameter.types.isdisjoint(_NUMBERS):
            continue
        words = {*parameter.words, *parameter.text.words[:3]}
        if not (_QUANTITIES & words or {"file", "size"} <= words or _HOW.search(parameter.text.text)):
            continue
        if (
            _OF_TEXTS & words
            or any(word in _COUNTS or is_unit_name(word) for word in words)
            or parameter.schema.keys() & {"unit", "x-unit", "enum", "const"}
        ):
            continue
        text = parameter.said
        if (
            units_in(text)
            or _UNITS.search(text)
            or re.search(r"\bnumber of\b|\bhow many\b", text, re.IGNORECASE)
        ):
            continue
        if not _ON_SCREEN.isdisjoint(split_identifier(parameter.path)) or _counts_steps(parameter):
            continue
        siblings = siblings or _siblings(subject)
        if any("unit" in name for name in siblings[parameter.item.identity]) or _own_unit(subject, text):
            continue
        yield at(
            parameter.text, f"`{parameter.path}` is a quantity without a unit; say in what it is measured"
        )


def _counts_steps(parameter: Parameter) -> bool:
    """Whether a depth is how many steps are taken, as of a crawl or a tree, and not how far it is to the ground."""
    told = {*parameter.words, *parameter.text.words}
    return "depth" in parameter.words and not _OF_STEPS.isdisjoint(told)


def _own_unit(subject: Subject, text: str) -> bool:
    return any(
        re.search(rf"\b{re.escape(unit)}\b", text, re.IGNORECASE) for unit in subject.style.words.units
    )


def _siblings(subject: Subject) -> dict[str, frozenset[str]]:
    return {
        item.identity: frozenset(field.name.lower() for field in (*item.parameters, *item.results))
        for item in subject.view.tools
    }


def _date_form_unstated(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.fields:
        if not _names_a_time(parameter) or parameter.schema.keys() & {
            "format",
            "pattern",
            "enum",
            "const",
            "examples",
            "example",
            "$ref",
        }:
            continue
        if _NAME_OF.match(parameter.text.text):
            continue
        if parameter.types == {"string"} and not _DATE_FORM.search(parameter.said):
            yield at(
                parameter.text,
                f"`{parameter.name}` is a date or time of unsaid form; set a format, or say it, such as YYYY-MM-DD",
            )
        elif (
            parameter.types <= {"integer", "number"}
            and "timestamp" in parameter.words
            and not _DATE_FORM.search(parameter.said)
        ):
            yield at(
                parameter.text, f"`{parameter.name}` counts from a moment, and in a unit, that are not said"
            )


def _names_a_time(parameter: Parameter) -> bool:
    words = set(parameter.words)
    if _A_MOMENT.match(parameter.text.text):
        return True
    if parameter.inside == "returns":
        return False  # what a result is called is told by its text
    if (
        words & {"zone", "timezone", "tz", "type", "range", "name", "id", "count", "format", "of"}
        or not parameter.types
    ):
        return False
    if words & _DATES:
        return True
    return bool(
        parameter.words and parameter.words[-1] in _MOMENTS and _TIME_TEXT.search(parameter.text.text)
    ) and not re.search(
        r"\b(?:place of|port|quay|address|page|id|number|city|station|cursor|node|row)\b",
        parameter.text.lower,
    )


def _zone_unstated(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        if parameter.schema.get("format") in ("time", "date-time") and not _ZONE.search(parameter.said):
            yield at(
                parameter.text,
                f"`{parameter.name}` is a time of no said zone; say UTC, or local time of where",
            )


def _currency_unstated(subject: Subject) -> Iterator[RuleHit]:
    siblings: dict[str, frozenset[str]] = {}
    for parameter in subject.view.fields:
        if parameter.types.isdisjoint(_NUMBERS):
            continue
        money = _MONEY & set(parameter.words)
        if not money and _SUMS & set(parameter.words):
            # "fees[].amount": what it is the amount of is said around it
            around = {lemma(word) for word in split_identifier(parameter.path)}
            money = frozenset(_PAID.findall(parameter.text.lower)) | (_MONEY & around)
        if not money and _WORTHS & set(parameter.words):
            money = frozenset(_WORTH.findall(parameter.text.lower))
        if not money:
            continue
        if (
            _CURRENCY.search(parameter.said)
            or _CURRENCY.search(" ".join(parameter.words))
            or set(parameter.words) & {"count", "id", "type", "ratio"}
        ):
            continue
        siblings = siblings or _siblings(subject)
        if not any("currency" in name for name in siblings[parameter.item.identity]):
            yield at(
                parameter.text,
                f"`{parameter.path}` is money of no said currency; say which, or add a currency field",
            )


def _identifier_form(subject: Subject) -> Iterator[RuleHit]:
    for parameter in subject.view.parameters:
        named = parameter.depth == 1 and parameter.words[-1:] == ("id",)
        if (
            named
            and parameter.is_free_text
            and parameter.text.text
            and not _ID_FORM.search(parameter.text.text)
        ):
            message = f"`{parameter.name}`: say what such an identifier looks like, or which tool gives it"
            yield at(parameter.text, message)


_NUMBER = {"type": "number"}

RULES = (
    Rule(
        id="quantity-without-unit",
        family="words",
        covers=("quantity-without-unit",),
        level="warning",
        reason="Metres taken for feet are a wrong answer without an error.",
        check=_quantity_without_unit,
        bad=takes(length={**_NUMBER, "description": "Length of the vessel"}),
        good=takes(
            length={**_NUMBER, "description": "Length of the vessel in metres"},
            timeout_s={"type": "integer", "description": "How long to wait"},
        ),
    ),
    Rule(
        id="date-form-unstated",
        family="words",
        covers=("date-form-unstated",),
        level="warning",
        reason="A date is written in a dozen ways; one that the server cannot read is refused, or misread.",
        check=_date_form_unstated,
        bad=takes(day="Day of the sailing"),
        good=takes(
            day={"type": "string", "format": "date", "description": "Day of the sailing"},
            time_zone="Name of the time zone",
        ),
    ),
    Rule(
        id="zone-unstated",
        family="words",
        covers=(),
        level="note",
        reason="A time without a zone is off by hours for somebody.",
        check=_zone_unstated,
        bad=takes(departs={"type": "string", "format": "date-time", "description": "When it departs"}),
        good=takes(departs={"type": "string", "format": "date-time", "description": "When it departs, UTC"}),
    ),
    Rule(
        id="currency-unstated",
        family="words",
        covers=("currency-unstated",),
        level="warning",
        reason="A number of money without its currency cannot be compared or paid.",
        check=_currency_unstated,
        bad=tools(tool(returns={"fare": {**_NUMBER, "description": "Fare of one passenger"}})),
        good=tools(tool(returns={"fare": {**_NUMBER, "description": "Fare of one passenger in euro"}})),
    ),
    Rule(
        id="identifier-form-unstated",
        family="words",
        covers=(),
        level="note",
        reason="A model that does not know what an identifier looks like makes one up.",
        check=_identifier_form,
        bad=takes(berth_id="Identifies the berth"),
        good=takes(berth_id="Number of the berth, such as N-04"),
    ),
)
