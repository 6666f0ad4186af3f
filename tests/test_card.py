"""The card on paper, read back with a PDF library: its words and figures are the assessment's, its faces and lines
are in the file."""

import base64
import datetime as dt
import functools
import hashlib
import io
import json
import re
import unicodedata
import unittest
from html import unescape

from pypdf import PdfReader

from reamer.core.answer.context import context
from reamer.core.answer.say import spoken, words
from reamer.core.assess import assess
from reamer.core.descent.prospect import Known, prospect
from reamer.core.model import Plan, Record
from reamer.core.reading import read_plan
from reamer.core.rehearsal.rehearsal import gone_through, rehearsal, station_run
from reamer.core.second.check import Said, decided, second_check
from reamer.demos import DEMOS
from reamer.figures.overview import overview
from reamer.formats.card import Answers, Made, card
from reamer.formats.html import html
from reamer.formats.pdf import pdf
from reamer.web.settings import card_parts
from tests import LONG
from tests.kept import STATIONS
from tests.rehearsing import descent_of, party


def answers(plan, record=Record()):  # noqa: B008  it does not change
    ctx, a = context(plan), assess(plan, fixes=False)
    run = gone_through(ctx, a.drops)
    ahead = prospect(ctx, STATIONS, Known(a.drops, a.webbing, a.descent.times))
    runs = tuple(station_run(ctx, run, k) for k in range(len(plan.drops)))
    got = rehearsal(ctx, run, mend=False)
    return Answers(plan, a, ahead, got, runs, second_check(ctx, a, ahead, runs, got, record))


def read(made):
    """A PDF's pages as text, with single spaces."""
    return [re.sub(r"\s+", " ", p.extract_text()) for p in PdfReader(io.BytesIO(made)).pages]


def fonts_of(made):
    found = {}
    for page in PdfReader(io.BytesIO(made)).pages:
        for font in page["/Resources"]["/Font"].values():
            font = font.get_object()
            found[font["/BaseFont"]] = font.get("/FontDescriptor")
    return found


@functools.cache
def many():
    """A descent of many drops, and all that is worked out of it."""
    data = descent_of("doubled", party(3), "ledge", 40 if LONG else 14)
    people = ("<b>Bold & Co</b>", "Светлана Ильинична", "مريم بنت الجبل")
    for p, name in zip(data["party"], people, strict=True):
        p["name"] = name
    data["title"] = "ש" * 40 + " " + "W" * 39
    data["drops"][0]["name"] = "=1+1 <script>alert(1)</script> " + "x" * 49
    data["drops"][1]["name"] = "W" * 80
    data["shed"]["ropes"][0]["name"] = "حبل أزرق"
    return answers(read_plan(data))


class Paper(unittest.TestCase):
    @classmethod
    def setUpClass(cls):
        cls.of = {name: answers(demo()) for name, demo in DEMOS.items()}

    def test_every_figure_is_the_assessments(self):
        for name, of in self.of.items():
            # Of one also in the other units: how a figure is said in them is the core's.
            for units in ("metric", "us") if name == "buttress" else ("metric",):
                pages = read(pdf(card(of, units)))
                for d in of.a.drops:
                    page = " ".join(self.of_station(pages, of.a, d))
                    self.assertIn(words(d.answer, units), page)
                    self.assertIn(spoken(d.height, units), page)
                    for r in d.reach:
                        if r.spare is not None and not r.at_surface:
                            self.assertIn(f"needs {spoken(r.need, units)}", page, (name, d.name))
                    if d.pull.worst is not None:
                        self.assertIn(spoken(d.pull.worst, units), page)
                    for f in d.findings:
                        if f.severity != "Note":
                            self.assertIn(f.severity.upper(), page)
                            self.assertIn(words(f.title, units), page, (name, d.name))
                    for s in (*d.retrieval.before, *d.retrieval.snags):
                        self.assertIn(words(s, units), page)
                    for step in of.runs[d.number - 1].steps:
                        self.assertIn(words(step.words, units), page)

    def of_station(self, pages, a, d):
        """The pages of one station: from its heading to the next one's, or to the strips."""
        heads = [f"{x.number} · {x.name} · " for x in a.drops]
        starts = [next(n for n, p in enumerate(pages) if h in p) for h in heads]
        ends = [*starts[1:], next(n for n, p in enumerate(pages) if "To cut out" in p)]
        return pages[starts[d.number - 1] : ends[d.number - 1]]

    def test_what_stands_where(self):
        of = self.of["canyon"]
        pages = read(pdf(card(of, made=Made("revision 3, 2026-05-01"))))
        self.assertIn("158.6 m in 9 drops", pages[0])
        self.assertIn("No second person has looked at it.", pages[0])
        for n, page in enumerate(pages, 1):
            self.assertIn("revision 3, 2026-05-01", page)
            self.assertIn(f"the person at the anchor decides · {n} ", page)
            self.assertNotRegex(page, r"(?i)\bsafe\b")
        strips = " ".join(p for p in pages if "untie first" in p and "ride" in p)
        for d in of.a.drops:
            self.assertIn(words((d.last or d).answer), strips)
        for d in of.a.drops:
            for f in d.findings:
                if f.severity in ("Shortfall", "Not checked"):
                    self.assertIn(f"{f.severity.upper()}: {words(f.title)}", strips)
        self.assertIn("arithmetic on what was entered", pages[-1])
        # A station to which nobody gets says so, instead of an empty list of acts.
        self.assertIn("Not checked: Slate 50 is still at station 6.", " ".join(pages))

    def test_faces_are_in_the_file_and_figures_are_lines(self):
        for paper, size in (("a5", (420, 595)), ("a4", (595, 842))):
            made = pdf(card(self.of["gully"]), paper)
            for name, described in fonts_of(made).items():
                self.assertRegex(name, r"^/[A-Z]{6}\+")
                self.assertIn("/FontFile2", described.get_object(), name)
            self.assertEqual(len(fonts_of(made)), 2)
            for page in PdfReader(io.BytesIO(made)).pages:
                self.assertEqual((round(page.mediabox.width), round(page.mediabox.height)), size)
                self.assertEqual(list(page.images), [])
            self.assertGreater(PdfReader(io.BytesIO(made)).pages[1].get_contents().get_data().count(b" l"), 20)

    def test_what_a_second_person_said_is_printed(self):
        of = self.of["canyon"]
        items = [x.item for x in of.checked.looked]
        short = next(i for i in items if i.severity == "Shortfall" and i.drop == "d3")
        blank = next(i for i in items if i.severity == "Not checked" and i.drop == "d2")
        acts = next(i for i in items if i.kind == "acts" and i.drop == "d4")
        said = [
            Said(short.key, "overruled", "we carry another"),
            Said(blank.key, "accepted", "seen on Tuesday"),
            Said(acts.key, "objected", "too many at once"),
        ]
        verdicts = decided(items, "Wren", dt.datetime(2026, 5, 1, tzinfo=dt.UTC), 1, said)
        record = Record(verdicts=verdicts)
        sheet = overview(of.plan, of.a, of.ahead, "metric", record)
        self.assertIn("1 accepted · 1 overruled", sheet)
        self.assertIn("acts: 1 objected to · not gone through yet", sheet)
        pages = read(pdf(card(answers(of.plan, record))))
        whole = " ".join(pages)
        for told in (
            "1 accepted by name",
            "of the shortfalls overruled",
            "1 objection",
            f"SHORTFALL, overruled: {words(short.title)}",
            "Overruled by Wren, 2026-05-01: we carry another",
            "Accepted by Wren, 2026-05-01: seen on Tuesday",
            "Objected to by Wren, 2026-05-01: too many at once",
            "Looked at by Wren.",
        ):
            self.assertIn(told, whole)

    def test_no_stations_many_and_names_of_any_kind(self):
        self.assertIn("0 drops", " ".join(read(pdf(card(answers(Plan(format=1, title="Nothing yet")))))))
        made = pdf(card(many()))
        whole = " ".join(read(made))
        self.assertIn("<b>Bold & Co</b>", whole)
        self.assertIn("=1+1 <script>alert(1)</script>", whole)
        self.assertIn("Светлана", whole)
        # Letters are joined, and stand as they are read: the library reads what runs from the right from the right.
        self.assertIn("حبل أزرق", unicodedata.normalize("NFKC", whole))
        self.assertNotIn("حبل أزرق", whole)
        self.assertTrue(any("DejaVuSans" in f for f in fonts_of(made)))

    def test_the_deciding_figure_says_when_and_by_whom(self):
        data = json.loads(json.dumps(descent_of("doubled", party(2), "ledge", 1)))
        height = data["drops"][0]["section"]["height_m"]
        for more, said in (
            ({}, "Height by tape; nobody wrote down when or by whom."),
            ({"on": "2026-04-02"}, "Height by tape; last on 2026-04-02; nobody wrote down by whom."),
            ({"by": "Wren"}, "Height by tape; last on 2026-04-02; by Wren."),
        ):
            height |= more
            self.assertIn(said, " ".join(read(pdf(card(answers(read_plan(data)))))))

    def test_what_is_said_once_for_the_plan_stands_on_the_pages_where_it_holds(self):
        content = card(self.of["canyon"])
        above = next(f for f in self.of["canyon"].a.findings if f.code == "ledger.end-above")
        self.assertTrue(above.drops)
        for s in content.stations:
            told = [t.title for t in s.told if words(above.title) in t.title]
            self.assertEqual(len(told), int(s.drop in above.drops), s.name)
            self.assertEqual(words(above.title) in dict(s.strip).get("found", ""), s.drop in above.drops)

    def test_some_stations_only(self):
        of = self.of["buttress"]
        pages = read(pdf(card(of), "a5", ("d4",)))
        self.assertIn("4 · Split Block", pages[0])
        self.assertFalse(any("Grey Slab" in p for p in pages))
        self.assertIn(f"Pages of a card. The whole plan: {card(of).count}.", pages[0])
        self.assertIn("arithmetic on what was entered", pages[-1])

    def test_what_one_person_does(self):
        of = self.of["buttress"]
        person = of.plan.party[1]
        whole = " ".join(read(pdf(card(of), "a5", (), (person.id, person.name))))
        self.assertIn(f"What {person.name} does", whole)
        self.assertIn(f"The whole plan: {card(of).count}.", whole)
        for run in of.runs:
            for step in run.steps:
                line = f"{step.number} · {words(step.words)}"
                if step.who in ("", person.id) and step.refused is None:
                    self.assertIn(line, whole)
        self.assertFalse(
            [s for s in of.runs[0].steps if s.who == of.plan.party[0].id and f" {s.number} · {words(s.words)}" in whole]
        )


class Phone(unittest.TestCase):
    """The same card as one HTML file, read back with an XML reader's idea of text."""

    @classmethod
    def setUpClass(cls):
        cls.of = answers(DEMOS["canyon"]())

    def read(self, made):
        return re.sub(r"\s+", " ", unescape(re.sub(r"<(style|script)>.*?</\1>|<[^>]+>", " ", made, flags=re.S)))

    def test_every_word_of_the_card_is_there_and_nothing_is_asked_of_anywhere(self):
        for units in ("metric", "us"):
            content = card(self.of, units)
            made = html(content, *card_parts())
            self.assertLess(len(made.encode()), 400_000)
            said = self.read(made)
            for s in content.stations:
                for state in s.states:
                    for word in (
                        state.answer,
                        *state.before,
                        *state.catches,
                        *state.rigging,
                        *(v for _, v in state.rows),
                    ):
                        self.assertIn(re.sub(r"\s+", " ", word), said)
                for a in s.acts:
                    self.assertIn(f"{a.number} · {'DRAFT: ' if a.draft else ''}{a.said}", said)
                for t in s.told:
                    self.assertIn(f"{t.severity.upper()}: {t.title}", said)
            self.assertIn("arithmetic on what was entered", said)
            self.assertNotRegex(said, r"(?i)\bsafe\b")
            bare = made.replace("http://www.w3.org/2000/svg", "")
            self.assertNotRegex(bare, r"https?://|@import|url\((?!data:)")
            self.assertNotRegex(re.sub(r"<script>.*?</script>", "", bare, flags=re.S), "src=")

    def test_names_are_text_and_the_script_is_the_one_that_is_allowed(self):
        data = json.loads(json.dumps(descent_of("doubled", party(2), "ledge", 2)))
        data["title"] = "</title><script>alert(1)</script>"
        data["party"][0]["name"] = "<img src=x onerror=alert(1)>"
        data["drops"][0]["name"] = "{{ 7 * 7 }} {% raw %}"
        data["shed"]["ropes"][0]["name"] = '"><svg onload=alert(1)>'
        made = html(card(answers(read_plan(data))), *card_parts())
        self.assertEqual(made.count("<script>"), 1)
        pages = re.sub(r"<script>.*?</script>", "", made, flags=re.S)
        self.assertNotIn("<img", pages)
        self.assertNotIn("<svg onload", pages)
        self.assertIn("{{ 7 * 7 }} {% raw %}", self.read(made))
        script = re.search(r"<script>(.*?)</script>", made, re.S)[1]
        hashed = base64.b64encode(hashlib.sha256(script.encode()).digest()).decode()
        self.assertIn(f"script-src 'sha256-{hashed}'", made)
        with self.assertRaises(ValueError):
            html(card(answers(read_plan(data))), "</script>", "")

    def test_nothing_and_many_stations(self):
        self.assertIn("0 drops", self.read(html(card(answers(Plan(format=1, title="Nothing yet"))), *card_parts())))
        self.assertEqual(html(card(many()), *card_parts()).count('class="page"'), len(many().plan.drops) + 3)


if __name__ == "__main__":
    unittest.main()
