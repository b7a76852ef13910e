"""check_includes.py SOURCE: does every #include in src/ point the way that ARCHITECTURE.md allows?"""
import pathlib
import re
import sys

root = pathlib.Path(sys.argv[1])
text = (root / "ARCHITECTURE.md").read_text(encoding="utf-8")
rows = {}
for line in text.splitlines():
    row = re.match(r"\| `([a-z/]+)` \|.*\| ([^|]+) \|$", line)
    if row:
        rows[row[1]] = [name.strip() for name in row[2].split(",")]


def below(folder):
    """Folders named in a row; core folders are named without `core/` among themselves."""
    names = rows[folder]
    return [n if n in rows else "core/" + n for n in names if n in rows or "core/" + n in rows]


def reach(folder, seen=frozenset()):
    # what a front end stands on is a door, not a stair: what lies behind the core's doors stays behind them
    front = not folder.startswith("core/")
    out = {folder}
    for f in below(folder):
        if f in seen:
            sys.exit(f"ARCHITECTURE.md: {f} and {folder} stand on each other")
        out |= {f} if front and f.startswith("core/") else reach(f, seen | {folder})
    return out


def circle(arrows):
    """A list of folders that stand on each other in a circle, by the includes themselves; empty: none."""
    done = set()

    def walk(folder, path):
        if folder in path:
            return path[path.index(folder):] + [folder]
        if folder in done:
            return []
        for other in sorted(arrows.get(folder, ())):
            if found := walk(other, path + [folder]):
                return found
        done.add(folder)
        return []

    return next((found for f in sorted(arrows) if (found := walk(f, []))), [])


arrows = {}
faults = []
for file in sorted((root / "src").rglob("*")):
    folder = next((f for f in sorted(rows, key=len, reverse=True) if str(file.relative_to(root / "src")).startswith(f + "/")), None)
    if file.suffix not in (".h", ".cpp") or not folder:
        continue
    is_test = file.stem.endswith("_test")
    ok = reach(folder)
    if is_test or file.stem == "sample_calibration":
        ok |= {f for f in rows if f.startswith("core/")} if is_test else reach("core/sim") | {"core/measure"}
    for included in re.findall(r'#include "((?:core|app|cli)/[^"]+)"', file.read_text(encoding="utf-8")):
        to = included.rsplit("/", 1)[0]
        if not is_test and file.stem != "sample_calibration" and to != folder:
            arrows.setdefault(folder, set()).add(to)
        if to in ok:
            continue
        faults.append(f"{file.relative_to(root)} includes {included}")
if found := circle(arrows):
    faults.append("folders stand on each other in a circle: " + " → ".join(found))
# letters change with the locale in the C library's functions; core/base/letters.h has those of ASCII
for file in sorted((root / "src").rglob("*.[ch]*")):
    for call in re.findall(r"\b(?:std)?::(?:to(?:lower|upper)|is(?:alpha|alnum|digit|upper|lower|space))\b", file.read_text(encoding="utf-8")):
        faults.append(f"{file.relative_to(root)} uses {call}; core/base/letters.h does not depend on the locale")
print("\n".join(faults) or f"{len(rows)} folders, every include points the allowed way")
sys.exit(1 if faults else 0)
