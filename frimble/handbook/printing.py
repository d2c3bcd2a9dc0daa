"""The handbook on paper: the same topics, one after the other, and the terms at the end."""

import io
from collections.abc import Iterator
from html import escape

from reportlab.lib import pagesizes
from reportlab.lib.styles import ParagraphStyle, getSampleStyleSheet
from reportlab.lib.units import mm
from reportlab.platypus import (
    CondPageBreak,
    Flowable,
    Image,
    KeepTogether,
    ListFlowable,
    PageBreak,
    Paragraph,
    SimpleDocTemplate,
    Spacer,
)

from frimble.handbook import pictures
from frimble.handbook.topics import Topic, all_topics, terms
from frimble.ui import decimals

_SIZES = {"a4": pagesizes.A4, "letter": pagesizes.LETTER}
_PICTURE_MM, _ROOM_MM = (110, 60), 120
_SHEET = getSampleStyleSheet()
_BODY = ParagraphStyle("body", parent=_SHEET["BodyText"], fontSize=10.5, leading=14)
_LEAD = ParagraphStyle("lead", parent=_BODY, fontSize=12, leading=16, spaceAfter=6)
_TITLE = ParagraphStyle("title", parent=_SHEET["Heading1"], spaceBefore=9 * mm)
_SMALL = ParagraphStyle("small", parent=_BODY, fontSize=8.5, leading=11)


def as_pdf(paper: str) -> bytes:
    """The handbook as a PDF on this paper, "a4" or "letter"."""
    out = io.BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=_SIZES[paper], title="Frimble handbook", author="Frimble",
        leftMargin=22 * mm, rightMargin=22 * mm, topMargin=20 * mm, bottomMargin=20 * mm,
    )  # fmt: skip
    document.build(list(_pages()), onFirstPage=_number, onLaterPages=_number)
    return out.getvalue()


def _number(canvas, document) -> None:
    canvas.setFont("Helvetica", 8)
    canvas.drawCentredString(document.pagesize[0] / 2, 10 * mm, str(document.page))


def _pages() -> Iterator[Flowable]:
    yield Paragraph("How to", _SHEET["Title"])
    yield Paragraph("What is done at each station of the screen room, as the pages of Frimble show it.", _LEAD)
    yield _listed([topic.title for topic in all_topics()])
    yield PageBreak()
    for topic in all_topics():
        # A topic begins on a page on which a good part of it has room.
        yield CondPageBreak(_ROOM_MM * mm)
        yield from _topic(topic)
    yield PageBreak()
    yield Paragraph("Terms", _SHEET["Heading1"])
    for word, meaning in sorted(terms().items(), key=lambda pair: pair[0].casefold()):
        yield Paragraph(f"<b>{_written(word)}</b>: {_written(meaning)}", _BODY)


def _topic(topic: Topic) -> Iterator[Flowable]:
    yield Paragraph(_written(topic.title), _TITLE)
    yield Paragraph(_written(topic.lead), _LEAD)
    if path := pictures.printed(topic.picture):
        yield _picture(path, pictures.drawn(topic.picture)[1])
    yield _listed(topic.steps)
    if topic.hands:
        yield Paragraph("What the hand does", _SHEET["Heading2"])
        yield _listed(topic.hands)
    for question, answer in topic.asked:
        yield KeepTogether([Paragraph(f"<b>{_written(question)}</b>", _BODY), Paragraph(_written(answer), _BODY)])
    if topic.caution:
        yield Paragraph("Caution", _SHEET["Heading2"])
        yield _listed([*topic.caution.points, topic.caution.closing], kind="bullet")


def _written(words: str) -> str:
    """Words as a paragraph takes them, with the house's decimal sign."""
    return escape(decimals.written(words))


def _listed(lines, kind: str = "1") -> Flowable:
    """Lines in order, numbered; with `kind` "bullet" those that have none."""
    size = 10.5 if kind == "1" else 6
    paragraphs = [Paragraph(_written(line), _BODY) for line in lines]
    return ListFlowable(paragraphs, bulletType=kind, bulletFontSize=size, leftIndent=7 * mm)


def _picture(path, words: str) -> Flowable:
    image = Image(str(path))
    wide, high = _PICTURE_MM
    scale = min(wide * mm / image.imageWidth, high * mm / image.imageHeight)
    image.drawWidth, image.drawHeight = image.imageWidth * scale, image.imageHeight * scale
    return KeepTogether([image, Paragraph(_written(words), _SMALL), Spacer(1, 3 * mm)])
