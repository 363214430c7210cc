"""Pages of plain text and tables, as all sheets of the program share them."""

from __future__ import annotations

from fpdf import FPDF

MARGIN = 12.0
_PLAIN = (
    *(("−", "-"), ("≈", "~"), ("Ω", "ohm"), ("“", '"'), ("”", '"'), ("’", "'")),
    *(("…", "..."), ("≤", "at most "), ("€", "EUR"), ("✓", "x")),
)


def sheet_of(title: str) -> FPDF:
    """A first page, A4."""
    page = FPDF(unit="mm", format="A4")
    page.set_margin(MARGIN)
    page.set_auto_page_break(True, 14.0)
    page.set_title(title)
    page.add_page()
    return page


def latin(text: str) -> str:
    """What the page's own letters can say."""
    for old, new in _PLAIN:
        text = text.replace(old, new)
    return text.encode("latin-1", errors="replace").decode("latin-1")


def words(page: FPDF, text: str, size: float, *, bold: bool = False) -> None:
    """A paragraph."""
    page.set_font("Helvetica", style="B" if bold else "", size=size)
    page.multi_cell(0, 0.5 * size, latin(text), new_x="LMARGIN", new_y="NEXT")
