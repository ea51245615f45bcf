"""All rules, in the order in which the reference lists them."""

from tallshelf.core.style.rule import Rule
from tallshelf.core.style.rules import (
    access,
    agreement,
    annotations,
    choices,
    house,
    mentions,
    names,
    parameters,
    pasted,
    quantities,
    resources,
    results,
    safety,
    schemas,
    server,
    size,
    texts,
    twins,
    values,
    wording,
)
from tallshelf.core.words.split import word_set

RULES: tuple[Rule, ...] = (
    *names.RULES,
    *twins.RULES,
    *parameters.RULES,
    *texts.RULES,
    *wording.RULES,
    *mentions.RULES,
    *agreement.RULES,
    *choices.RULES,
    *house.RULES,
    *quantities.RULES,
    *schemas.RULES,
    *values.RULES,
    *pasted.RULES,
    *results.RULES,
    *resources.RULES,
    *safety.RULES,
    *access.RULES,
    *annotations.RULES,
    *size.RULES,
    *server.RULES,
)

OF_ENGLISH = word_set(
    """
missing-verb vague-name unexplained-abbreviation vague-parameter near-twin-names two-namings short-description
repeats-the-name repeats-the-parameter cut-off-text result-not-told shouting selling empty-praise
doubled-word unknown-parameter-named unknown-tool-named optional-or-required default-contradicts choices-not-enum
quantity-without-unit date-form-unstated zone-unstated currency-unstated identifier-form-unstated number-as-text
flag-as-text promise-without-parameter result-not-as-told
"""
)
"""The rules that read English: they stand back from items whose texts are in another language."""

__all__ = ["OF_ENGLISH", "RULES"]
