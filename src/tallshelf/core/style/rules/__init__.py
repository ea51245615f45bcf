"""All rules, in the order in which the reference lists them."""

from tallshelf.core.style.rule import Rule
from tallshelf.core.style.rules import names, safety, schemas, server, texts

RULES: tuple[Rule, ...] = (
    *names.RULES,
    *texts.RULES,
    *schemas.RULES,
    *safety.RULES,
    *server.RULES,
)

__all__ = ["RULES"]
