"""The HTTP door: parse, call, answer. One module a subject, no rules of the job."""
