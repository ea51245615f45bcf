"""Making mutants: one small change of a function, as the code object that would run in its place."""

from __future__ import annotations

import ast
import copy
import random
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from itertools import islice
from pathlib import Path
from types import CodeType

_COMPARED: dict[type[ast.cmpop], type[ast.cmpop]] = {
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
}
_COUNTED: dict[type[ast.operator], type[ast.operator]] = {
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.FloorDiv,
    ast.BitAnd: ast.BitOr,
    ast.BitOr: ast.BitAnd,
}


@dataclass(frozen=True)
class Mutant:
    """A change at a line of a file, in the function whose code begins at ``first``.

    ``block`` is the line of the first statement of the innermost block that it stands in.
    """

    path: Path
    line: int
    first: int
    block: int
    name: str
    what: str
    code: CodeType

    def __str__(self) -> str:
        return f"{self.path}:{self.line} {self.name}: {self.what}"


def mutants_of(paths: Iterable[Path], number: int, chosen: random.Random) -> list[Mutant]:
    """Return at most a number of mutants of the functions of files, chosen at random."""
    places = [
        (path, tree, function, node, how)
        for path in paths
        for tree in (ast.parse(path.read_text("utf-8")),)
        for function in _functions(tree)
        for node in _nodes(function)
        for how in _ways(node)
    ]
    chosen.shuffle(places)
    made = (_mutant(tree, path, function, node, how) for path, tree, function, node, how in places)
    return list(islice((one for one in made if one is not None), number))


def noting(path: Path, wanted: set[int]) -> dict[int, CodeType]:
    """Return, by the line where they begin, functions of a file that tell ``_noted`` of path and line of each block
    that they come to.
    """
    tree = ast.parse(path.read_text("utf-8"))
    for function in _functions(tree):
        if first_line(function) in wanted:
            for block in list(_blocks(function)):
                call = ast.parse(f"_noted(({str(path)!r}, {block[0].lineno}))").body[0]
                for node in ast.walk(call):
                    ast.copy_location(node, block[0])
                block.insert(0, call)
    code = compile(ast.fix_missing_locations(tree), str(path), "exec")
    return {one.co_firstlineno: one for one in _codes(code) if one.co_firstlineno in wanted}


def _blocks(node: ast.AST) -> Iterator[list[ast.stmt]]:
    """Yield the lists of statements in a function, itself first; of functions inside of it too."""
    for name in ("body", "orelse", "finalbody"):
        block = getattr(node, name, None)
        if isinstance(block, list) and block and isinstance(block[0], ast.stmt):
            yield block
    for child in ast.iter_child_nodes(node):
        yield from _blocks(child)


def _block_of(function: ast.FunctionDef, node: ast.AST) -> int:
    """Return the line of the first statement of the innermost block that a node stands in."""
    return min(
        (
            (sum(1 for statement in block for _ in ast.walk(statement)), block[0].lineno)
            for block in _blocks(function)
            if any(inside is node for statement in block for inside in ast.walk(statement))
        ),
    )[1]


def first_line(function: ast.FunctionDef) -> int:
    """Return where the code of a function begins: at its first decorator."""
    return min([function.lineno, *(one.lineno for one in function.decorator_list)])


def _functions(tree: ast.Module) -> Iterator[ast.FunctionDef]:
    """Yield the functions and methods, without those inside of others."""
    for node in tree.body:
        inside = node.body if isinstance(node, ast.ClassDef) else [node]
        yield from (one for one in inside if isinstance(one, ast.FunctionDef))


def _nodes(function: ast.FunctionDef) -> Iterator[ast.AST]:
    """Yield what can be changed of a function; what it says of types only is never run."""
    waiting: list[ast.AST] = list(function.body)
    while waiting:
        node = waiting.pop()
        yield node
        types = [getattr(node, name, None) for name in ("annotation", "returns")]
        waiting += [child for child in ast.iter_child_nodes(node) if child not in types]


def _ways(node: ast.AST) -> Iterator[str]:
    """Yield by name how a node can be changed."""
    if isinstance(node, ast.Compare) and type(node.ops[0]) in _COMPARED:
        yield "compare"
    if isinstance(node, ast.BoolOp):
        yield "and or"
    if isinstance(node, ast.UnaryOp) and isinstance(node.op, ast.Not):
        yield "drop not"
    if isinstance(node, ast.Constant) and isinstance(node.value, bool):
        yield "flip"
    elif isinstance(node, ast.Constant) and type(node.value) is int:
        yield "one more"
    if isinstance(node, (ast.If, ast.IfExp, ast.While)):
        yield "negate"
    if isinstance(node, ast.BinOp) and type(node.op) in _COUNTED:
        yield "operator"
    if isinstance(node, ast.Return) and node.value is not None and not _is_as_none(node.value):
        yield "return None"
    if isinstance(node, ast.Expr) and isinstance(node.value, ast.Call):
        yield "drop the call"
    if isinstance(node, ast.comprehension) and node.ifs:
        yield "drop the filter"


def _is_as_none(node: ast.AST) -> bool:
    """Whether None in its place says the same to whoever asks: that of False too, which is flipped instead."""
    return isinstance(node, ast.Constant) and (node.value is None or node.value is False)


def _mutant(
    tree: ast.Module, path: Path, function: ast.FunctionDef, node: ast.AST, how: str
) -> Mutant | None:
    whole = copy.deepcopy(tree)
    twin = _twin(tree, whole, node)
    before = ast.unparse(node) if not isinstance(node, (ast.If, ast.While)) else ast.unparse(node.test)
    _change(whole, twin, how)
    code = compile(ast.fix_missing_locations(whole), str(path), "exec")
    first = first_line(function)
    own = next(
        (one for one in _codes(code) if one.co_firstlineno == first and one.co_name == function.name), None
    )
    if own is None:
        return None
    return Mutant(
        path,
        getattr(node, "lineno", function.lineno),
        first,
        _block_of(function, node),
        function.name,
        f"{how}: {before[:70]}",
        own,
    )


def _twin(tree: ast.AST, whole: ast.AST, node: ast.AST) -> ast.AST:
    return next(other for one, other in zip(ast.walk(tree), ast.walk(whole), strict=True) if one is node)


def _change(whole: ast.Module, node: ast.AST, how: str) -> None:
    match how, node:
        case "compare", ast.Compare():
            node.ops[0] = _COMPARED[type(node.ops[0])]()
        case "and or", ast.BoolOp():
            node.op = ast.Or() if isinstance(node.op, ast.And) else ast.And()
        case "flip", ast.Constant():
            node.value = not node.value
        case "one more", ast.Constant():
            node.value = node.value + 1
        case "negate", ast.If() | ast.IfExp() | ast.While():
            node.test = ast.UnaryOp(ast.Not(), node.test)
        case "operator", ast.BinOp():
            node.op = _COUNTED[type(node.op)]()
        case "return None", ast.Return():
            node.value = ast.Constant(None)
        case "drop the call", ast.Expr():
            node.value = ast.Constant(None)
        case "drop the filter", ast.comprehension():
            node.ifs = node.ifs[1:]
        case "drop not", ast.UnaryOp():
            _replace(whole, node, node.operand)


def _replace(whole: ast.Module, old: ast.AST, new: ast.AST) -> None:
    for parent in ast.walk(whole):
        for name, value in ast.iter_fields(parent):
            if value is old:
                setattr(parent, name, new)
            elif isinstance(value, list):
                value[:] = [new if one is old else one for one in value]


def _codes(code: CodeType) -> Iterator[CodeType]:
    for one in code.co_consts:
        if isinstance(one, CodeType):
            yield one
            yield from _codes(one)
