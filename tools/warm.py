"""Compile the kernels to disk, once a release: the first drag is then as quick as the rest.

Run by `make setup`; says what it does, because the first time takes a minute or two.
"""

from time import monotonic

from demo.tern_lane import tern_lane

from heathrise.core.findings import assess


def main() -> None:
    """Assess a demo job, which runs every kernel, and say how long it took."""
    print("Compiling the kernels for this machine (a minute or two, once) ...", flush=True)
    began = monotonic()
    assess(tern_lane())
    print(f"Kernels are ready after {monotonic() - began:.0f} s.", flush=True)


if __name__ == "__main__":
    main()
