"""list_templates.py SOURCE [--all]: are all sentences of the core marked for a translator?

A sentence is marked where it is the literal of a call that takes a template, so that any extraction tool finds it
by the call's name: KEYWORDS. In a table of rows it stands in said("…"). Lists what is not marked, or with --all
what is. The command line's own help, SQL, made-up names and what is written into files are English by design."""
import pathlib
import re
import sys

KEYWORDS = {"filled", "unusable", "internalError", "Phrase", "said", "fail", "at", "stopped", "refused"}
WRITTEN = {"cube_lut.cpp", "cgats.cpp", "icc_profile.cpp", "output_profile.cpp", "export_task.cpp", "demo_task.cpp",
           "studio_task.cpp", "html_report.cpp", "sample_calibration.h", "deliver_task.cpp"}  # into files, beside what they say
SQL = re.compile(r"^\s*(CREATE|SELECT|INSERT|DELETE|BEGIN|PRAGMA|UPDATE)\b")
TOKEN = re.compile(r'//[^\n]*|/\*.*?\*/|R"\((?:.*?)\)"|"(?:\\.|[^"\\\n])*"|\'(?:\\.|[^\'\\])+\'|[A-Za-z_]\w*|\s+|.', re.S)


def literals(text):
    """(line, whole literal, the name before each bracket that it stands in, from the innermost) of each."""
    open_names, last, line, parts, at = [], "", 1, [], 0
    for token in TOKEN.findall(text):
        if token.startswith('"'):
            at = at if parts else line
            parts.append(token[1:-1])
        elif token.strip() and not token.startswith(("//", "/*")):
            if parts:
                yield at, "".join(parts), list(reversed(open_names))
                parts = []
            if token in "([{":
                open_names.append(last)
            elif token in ")]}":
                open_names and open_names.pop()
            last = token
        line += token.count("\n")


def is_sentence(text, file):
    has_place = re.search(r"\{[a-z]\w*([:|][^}]*)?\}", text)
    words = re.findall(r"[A-Za-z]{2,}", text)
    return bool(has_place and re.search(r"[a-z]", re.sub(r"\{[^}]*\}", "", text))) or (len(words) >= 4 and " " in text) or (
        "core/words" in str(file) and len(words) >= 2 and " " in text)


root = pathlib.Path(sys.argv[1])
marked, faults = set(), []
for file in sorted((root / "src/core").rglob("*")):
    if file.suffix not in (".h", ".cpp") or file.stem.endswith("_test") or "/sim/" in str(file):
        continue
    text = re.sub(r"^[ \t]*#.*$", "", file.read_text(encoding="utf-8"), flags=re.M)
    for line, literal, names in literals(text):
        if any(name in KEYWORDS for name in names[:2]):
            marked.add(literal)
        elif is_sentence(literal, file) and file.name not in WRITTEN and not SQL.match(literal):
            faults.append(f"{file.relative_to(root)}:{line}: {literal}")
if "--all" in sys.argv:
    print("\n".join(sorted(marked)))
elif faults:
    print("\n".join(faults))
    sys.exit(f"{len(faults)} sentences are not marked")
else:
    print(f"{len(marked)} sentences, each is marked")
