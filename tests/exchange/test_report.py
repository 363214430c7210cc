"""A report as a page and as text: what is in it, what words may not break, nothing that is fetched."""

import re
import unittest
from dataclasses import replace
from html.parser import HTMLParser

from wattagon.exchange.report.model import CAUTIONS, Report, Section, Told
from wattagon.exchange.report.render import html_of, inline, markdown_of, md_table

SVG = (
    '<?xml version="1.0"?>\n<svg width="254mm" height="111mm" viewBox="0 0 960 420" xmlns="http://www.w3.org/2000/svg">'
    '<defs><linearGradient id="gradient1"/></defs><g fill="url(#gradient1)"><text>kv</text></g></svg>'
)
ODD = 'A <b>board</b> & "co" | one'
REPORT = Report(
    vehicle=ODD,
    variant="B Levee belts",
    note="",
    made="2026-07-01",
    drive="2 x Outrunner",
    goals=(("goal", "reached", "between", "likely", "verdict"), ("top speed 33 km/h", "41.8 km/h", "40 to 42", "100%", "met")),
    sections=(
        Section(
            code="drive",
            title="Drive",
            headline="as it stands",
            picture=SVG,
            says="a map",
            table=(("goal", "room"), ("a | b", "1 < 2")),
            findings=(Told(status="tight", title="Motor amps", because="As rated.", assumed=True),),
        ),
        Section(code="ride", title="Ride", picture=SVG, says="lanes", missing="This bench was still being worked out."),
    ),
    assumed=(("drag area", "0.52 m²"),),
    inputs=60,
    not_checked=("Fuse: not told",),
    left_out=("Pack",),
    cautions=CAUTIONS,
)


class Tags(HTMLParser):
    """Whether all that opens closes."""

    EMPTY = frozenset(("meta", "br", "link", "img"))

    def __init__(self):
        super().__init__()
        self.open, self.text, self.bad = [], [], []

    def handle_starttag(self, tag, attrs):
        if tag not in self.EMPTY:
            self.open.append(tag)

    def handle_endtag(self, tag):
        if not self.open or self.open.pop() != tag:
            self.bad.append(tag)

    def handle_data(self, data):
        self.text.append(data)


class HtmlTest(unittest.TestCase):
    def setUp(self):
        self.page = html_of(REPORT)
        self.tags = Tags()
        self.tags.feed(self.page)
        self.words = " ".join("".join(self.tags.text).split())

    def test_it_is_whole_and_fetches_nothing(self):
        self.assertEqual((self.tags.open, self.tags.bad), ([], []))
        self.assertFalse(re.findall(r'(?:src|href)="(?!#|data:)[^"]*"', self.page))
        self.assertNotIn("@import", self.page)
        self.assertEqual(self.page.count("data:font/ttf;base64,"), 2)

    def test_words_are_words(self):
        self.assertNotIn("<b>board", self.page)
        self.assertIn('A <b>board</b> & "co" | one', self.words)
        for words in (
            "1 of 60 inputs nobody measured",
            "drag area",
            "Fuse: not told",
            "Left out of this report: Pack",
            "Motor amps ≈",
            "likely",
        ):
            self.assertIn(words, self.words)
        for caution in CAUTIONS:
            self.assertIn(caution, self.words)
        self.assertIn("still being worked out", self.words)

    def test_pictures_stand_in_it_with_names_of_their_own(self):
        self.assertEqual(self.page.count("<svg"), 2)
        self.assertIn('id="drive-gradient1"', self.page)
        self.assertIn("url(#ride-gradient1)", self.page)
        self.assertNotIn('id="gradient1"', self.page)
        self.assertNotIn("254mm", self.page, "as wide as the page lets it be")
        self.assertTrue(inline(SVG, "x").startswith("<svg viewBox="))

    def test_a_design_without_assumptions_says_so(self):
        page = html_of(replace(REPORT, assumed=(), not_checked=(), goals=(), left_out=(), sections=()))
        self.assertIn("Every input is measured or stated.", page)
        self.assertNotIn("Not checked", page)


class MarkdownTest(unittest.TestCase):
    def test_tables_hold_together_and_pictures_stay_out(self):
        text = markdown_of(REPORT)
        self.assertIn("| a \\| b | 1 < 2 |", text)
        self.assertNotIn("<svg", text)
        self.assertIn("- **tight** Motor amps ≈", text)
        for table in re.findall(r"(?:^\|.*\n)+", text, re.M):
            counts = {len(re.findall(r"(?<!\\)\|", line)) for line in table.strip().splitlines()}
            self.assertEqual(len(counts), 1, table)
        self.assertNotIn("\n\n\n", text)
        self.assertEqual(md_table(()), "")


if __name__ == "__main__":
    unittest.main()
