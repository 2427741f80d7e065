"""What a public function can refuse stands in its docstring."""

import ast
from collections.abc import Iterator
from pathlib import Path

import tenaz

SOURCE = Path(tenaz.__file__).parent
OURS = ("Refused", "BookError", "TenazError", "Interrupted", "NeedsReason")


def _own(body: list[ast.stmt]) -> Iterator[ast.AST]:
    """All that stands in a function, but not in functions and classes within it, nor what it catches itself."""
    for node in body:
        if isinstance(node, ast.FunctionDef | ast.AsyncFunctionDef | ast.ClassDef):
            continue
        yield node
        for field in ("body", "orelse", "finalbody", "handlers", "cases"):
            inner = getattr(node, field, [])
            yield from _own([one for one in inner if isinstance(one, ast.stmt)])
            for one in inner:
                if isinstance(one, ast.ExceptHandler | ast.match_case):
                    yield from _own(one.body)


def _raised(function: ast.FunctionDef | ast.AsyncFunctionDef) -> set[str]:
    """Our own errors that it raises by name."""
    found = set()
    for node in _own(function.body):
        if isinstance(node, ast.Raise) and isinstance(node.exc, ast.Call) and isinstance(node.exc.func, ast.Name):
            found.add(node.exc.func.id)
    return found & set(OURS)


def _public(tree: ast.Module) -> Iterator[tuple[str, ast.FunctionDef | ast.AsyncFunctionDef]]:
    for node in tree.body:
        if isinstance(node, ast.FunctionDef) and not node.name.startswith("_"):
            yield node.name, node
        if isinstance(node, ast.ClassDef) and not node.name.startswith("_"):
            for inner in node.body:
                if isinstance(inner, ast.FunctionDef) and not inner.name.startswith("_"):
                    yield f"{node.name}.{inner.name}", inner


def test_what_is_raised_by_name_is_told() -> None:
    silent = []
    for file in sorted(SOURCE.rglob("*.py")):
        if "cli" in file.relative_to(SOURCE).parts:
            # A command's docstring is its help; its errors are told by their own words.
            continue
        for name, function in _public(ast.parse(file.read_text(encoding="utf-8"))):
            told = ast.get_docstring(function) or ""
            raised = _raised(function)
            if raised and ("Raises:" not in told or not any(one in told for one in raised)):
                silent.append(f"{file.relative_to(SOURCE)}:{function.lineno} {name} raises {', '.join(sorted(raised))}")
    assert not silent, "\n".join(silent)
