"""Every #include points the way the layers allow; no Qt in the engine, no widgets in a model."""
import re
import sys
from pathlib import Path

root = Path(sys.argv[1])
ENGINE = ["base", "extent", "record", "design", "order", "change", "edit", "arrange", "recycle", "page", "gesture", "trace", "run", "finding", "document"]
ABOVE = {"examples": {"engine", "examples"}, "render": {"engine", "render"}, "service": {"engine", "render", "service"},
         "workbench": {"engine", "render", "service", "workbench"},
         "cli": {"engine", "examples", "render", "service", "workbench", "cli"}}
bad = []
seen = 0
for path in sorted([*root.glob("src/**/*.h"), *root.glob("src/**/*.cpp")]):
    parts = path.relative_to(root / "src").parts
    for number, line in enumerate(path.read_text().splitlines(), 1):
        found = re.match(r'\s*#include\s+[<"]([^>"]+)[>"]', line)
        if not found:
            continue
        seen += 1
        target = found.group(1)
        where = f"{path.relative_to(root)}:{number}: {target}"
        first = target.split("/")[0]
        if target.endswith(".cpp") and target != f"moc_{path.stem}.cpp":
            bad.append(where + ": only what moc made of the file's own class is included as code")
        if parts[0] == "engine":
            if re.match(r"Q[A-Z]|Qt", target) or first in ABOVE:
                bad.append(where + ": the engine knows no Qt and nothing below it")
            elif first == "engine" and ENGINE.index(target.split("/")[1]) > ENGINE.index(parts[1]):
                bad.append(where + ": this layer lies below")
        elif first in {"engine", *ABOVE} and first not in ABOVE[parts[0]]:
            bad.append(where + ": this arrow points the wrong way")
        if "model" in parts and re.match(r"Q(Widget|Painter|Pixmap|Application|MainWindow|Label|Menu|Dialog)", target):
            bad.append(where + ": no widgets in a model")
        if parts[:2] == ("workbench", "model") and target.startswith("workbench/ui"):
            bad.append(where + ": the model does not know its interface")
        if parts[:2] == ("workbench", "ui") and target.startswith("workbench/ui/"):
            # The folders of ui are the stations, and look, which all may use; one file lists the stations.
            room = target.split("/")[2]
            mine = parts[2]
            if room.endswith(".h") and "." not in mine:
                bad.append(where + ": a station does not know its window")
            elif not room.endswith(".h") and room not in {"look", mine} and mine != "stations.cpp":
                bad.append(where + ": a station is known to itself and to stations.cpp alone")
for where in bad:
    print(where)
if seen < 100:
    sys.exit(f"only {seen} includes read: is this the source tree?")
sys.exit(1 if bad else 0)
