"""Write the scenes for the tracer: `python -m benchmarks.reference.export scenes.json`."""

import json
import sys
from pathlib import Path

from benchmarks.reference.scenes import REFERENCES, for_tracer
from heathrise.core.library.slab import band_ghz

if __name__ == "__main__":
    specs = [for_tracer(reference, f_ghz) for reference in REFERENCES for f_ghz in band_ghz("etsi-like")]
    Path(sys.argv[1]).write_text(json.dumps(specs), "utf-8")
