"""Run the stand-in: `python -m standin --folder DIR --port 8421 --speed 60`, on loopback alone."""

import argparse
from pathlib import Path

from werkzeug.serving import WSGIRequestHandler, make_server

from standin.app import create


class Quiet(WSGIRequestHandler):
    """Writes no line for every request."""

    def log_request(self, code: int | str = "-", size: int | str = "-") -> None:
        """Write nothing."""
        del code, size


def main() -> None:
    """Serve until stopped."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--folder", type=Path, required=True)
    parser.add_argument("--port", type=int, default=8421)
    parser.add_argument("--speed", type=float, default=60.0)
    given = parser.parse_args()
    given.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
    app = create(given.folder, given.speed)
    make_server("127.0.0.1", given.port, app, threaded=True, request_handler=Quiet).serve_forever()


if __name__ == "__main__":
    main()
