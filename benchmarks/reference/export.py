"""Write the scenes for the tracer: `python -m benchmarks.reference.export scenes.json`."""

import json
import sys
from pathlib import Path

from benchmarks.reference.scenes import REFERENCES, for_tracer

# Scenes that are traced at 2.4 GHz too.
ALSO_24 = {"school", "house", "bent"}

if __name__ == "__main__":
    specs = [for_tracer(reference, 5.5) for reference in REFERENCES]
    specs += [for_tracer(reference, 2.437) for reference in REFERENCES if reference.name in ALSO_24]
    Path(sys.argv[1]).write_text(json.dumps(specs), "utf-8")
