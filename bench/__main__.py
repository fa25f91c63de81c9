"""Every benchmark one after the other, or those named: ./run bench placing drift."""

import sys

from bench import bucket_search, drift, fitting, keeping, placing, press, shop, table_change

ALL = {
    "table_change": table_change.main,
    "press": press.main,
    "shop": shop.main,
    "placing": placing.main,
    "keeping": keeping.main,
    "bucket_search": bucket_search.main,
    "drift": drift.main,
    "fitting": fitting.main,
}


def main() -> int:
    """Run them."""
    wanted = sys.argv[1:] or list(ALL)
    for name in wanted:
        if name not in ALL:
            print(f"There is no benchmark “{name}”. Choose {', '.join(ALL)}.", file=sys.stderr)
            return 2
        print(f"== {name.replace('_', ' ')}", flush=True)
        ALL[name]()
    return 0


if __name__ == "__main__":
    sys.exit(main())
