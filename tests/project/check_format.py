"""Every source is as clang-format writes it."""
import subprocess
import sys
from pathlib import Path

root = Path(sys.argv[1])
files = [str(p) for d in ("src", "tests", "bench") for e in ("h", "cpp") for p in sorted((root / d).glob(f"**/*.{e}"))]
assert len(files) > 50, "is this the source tree?"
sys.exit(subprocess.run(["clang-format", "--dry-run", "-Werror", *files]).returncode)
