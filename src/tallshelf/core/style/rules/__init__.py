"""All rules, in the order in which the reference lists them."""

from tallshelf.core.style.rule import Rule
from tallshelf.core.style.rules import (
    mentions,
    names,
    parameters,
    quantities,
    resources,
    safety,
    schemas,
    server,
    size,
    texts,
    wording,
)

RULES: tuple[Rule, ...] = (
    *names.RULES,
    *parameters.RULES,
    *texts.RULES,
    *wording.RULES,
    *mentions.RULES,
    *quantities.RULES,
    *schemas.RULES,
    *resources.RULES,
    *safety.RULES,
    *size.RULES,
    *server.RULES,
)

__all__ = ["RULES"]
