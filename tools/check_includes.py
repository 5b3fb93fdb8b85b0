#!/usr/bin/env python3
"""Holds the rooms apart: reads every #include below src/ and fails on one that its room may not have."""
import pathlib
import re
import sys

MAY = {
    "base": set(),
    "model": set(),
    "shape": set(),
    "edit": set(),
    "query": {"shape"},
    "ops": {"edit", "query", "shape"},
    "check": {"ops", "edit", "query", "rehearse", "shape"},
    "rehearse": {"query", "shape"},
    "io": {"edit", "query", "check", "rehearse", "shape", "unpack"},
    "hand": {"ops", "edit", "query", "check", "io", "shape"},
    "script": {"ops", "edit", "query", "check", "rehearse", "io", "hand", "shape"},
    "render": {"query", "shape"},
    "unpack": set(),
    "mesh": {"io", "shape"},
    "cli": {"ops", "edit", "query", "check", "rehearse", "io", "hand", "script", "shape"},
    "app": {"ops", "edit", "query", "check", "rehearse", "io", "hand", "script", "render", "shape"},
}
# base may include only itself, model only base; the rest may include both.
FOUNDATION = {"base": set(), "model": {"base"}, "shape": {"base"}}
# Third-party headers that a room's own public headers may show.
PUBLIC_THIRD_PARTY = ("glm/", "tl/")


def room_of(path, root):
    return path.relative_to(root).parts[0]


def problems(root):
    for path in sorted(root.rglob("*")):
        if path.suffix not in (".h", ".cpp"):
            continue
        room = room_of(path, root)
        allowed = {room} | MAY[room] | FOUNDATION.get(room, {"base", "model"})
        for number, line in enumerate(path.read_text().splitlines(), 1):
            found = re.match(r'\s*#include\s+(["<])([^">]+)[">]', line)
            if not found:
                continue
            kind, name = found.groups()
            where = f"{path.relative_to(root.parent)}:{number}"
            if kind == '"':
                other = name.split("/")[0]
                if other not in MAY:
                    yield f"{where}: {name}: is not named from src/, by its room"
                elif other not in allowed:
                    yield f"{where}: {room} may not include {other} ({name})"
            elif re.match(r"Q[A-Z]", name) and room != "app":
                yield f"{where}: Qt belongs to app ({name})"
            elif name.startswith("GL/") and room == "render":
                yield f"{where}: render makes no GL calls ({name})"
            elif path.suffix == ".h" and "/" in name and room != "app" and path.name != "json_text.h":
                if not name.startswith(PUBLIC_THIRD_PARTY) and not name.startswith(("sys/",)):
                    yield f"{where}: a third-party type may show in a header ({name})"


def main():
    root = pathlib.Path(sys.argv[1] if len(sys.argv) > 1 else "src").resolve()
    found = list(problems(root))
    print("\n".join(found) or "Every room includes only what it may.")
    return 1 if found else 0


if __name__ == "__main__":
    sys.exit(main())
