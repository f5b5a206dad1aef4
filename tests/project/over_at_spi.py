#!/usr/bin/env python3
# SPDX-License-Identifier: GPL-3.0-or-later
"""The live window as a screen reader finds it: over AT-SPI2, on a session bus of its own, under a real X server.

over_at_spi.py PROGRAM SOURCE_DIR PROGRAM_TESTS: runs the program on the demo by hand, and looks at its items from outside;
then those tests of the window that need somebody who listens.
"""
import os
import subprocess
import sys
import tempfile
import time

LAUNCHER = "/usr/libexec/at-spi-bus-launcher"


def wait_for(found, what, seconds=60):
    until = time.monotonic() + seconds
    while time.monotonic() < until:
        thing = found()
        if thing:
            return thing
        time.sleep(0.1)
    sys.exit(f"{what}: not within {seconds} s")


def those(accessible, role, depth=0):
    """All of a role below, whatever goes away meanwhile."""
    try:
        if accessible is None or depth > 25:
            return []
        if accessible.getRoleName() == role:
            return [accessible]
        count = min(accessible.childCount, 200)
    except Exception:
        return []
    found = []
    for i in range(count):
        try:
            found += those(accessible.getChildAtIndex(i), role, depth + 1)
        except Exception:
            pass
    return found


def look():
    import pyatspi  # of Debian's python
    from gi.repository import GLib

    def all_of(role):
        desktop = pyatspi.Registry.getDesktop(0)
        return [one for i in range(desktop.childCount) for one in those(desktop.getChildAtIndex(i), role)]

    heard = []
    pyatspi.Registry.registerEventListener(lambda event: heard.append(event.source.name), "object:state-changed:focused")

    def pump():
        while GLib.MainContext.default().iteration(False):
            pass
        return heard

    def items():
        return next((table for table in all_of("table") if table.queryTable().nRows == 20_000), None)

    def expect(holds, what):
        if not holds:
            sys.exit(what)

    station = wait_for(lambda: [box for box in all_of("check box") if box.name == "Flow"], "the station Flow")[0]
    station.queryAction().doAction(0)
    table = wait_for(items, "a table of 20,000 rows")
    rows = table.queryTable()
    expect(0 < table.childCount < 100, f"{table.childCount} children: one for each item view")
    third = wait_for(lambda: rows.getAccessibleAt(2, 0), "the third item")
    expect(third.description == "3 of 20,000", f"it stands at: {third.description}")
    expect("Copper harlequin" in third.name, f"it is called: {third.name}")
    action = third.queryAction()
    names = [action.getName(i) for i in range(action.nActions)]
    expect("verify" in names and "remove" in names, f"its actions: {names}")
    expect(rows.addRowSelection(2), "it cannot be selected")
    wait_for(lambda: third.getState().contains(pyatspi.STATE_SELECTED), "it says that it is selected", 10)
    action.doAction(names.index("SetFocus"))
    wait_for(lambda: third.getState().contains(pyatspi.STATE_FOCUSED), "it says that it has the keys", 10)
    wait_for(lambda: third.name in pump(), "it is told that it has the keys", 10)
    action.doAction(names.index("remove"))
    wait_for(lambda: rows.nRows == 19_999, "one is removed", 10)
    print("a screen reader finds the items, where they stand and what can be done with them")


def on_its_bus(program, source, tests):
    with tempfile.TemporaryDirectory() as home:
        os.chmod(home, 0o700)
        os.environ.update(
            {f"XDG_{kind}_HOME": f"{home}/{kind}" for kind in ("CONFIG", "STATE", "CACHE", "DATA")}
        )
        os.environ.update({"XDG_RUNTIME_DIR": home, "QT_QPA_PLATFORM": "xcb", "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1"})
        started = []
        try:
            read, write = os.pipe()
            started.append(
                subprocess.Popen(
                    ["Xvfb", "-displayfd", str(write), "-screen", "0", "1280x800x24"],
                    pass_fds=[write],
                    stderr=subprocess.DEVNULL,
                )
            )
            os.environ["DISPLAY"] = ":" + os.read(read, 16).decode().strip()
            started.append(subprocess.Popen([LAUNCHER, "--launch-immediately"], stderr=subprocess.DEVNULL))
            started.append(
                subprocess.Popen(
                    [program, f"{source}/demo/hands.collection.json"], stderr=subprocess.DEVNULL
                )
            )
            looked = subprocess.call(["/usr/bin/python3", os.path.abspath(__file__), "--look"], timeout=200)
            heard = subprocess.call([tests, "--gtest_filter=HeardTest.*", "--gtest_brief=1"], timeout=200)
            return looked or heard
        finally:
            for one in reversed(started):
                one.terminate()
                one.wait(10)


if __name__ == "__main__":
    if sys.argv[1] == "--look":
        look()
    elif sys.argv[1] == "--on-bus":
        sys.exit(on_its_bus(*sys.argv[2:]))
    else:
        bus = ["dbus-run-session", "--", sys.executable, os.path.abspath(__file__), "--on-bus"]
        sys.exit(subprocess.call(bus + [os.path.abspath(path) for path in sys.argv[1:]]))
