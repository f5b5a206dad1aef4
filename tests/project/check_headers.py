"""Every source names its licence: Apache-2.0 for what people link, GPL for the program."""
import sys
from pathlib import Path

root = Path(sys.argv[1])
bad = []
files = [p for d in ("src", "tests", "bench") for e in ("h", "cpp") for p in sorted((root / d).glob(f"**/*.{e}"))]
for path in files:
    linked = path.relative_to(root).parts[:2] in {("src", "engine"), ("src", "examples"), ("src", "render")}
    wanted = "// SPDX-License-Identifier: " + ("Apache-2.0" if linked else "GPL-3.0-or-later")
    if path.read_text().split("\n", 1)[0] != wanted:
        bad.append(f"{path.relative_to(root)}: expected {wanted}")
print("\n".join(bad))
sys.exit(1 if bad or len(files) < 50 else 0)
