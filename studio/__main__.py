"""The command `gouge`, and `python -m studio`: each of its parts has --help."""

import os
import sys

__all__ = ["main"]

COMMANDS = {
    "demo": "set the demo up and start it",
    "serve": "run the app for real use",
    "worker": "do queued work on this machine too",
    "batch": "put each of some photos in a frame",
    "export": "export a project’s file as pictures or drawings",
    "combine": "unite, subtract, intersect, exclude or divide the shapes of SVG files",
    "backup": "write database and photos into one file",
    "restore": "bring such a file back",
    "clear": "throw away what nobody wants any more",
}


def main() -> int:
    """Run the command line; return the exit code."""
    name = sys.argv[1] if len(sys.argv) > 1 else ""
    if name == "combine":
        from outline.__main__ import main as combine

        return combine(sys.argv[2:], "gouge combine")
    if name not in COMMANDS:
        lines = [f"  {word:9}{what}" for word, what in COMMANDS.items()]
        usage = "\n".join(["usage: gouge COMMAND …", "", *lines, "", "gouge COMMAND --help says more of each."])
        print(usage, file=sys.stdout if name in ("", "-h", "--help", "help") else sys.stderr)
        return 0 if name in ("", "-h", "--help", "help") else 64
    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "config.settings")
    if name == "demo":
        # it has data of its own
        os.environ["GOUGE_DEMO"] = "1"
    try:
        from django.core.management import execute_from_command_line
    except ImportError:
        print(f"gouge {name} needs the whole app: pip install gouge[app]", file=sys.stderr)
        return 1
    execute_from_command_line(["gouge", *sys.argv[1:]])
    return 0


if __name__ == "__main__":
    sys.exit(main())
