"""check_includes.py SOURCE: does every #include in src/ point the way that ARCHITECTURE.md allows?"""
import fnmatch
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
values = ["core/" + v + ".h" for v in re.findall(r"`([^`]+)`", re.search(r"Value headers.*?:(.*?)\.\n", text, re.S)[1])]


def below(folder):
    """Folders named in a row; core folders are named without `core/` among themselves."""
    names = rows[folder]
    if names == ["all of core"]:
        return [f for f in rows if f.startswith("core/") and f != folder]
    return [n if n in rows else "core/" + n for n in names if n in rows or "core/" + n in rows]


def reach(folder):
    # what a front end stands on is a door, not a stair: what lies behind the core's doors stays behind them
    front = not folder.startswith("core/")
    out = {folder}
    for f in below(folder):
        out |= {f} if front and f.startswith("core/") else reach(f)
    return out


def takes_values(folder):
    return "value headers" in rows[folder] or any(takes_values(f) for f in below(folder) if not folder.startswith("core/"))


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
        if included.rsplit("/", 1)[0] in ok:
            continue
        if takes_values(folder) and any(fnmatch.fnmatch(included, v) for v in values):
            continue
        faults.append(f"{file.relative_to(root)} includes {included}")
# letters change with the locale in the C library's functions; core/base/letters.h has those of ASCII
for file in sorted((root / "src").rglob("*.[ch]*")):
    for call in re.findall(r"\b(?:std)?::(?:to(?:lower|upper)|is(?:alpha|alnum|digit|upper|lower|space))\b", file.read_text(encoding="utf-8")):
        faults.append(f"{file.relative_to(root)} uses {call}; core/base/letters.h does not depend on the locale")
print("\n".join(faults) or f"{len(rows)} folders, every include points the allowed way")
sys.exit(1 if faults else 0)
