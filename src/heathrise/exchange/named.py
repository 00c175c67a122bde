"""Names of files handed out."""


def named_file(job_name: str, ending: str) -> str:
    """Return a file's name made of a job's, with the ending given: any system takes it."""
    plain = "".join(c if c.isascii() and c.isalnum() else "-" for c in job_name.lower())
    return f"{'-'.join(filter(None, plain.split('-'))) or 'job'}.{ending}"
