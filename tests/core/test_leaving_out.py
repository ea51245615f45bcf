"""What a text says of a parameter that is left out: that it may be, that nothing comes of it, or nothing at all."""

from __future__ import annotations

import pytest

from tallshelf.core.words.leaving_out import said_of_leaving_out

MAY = """
Colour of the hull (optional).
Remarks for the master; may be left out.
Rounds to play; skip it and you get three.
Grounds; the owner is free to state none.
Month; when absent, April.
Crew number. Without it the whole crew is meant.
Day; today where it is not given.
Note of the pilot; need not be given.
Pilot; nobody is noted where he is missing, or if nothing is given.
"""
MUST = """
Amount in kilograms (required).
Term in months; must be given.
Number of the card. Without it no booking comes about.
Reference of the report, which belongs to every report of a loss.
Number of spools. An order without it is refused.
Code of the quay; may not be left out.
Berth; where it is missing, the call fails.
"""
NEITHER = """
First hour; required only when the last one is given.
Note; an empty text removes it.
Name of the file; the ending is added if missing.
If the mode is fixed, this is required.
Number from the band or, where that is missing,
Either of the two; without it give the other one, or one of them only.
Skills that are required on board.
Required to tell twins apart.
"""


@pytest.mark.parametrize(
    ("text", "how"),
    [
        *((text, "may") for text in MAY.strip().splitlines()),
        *((text, "must") for text in MUST.strip().splitlines()),
        *((text, None) for text in NEITHER.strip().splitlines()),
    ],
)
def test_it_is_read_whether_a_parameter_may_be_left_out(text, how):
    said = said_of_leaving_out(text)
    assert (said.how if said else None) == how
    assert said is None or text[said.start : said.end].strip()
