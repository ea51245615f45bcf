"""Random schemas of all of JSON Schema's constraints, and instances near them."""

from __future__ import annotations

from typing import Any

from hypothesis import strategies as st

_NAMES = st.sampled_from(["a", "b", "c"])
_PATTERNS = st.sampled_from(["^a", "b$", "^[ab]$"])
_SCALARS = st.sampled_from(["a", "b", "", "abc", 0, 1, 1.0, 2, 2.5, -1, True, False, None])


def _some(**choices: st.SearchStrategy[Any]) -> st.SearchStrategy[dict[str, Any]]:
    return st.fixed_dictionaries({}, optional=choices)


_STRING = _some(
    minLength=st.integers(0, 3), maxLength=st.integers(1, 4), pattern=st.sampled_from(["^a", "b$"])
).map(lambda more: {"type": "string", **more})
_NUMBER = st.tuples(
    st.sampled_from(["number", "integer"]),
    _some(
        minimum=st.sampled_from([-1, 0, 1, 0.5]),
        exclusiveMaximum=st.sampled_from([2, 3, 2.5]),
        multipleOf=st.sampled_from([1, 2, 0.5]),
    ),
).map(lambda pair: {"type": pair[0], **pair[1]})
_FINITE = st.lists(_SCALARS, min_size=1, max_size=4).map(lambda values: {"enum": values})
_TYPES = st.lists(
    st.sampled_from(["string", "integer", "null", "boolean", "object", "array"]),
    min_size=1,
    max_size=3,
    unique=True,
).map(lambda names: {"type": names})


def _deeper(inner: st.SearchStrategy[Any]) -> st.SearchStrategy[Any]:
    objects = _some(
        properties=st.dictionaries(_NAMES, inner, max_size=3),
        required=st.lists(_NAMES, max_size=2, unique=True),
        additionalProperties=inner,
        minProperties=st.integers(0, 2),
        maxProperties=st.integers(1, 3),
        patternProperties=st.dictionaries(_PATTERNS, inner, max_size=1),
        propertyNames=st.one_of(_PATTERNS.map(lambda pattern: {"pattern": pattern}), inner),
        unevaluatedProperties=inner,
    ).map(lambda more: {"type": "object", **more})
    arrays = _some(
        items=inner,
        prefixItems=st.lists(inner, min_size=1, max_size=2),
        minItems=st.integers(0, 2),
        maxItems=st.integers(1, 3),
        uniqueItems=st.booleans(),
        contains=inner,
        minContains=st.integers(0, 2),
        maxContains=st.integers(0, 2),
        unevaluatedItems=inner,
    ).map(lambda more: {"type": "array", **more})
    asking = st.one_of(
        _some(
            dependentRequired=st.dictionaries(_NAMES, st.lists(_NAMES, max_size=2, unique=True), max_size=2),
            dependentSchemas=st.dictionaries(_NAMES, inner, max_size=1),
        ),
        st.sampled_from(["a", "b"]).map(lambda name: {"not": {"required": [name]}}),
        st.sampled_from(["string", "object", "null"]).map(lambda name: {"not": {"type": name}}),
        inner.map(lambda schema: {"not": schema}),
    )
    unions = st.tuples(st.sampled_from(["anyOf", "oneOf"]), st.lists(inner, min_size=1, max_size=3)).map(
        lambda pair: {pair[0]: pair[1]}
    )
    conditions = st.fixed_dictionaries({"if": inner}, optional={"then": inner, "else": inner})
    both = st.lists(inner, min_size=1, max_size=2).map(lambda members: {"allOf": members})
    return st.one_of(objects, objects, arrays, unions, both, asking, conditions)


_LEAVES = st.one_of(_STRING, _NUMBER, _FINITE, _TYPES, st.booleans(), st.just({}))
SCHEMAS = st.recursive(_LEAVES, _deeper, max_leaves=6)
REFERRING = st.tuples(
    st.recursive(st.one_of(_LEAVES, st.just({"$ref": "#/$defs/shared"})), _deeper, max_leaves=6), SCHEMAS
).map(lambda pair: {"allOf": [pair[0]], "$defs": {"shared": pair[1]}})
"""Schemas whose parts may share one definition."""
INSTANCES = st.recursive(
    _SCALARS,
    lambda inner: st.one_of(st.lists(inner, max_size=3), st.dictionaries(_NAMES, inner, max_size=3)),
    max_leaves=6,
)
