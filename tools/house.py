"""Draws the house: every room and module of the program with a line on what it knows, into `docs/house.md`."""

import ast
from collections.abc import Iterator
from pathlib import Path

ROOT = Path("src/humble_relay")
HEAD = """# The house

Every room and every module, with what it knows. Imports run upward on this page in the core only along the order that
`pyproject.toml` states (`lint-imports` holds it): plan, catalogue, judging, places, radio, picture, network, capacity, signal,
timing, power, show, judgement, cures, views. Made by `make types`.

"""


def lines(folder: Path, depth: int = 0) -> Iterator[str]:
    """The rooms and modules of a folder, indented by depth."""
    modules = [p for p in sorted(folder.glob("*.py")) if p.name != "__init__.py"]
    rooms = [p for p in sorted(folder.iterdir()) if (p / "__init__.py").exists()]
    for path in modules:
        yield f"{'  ' * depth}- `{path.stem}` {about(path)}"
    for room in rooms:
        yield f"{'  ' * depth}- **{room.name}/** {about(room / '__init__.py')}"
        yield from lines(room, depth + 1)


def about(module: Path) -> str:
    """The first line of a module's docstring, without its full stop."""
    text = ast.get_docstring(ast.parse(module.read_text(encoding="utf-8"))) or ""
    return " ".join(text.split("\n\n")[0].split()).rstrip(".")


if __name__ == "__main__":
    Path("docs/house.md").write_text(HEAD + "\n".join(lines(ROOT)) + "\n", encoding="utf-8")
