"""Units named in a text, by what they measure: SI, customary, data, energy, pressure, angle, money and more."""

from __future__ import annotations

from msgspec import Struct

from tallshelf.core.words.pattern import Pattern
from tallshelf.core.words.remembered import remembered

# measure: unit = factor to the measure's first unit = symbols, whose case matters = words
_TABLE = """
length: metre = 1 = m = metre meter
length: foot = 0.3048 = ft = foot feet
length: yard = 0.9144 = yd = yard
length: kilometre = 1000 = km = kilometre kilometer
length: mile = 1609.344 = mi = mile
length: nautical mile = 1852 = nmi NM = nautical-mile
length: fathom = 1.8288 = = fathom
length: decimetre = 0.1 = dm = decimetre decimeter
length: centimetre = 0.01 = cm = centimetre centimeter
length: millimetre = 0.001 = mm = millimetre millimeter
length: micrometre = 0.000001 = µm um = micrometre micrometer micron
length: nanometre = 0.000000001 = nm = nanometre nanometer
length: inch = 0.0254 = = inch
length: pixel = 0 = px = pixel
length: point = 0 = pt = typographic-point
area: square metre = 1 = m² m2 sqm = square-metre square-meter
area: square kilometre = 1000000 = km² km2 = square-kilometre square-kilometer
area: square foot = 0.09290304 = ft² sqft = square-foot
area: hectare = 10000 = ha = hectare
area: acre = 4046.8564224 = = acre
mass: kilogram = 1 = kg = kilogram kilogramme kilo
mass: gram = 0.001 = g = gram gramme
mass: milligram = 0.000001 = mg = milligram
mass: microgram = 0.000000001 = µg ug mcg = microgram
mass: tonne = 1000 = t = tonne metric-ton
mass: ton = 907.18474 = = ton
mass: pound = 0.45359237 = lb lbs = pound
mass: ounce = 0.028349523125 = oz = ounce
mass: stone = 6.35029318 = = stone
speed: knot = 0.514444444 = kn kt kts = knot
speed: kilometre per hour = 0.277777778 = km/h kmh kph = kilometre-per-hour kilometer-per-hour
speed: mile per hour = 0.44704 = mph = mile-per-hour
speed: metre per second = 1 = m/s mps = metre-per-second meter-per-second
speed: foot per second = 0.3048 = ft/s fps = foot-per-second
volume: litre = 0.001 = l L = litre liter
volume: millilitre = 0.000001 = ml mL cm³ cm3 cc = millilitre milliliter cubic-centimetre cubic-centimeter
volume: gallon = 0.003785411784 = gal = gallon
volume: cubic metre = 1 = m³ m3 cbm = cubic-metre cubic-meter
volume: barrel = 0.158987294928 = bbl = barrel
volume: cup = 0 = = cup
duration: second = 1 = s sec secs = second
duration: nanosecond = 0.000000001 = ns = nanosecond
duration: microsecond = 0.000001 = µs = microsecond
duration: millisecond = 0.001 = ms msec = millisecond
duration: minute = 60 = min mins = minute
duration: hour = 3600 = h hr hrs = hour
duration: day = 86400 = = day
duration: week = 604800 = = week fortnight-half
duration: month = 2629746 = = month
duration: year = 31556952 = = year
temperature: degree Celsius = 0 = °C = celsius centigrade
temperature: degree Fahrenheit = 0 = °F = fahrenheit
temperature: kelvin = 0 = = kelvin
pressure: pascal = 1 = Pa = pascal
pressure: hectopascal = 100 = hPa mbar = hectopascal millibar
pressure: kilopascal = 1000 = kPa = kilopascal
pressure: bar = 100000 = bar = bar
pressure: pound per square inch = 6894.757 = psi = psi
pressure: atmosphere = 101325 = atm = atmosphere
energy: joule = 1 = J = joule
energy: kilojoule = 1000 = kJ = kilojoule
energy: kilocalorie = 4184 = kcal = kilocalorie
energy: calorie = 4.184 = cal = calorie
energy: watt hour = 3600 = Wh = watt-hour
energy: kilowatt hour = 3600000 = kWh = kilowatt-hour
energy: megawatt hour = 3600000000 = MWh = megawatt-hour
power: watt = 1 = W = watt
power: kilowatt = 1000 = kW = kilowatt
power: megawatt = 1000000 = MW = megawatt
power: horsepower = 745.7 = hp = horsepower
electricity: volt = 1 = V = volt
electricity: millivolt = 0.001 = mV = millivolt
electricity: kilovolt = 1000 = kV = kilovolt
electricity: ampere = 0 = A = ampere amp
electricity: ohm = 0 = Ω = ohm
force: newton = 1 = N = newton
force: kilonewton = 1000 = kN = kilonewton
frequency: hertz = 1 = Hz = hertz
frequency: kilohertz = 1000 = kHz = kilohertz
frequency: megahertz = 1000000 = MHz = megahertz
frequency: gigahertz = 1000000000 = GHz = gigahertz
frequency: rotation per minute = 0.016666667 = rpm = rpm
angle: degree = 1 = ° deg = degree
angle: radian = 57.29577951 = rad = radian
angle: gradian = 0.9 = gon = gradian
data: byte = 1 = = byte
data: bit = 0.125 = = bit
data: kilobyte = 1000 = kB KB = kilobyte
data: megabyte = 1000000 = MB = megabyte
data: gigabyte = 1000000000 = GB = gigabyte
data: terabyte = 1000000000000 = TB = terabyte
data: kibibyte = 1024 = KiB = kibibyte
data: mebibyte = 1048576 = MiB = mebibyte
data: gibibyte = 1073741824 = GiB = gibibyte
data: kilobit = 125 = kbit = kilobit
data: megabit = 125000 = Mbit = megabit
currency: euro = 0 = € EUR = euro eur
currency: US dollar = 0 = $ USD US$ = dollar usd
currency: pound sterling = 0 = £ GBP = sterling gbp
currency: krone = 0 = NOK DKK SEK kr = krone kroner krona kronor nok dkk sek
currency: franc = 0 = CHF = franc chf
currency: yen = 0 = ¥ JPY = yen jpy
currency: rupee = 0 = ₹ INR = rupee inr
currency: cent = 0 = ct = cent penny pence minor-unit
time zone: UTC = 0 = Z = utc gmt zulu
time zone: local time = 0 = = local local-time
share: percent = 1 = % pct = percent percentage per-cent
share: permille = 0.1 = ‰ = permille per-mille
share: basis point = 0.01 = bp bps = basis-point
share: fraction = 100 = = fraction
date form: year first = 0 = = yyyy-mm-dd iso 8601 rfc3339 rfc-3339 yyyymmdd
date form: day first = 0 = = dd/mm/yyyy dd.mm.yyyy dd-mm-yyyy
date form: month first = 0 = = mm/dd/yyyy mm-dd-yyyy
date form: seconds since 1970 = 0 = = epoch unix
identifier: email address = 0 = = email e-mail
identifier: UUID = 0 = = uuid guid
identifier: number = 0 = = number
identifier: name = 0 = = name
identifier: slug = 0 = = slug
identifier: code = 0 = = code
"""


class KnownUnit(Struct, frozen=True):
    """A row of the table; ``factor`` is 0 where it is no multiple of the measure's first unit."""

    measure: str
    name: str
    factor: float


def _read() -> tuple[dict[str, KnownUnit], dict[str, KnownUnit]]:
    symbols: dict[str, KnownUnit] = {}
    words: dict[str, KnownUnit] = {}
    for line in _TABLE.strip().splitlines():
        measure, _, rest = line.partition(": ")
        name, factor, signs, told = (one.strip() for one in rest.split("= ", 3))
        unit = KnownUnit(measure, name.strip(), float(factor))
        symbols |= dict.fromkeys(signs.split(), unit)
        words |= dict.fromkeys(told.split(), unit)
        plurals = (one if one.endswith("s") or one[-1:] == "z" else one + "s" for one in told.split())
        words |= {plural: unit for plural in plurals if plural not in words}
    return symbols, words | {"inches": words["inch"]}


SYMBOLS, WORDS = _read()
# In lower case an ampere is an article, and a minute the minimum.
_SIGNS = frozenset(symbol.lower() for symbol in SYMBOLS) - {"a", "min"}
# Date forms hold punctuation; they are looked for before plain words.
_WORD = Pattern(
    r"[YMDymd]{2,4}[-/.][YMDymd]{2}[-/.][YMDymd]{2,4}|8601|(?:km|m|ft)/[hs]\b|[A-Za-zµ][A-Za-z0-9²³]*(?:-mail)?|[°€$£¥₹%‰][CF]?"
)
_ALONE = frozenset(["A", "L", "N", "V", "W", "J", "Z", "h", "g", "l", "m", "s", "t"])
"""Symbols of one letter, which are units only after a number or where a text says in what."""


class Unit(Struct, frozen=True):
    """A unit found in a text: what it measures, its name, and where it stands."""

    measure: str
    name: str
    start: int
    end: int


def is_unit_name(word: str) -> bool:
    """Whether a lower-case word of a name is a unit's: a word for it, or its symbol in whatever case."""
    return word in WORDS or word in _SIGNS


@remembered(4_096, 40)
def known_unit(word: str) -> KnownUnit | None:
    """Return the unit that a word or symbol names; words in any case, symbols in their own."""
    return SYMBOLS.get(word) or WORDS.get(word.lower())


def units_in(text: str) -> tuple[Unit, ...]:
    """Return the units that a text names, in order."""
    units = []
    for match in _WORD.finditer(text):
        word = match.group()
        unit = known_unit(word)
        if unit is None or (word in _ALONE and not _is_said_of(text, match.start(), match.end())):
            continue
        units.append(Unit(unit.measure, unit.name, match.start(), match.end()))
    return tuple(units)


def _is_said_of(text: str, start: int, end: int) -> bool:
    """Whether a letter stands where a unit does: after a number, after "in", or alone in brackets."""
    before = text[:start].rstrip()
    return (
        before[-1:].isdigit()
        or before.endswith((" in", "(in"))
        or (before[-1:] in "([" and text[end : end + 1] in ")]" and bool(before))
    )
