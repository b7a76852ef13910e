"""check_includes.py SOURCE: does every #include in src/ point the way that ARCHITECTURE.md allows?"""
import pathlib
import re
import sys

root = pathlib.Path(sys.argv[1])
allowed = {}
for line in (root / "ARCHITECTURE.md").read_text(encoding="utf-8").splitlines():
    row = re.match(r"\| `([a-z/]+)` \|.*\| ([^|]+) \|$", line)
    if row:
        allowed[row[1]] = re.findall(r"[a-z/]+", row[2])


def full(name):
    return name if name in allowed else "core/" + name


def reach(folder):
    names = allowed[folder]
    below = [f for f in allowed if f.startswith("core/")] if "all" in names or names == ["core"] else [full(n) for n in names if full(n) in allowed]
    return {folder}.union(*(reach(f) for f in below if f != folder))


faults = []
for file in sorted((root / "src").rglob("*")):
    folder = next((f for f in sorted(allowed, key=len, reverse=True) if str(file.relative_to(root / "src")).startswith(f + "/")), None)
    if file.suffix not in (".h", ".cpp") or not folder:
        continue
    ok = reach(folder) | ({"core/sim"} | reach("core/sim") | {"core/measure"} if file.stem.endswith("_test") or file.stem == "sample_calibration" else set())
    for included in re.findall(r'#include "((?:core|app|cli)/[^"]+)/[^"/]+"', file.read_text(encoding="utf-8")):
        if included not in ok:
            faults.append(f"{file.relative_to(root)} includes {included}")
print("\n".join(faults) or f"{len(allowed)} folders, every include points the allowed way")
sys.exit(1 if faults else 0)
