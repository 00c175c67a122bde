"""The open questions as a list to send to the client: plain text and PDF."""

import io
from datetime import date
from xml.sax.saxutils import escape

from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle, getSampleStyleSheet
from reportlab.lib.units import mm
from reportlab.platypus import KeepTogether, Paragraph, SimpleDocTemplate, Spacer

from heathrise.core.site.brief import OpenQuestion


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


def questions_pdf(job_name: str, questions: tuple[OpenQuestion, ...], day: date) -> bytes:
    """Return the same list as a PDF on A4 with lines to write on."""
    sheet = getSampleStyleSheet()
    body = ParagraphStyle("body", parent=sheet["BodyText"], fontSize=10.5, leading=14)
    small = ParagraphStyle("small", parent=body, fontSize=8.5, leading=11, textColor="#5B6770")
    story: list[object] = [Paragraph(escape(f"{job_name}: questions before we plan"), sheet["Title"])]
    story.append(Paragraph(f"Asked on {day.isoformat()}", small))
    open_ones = [q for q in questions if q.answer is None]
    for number, question in enumerate(open_ones, start=1):
        story.append(
            KeepTogether(
                [
                    Spacer(1, 5 * mm),
                    Paragraph(escape(f"{number}. {question.text}"), body),
                    Paragraph(escape(f"Why we ask: {question.why}"), small),
                    Spacer(1, 4 * mm),
                    Paragraph("." * 110, small),
                ]
            )
        )
    if not open_ones:
        story.append(Paragraph("Nothing is open.", body))
    answered = [q for q in questions if q.answer is not None]
    if answered:
        story += [Spacer(1, 8 * mm), Paragraph("Already answered", sheet["Heading2"])]
        story += [Paragraph(escape(f"{q.text} {q.answer} ({q.on})"), body) for q in answered]
    out = io.BytesIO()
    margins = {"leftMargin": 20 * mm, "rightMargin": 20 * mm, "topMargin": 18 * mm, "bottomMargin": 18 * mm}
    SimpleDocTemplate(out, pagesize=A4, title=f"{job_name}: questions", **margins).build(story)
    return out.getvalue()
