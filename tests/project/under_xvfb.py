"""Runs a few interface tests and the window itself under a real X server."""
import os
import subprocess
import sys

tests, program, root = sys.argv[1:4]
environment = {k: v for k, v in os.environ.items() if k != "QT_QPA_PLATFORM"} | {"QT_QPA_PLATFORM": "xcb", "XDG_RUNTIME_DIR": "/tmp"}
xvfb = ["xvfb-run", "-a", "-s", "-screen 0 1280x800x24"]
few = "MainWindowTest.OpensTheDemoAndTheWheelMovesIt:MainWindowTest.TheMapJumps:MainWindowTest.TheSentenceReadsAndItsWordsChangeTheRun"
sys.exit(subprocess.run([*xvfb, tests, f"--gtest_filter={few}"], env=environment).returncode)
