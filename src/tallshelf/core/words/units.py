"""Units named in a text, by what they measure."""

from __future__ import annotations

import re
from dataclasses import dataclass

_UNITS: dict[str, dict[str, str]] = {
    "length": {
        "metre": "m metre metres meter meters",
        "foot": "ft foot feet",
        "kilometre": "km kilometre kilometres kilometer kilometers",
        "mile": "mile miles",
        "nautical mile": "nmi",
        "fathom": "fathom fathoms",
        "decimetre": "dm decimetre decimetres decimeter decimeters",
        "millimetre": "mm millimetre millimetres millimeter millimeters",
        "centimetre": "cm centimetre centimetres centimeter centimeters",
        "inch": "inch inches",
    },
    "mass": {
        "kilogram": "kg kilogram kilograms",
        "tonne": "tonne tonnes",
        "pound": "lb lbs pound pounds",
        "gram": "gram grams",
    },
    "speed": {"knot": "knot knots kn", "kilometre per hour": "kmh kph", "mile per hour": "mph"},
    "volume": {"litre": "litre litres liter liters", "gallon": "gallon gallons", "cubic metre": "m3"},
    "duration": {
        "millisecond": "ms millisecond milliseconds",
        "second": "second seconds",
        "minute": "minute minutes",
        "hour": "hour hours",
        "day": "day days",
    },
    "temperature": {"degree Celsius": "celsius", "degree Fahrenheit": "fahrenheit"},
    "currency": {
        "euro": "eur euro euros",
        "US dollar": "usd dollar dollars",
        "pound sterling": "gbp sterling",
        "krone": "kroner krone nok dkk",
        "cent": "cent cents",
    },
    "time zone": {"UTC": "utc gmt", "local time": "local"},
    "share": {"percent": "percent percentage", "fraction": "fraction"},
    "date form": {
        "year first": "yyyy-mm-dd iso 8601 rfc3339 yyyymmdd",
        "day first": "dd/mm/yyyy dd.mm.yyyy dd-mm-yyyy",
        "month first": "mm/dd/yyyy mm-dd-yyyy",
        "seconds since 1970": "epoch unix",
    },
    "identifier": {
        "email address": "email e-mail",
        "UUID": "uuid guid",
        "number": "number",
        "name": "name",
        "slug": "slug",
        "code": "code",
    },
}
_KNOWN = {
    word: (measure, unit)
    for measure, units in _UNITS.items()
    for unit, words in units.items()
    for word in words.split()
}
# Date forms hold punctuation; they are looked for before plain words.
_WORD = re.compile(r"[YMDymd]{2,4}[-/.][YMDymd]{2}[-/.][YMDymd]{2,4}|8601|[A-Za-z][A-Za-z0-9]*(?:-mail)?")


@dataclass(frozen=True)
class Unit:
    """A unit found in a text: what it measures, its name, and where it stands."""

    measure: str
    name: str
    start: int
    end: int


def units_in(text: str) -> tuple[Unit, ...]:
    """Return the units that a text names, in order."""
    return tuple(
        Unit(*_KNOWN[word.lower()], found.start(), found.end())
        for found in _WORD.finditer(text)
        if (word := found.group()).lower() in _KNOWN
    )
