"""All rules, in the order in which the reference lists them."""

from tallshelf.core.style.rule import Rule
from tallshelf.core.style.rules import (
    access,
    house,
    mentions,
    names,
    parameters,
    pasted,
    quantities,
    resources,
    safety,
    schemas,
    server,
    size,
    texts,
    values,
    wording,
)

RULES: tuple[Rule, ...] = (
    *names.RULES,
    *parameters.RULES,
    *texts.RULES,
    *wording.RULES,
    *mentions.RULES,
    *house.RULES,
    *quantities.RULES,
    *schemas.RULES,
    *values.RULES,
    *pasted.RULES,
    *resources.RULES,
    *safety.RULES,
    *access.RULES,
    *size.RULES,
    *server.RULES,
)

__all__ = ["RULES"]
