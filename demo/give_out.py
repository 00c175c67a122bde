"""Prints the ports of the demo jobs as the planner gives them out; they stand in each demo as `PORTS`.

python -m demo.give_out
"""

from demo.load import JOBS
from heathrise.core.deriving import Memo
from heathrise.core.edit import apply
from heathrise.core.job import Link
from heathrise.core.switching.derived import ports
from heathrise.core.switching.ports import settled
from heathrise.core.switching.replanning import replanned


def main() -> None:
    """Print a table a job."""
    for name, make in JOBS.items():
        job = make()
        job = apply(job, settled(job, ports(Memo(job).look).ports)).job
        job = apply(job, replanned(Memo(job).look)).job
        given = {run.label: f"{job.by_id[run.a.on].label}/{run.a.port}" for run in job.of(Link) if run.a.port}
        print(name, given, sep="\n")


if __name__ == "__main__":
    main()
