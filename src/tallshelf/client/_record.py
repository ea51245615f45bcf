"""What the service answers, as a record: read like a dict or by attribute, and never changed."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, NoReturn, Self


class Record(dict[str, Any]):
    """One object of an answer. Its members are attributes as well; those that the service adds later are there, too.

    The kinds in `tallshelf.client.results` say which members there are and of which types.
    """

    __slots__ = ()
    _records: ClassVar[Mapping[str, type[Record]]] = {}

    @classmethod
    def of(cls, value: Mapping[str, Any]) -> Self:
        """Return a decoded object as a record, and those inside it as the records that they are."""
        return cls({name: _held(one, cls._records.get(name, Record)) for name, one in value.items()})

    def __getattr__(self, name: str) -> Any:
        try:
            return self[name]
        except KeyError:
            raise AttributeError(f"there is no {name!r}; there are {', '.join(sorted(self))}") from None

    def _refuse(self, *args: Any, **more: Any) -> NoReturn:
        raise TypeError("what the service answered is not changed; make a dict of it first: dict(record)")

    __setattr__ = __delattr__ = __setitem__ = __delitem__ = _refuse
    clear = pop = popitem = setdefault = update = __ior__ = _refuse


def _held(value: Any, kind: type[Record]) -> Any:
    if isinstance(value, dict):
        return kind.of(value)
    if isinstance(value, list):
        return [_held(one, kind) for one in value]
    return value
