"""`python -m bench [NAME …]`: print the tables of the benchmarks named below, or of all."""

import importlib
import sys

NAMES = (
    "engine", "bounds", "server", "fitting", "tracing", "others", "export", "encoders", "panning", "moving", "drawing",
    "cutting", "batches", "history", "large", "crowding", "sets", "crowd", "load",
)  # fmt: skip


def main(names: list[str]) -> int:
    """Run the named benchmarks, or all."""
    for name in names or NAMES:
        print(f"{name}")
        for what, ratio, limit in importlib.import_module(f"bench.{name}").run():
            print(f"  {what:68s} {ratio:8.3f}   {limit}")
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
