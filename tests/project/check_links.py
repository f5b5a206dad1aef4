#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""Each link of a page to another file, or to a heading of one, leads there. check_links.py ROOT"""
import pathlib
import re
import sys

root = pathlib.Path(sys.argv[1])
LINK = re.compile(r"\]\(([^)\s]+)\)")


def anchors(page):
    heads = re.findall(r"^#+ +(.+)$", page.read_text(), re.MULTILINE)
    return {re.sub(r"[^\w\- ]", "", head.lower()).replace(" ", "-") for head in heads}


problems = []
pages = [*root.glob("*.md"), *(root / "docs").rglob("*.md")]
for page in pages:
    for target in LINK.findall(page.read_text()):
        if re.match(r"[a-z]+:", target):
            continue
        name, _, anchor = target.partition("#")
        to = (page.parent / name).resolve() if name else page
        if not to.exists():
            problems.append(f"{page.relative_to(root)}: {target} is not there")
        elif anchor and anchor not in anchors(to):
            problems.append(f"{page.relative_to(root)}: {target} names no heading")
if len(pages) < 5:
    problems.append("there are too few pages to look at")
print("\n".join(problems) or f"{len(pages)} pages: each link leads somewhere")
sys.exit(1 if problems else 0)
