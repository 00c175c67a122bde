"""The open questions as a list to send to the client: plain text and PDF."""

from datetime import date

from reportlab.platypus import Flowable

from heathrise.core.site.brief import OpenQuestion
from heathrise.exchange.paper.document import gap, heading, quiet, title, together, words, write_document
from heathrise.exchange.paper.sheets import Title

_CAUTION = "What is not answered is planned by the house practice."


def questions_text(job_name: str, questions: tuple[OpenQuestion, ...], day: date) -> str:
    """Return the questions as text: open ones first with room to answer, then what was answered."""
    open_ones = [q for q in questions if q.answer is None]
    answered = [q for q in questions if q.answer is not None]
    lines = [f"{job_name}: questions before we plan", f"Asked on {day.isoformat()}", ""]
    for number, question in enumerate(open_ones, start=1):
        lines += [f"{number}. {question.text}", f"   Why we ask: {question.why}", "   Answer:", ""]
    if not open_ones:
        lines += ["Nothing is open.", ""]
    if answered:
        lines += ["Already answered", ""]
        lines += [f"- {q.text} {q.answer} ({q.on})" for q in answered]
    return "\n".join(lines) + "\n"


def questions_pdf(job_name: str, questions: tuple[OpenQuestion, ...], day: date, practice: str = "") -> bytes:
    """Return the same list as a PDF on A4 with lines to write on."""
    open_ones = [q for q in questions if q.answer is None]
    story: list[Flowable] = [title("Questions before we plan"), quiet(f"Asked on {day.isoformat()}")]
    for number, question in enumerate(open_ones, start=1):
        asked = [
            words(f"{number}. {question.text}"),
            quiet(f"Why we ask: {question.why}"),
            gap(3),
            quiet("." * 120),
        ]
        story.append(together([gap(3), *asked]))
    if not open_ones:
        story.append(words("Nothing is open."))
    answered = [q for q in questions if q.answer is not None]
    if answered:
        story += [gap(4), heading("Already answered")]
        story += [words(f"{q.text} {q.answer} ({q.on})") for q in answered]
    foot_of = Title(job_name, "Questions to the client", 0, day.isoformat(), practice, _CAUTION)
    return write_document(foot_of, story)
