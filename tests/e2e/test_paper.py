"""What is printed, read back from the browser's own PDF: nothing is missing, cautions come first, colours are kept."""

import io
import re

from playwright.sync_api import expect
from pypdf import PdfReader

from .browser import BrowserCase

TUG = "/build/demo-harbour-tug"
A4 = {(595, 842), (595, 841), (596, 842)}  # points


class Paper(BrowserCase):
    def setUp(self) -> None:
        super().setUp()

    def printed(self, path: str, scheme: str = "dark") -> PdfReader:
        self.page.emulate_media(color_scheme="dark" if scheme == "dark" else "light")
        self.page.goto(f"{self.live_server_url}{path}")
        self.page.locator("[data-testid=paper][data-ready=yes] .paper-page").first.wait_for()
        return PdfReader(io.BytesIO(self.page.pdf(prefer_css_page_size=True, print_background=True)))

    @staticmethod
    def words(page: object) -> str:
        text = page.extract_text()  # type: ignore[attr-defined]
        return re.sub(r"\s+", " ", text).replace("µ m", "µm")

    def size(self, page: object) -> tuple[int, int]:
        box = page.mediabox  # type: ignore[attr-defined]
        return round(box.width), round(box.height)

    def test_a_bench_card_tells_everything_and_cautions_first(self) -> None:
        pdf = self.printed(f"{TUG}/paper/card/primer")
        self.assertEqual(len(pdf.pages), 1)
        self.assertIn(self.size(pdf.pages[0]), A4)
        said = self.words(pdf.pages[0])
        for wanted in ("Grey primer", "all zones", "bar", "cm", "lacquer primer", "mild levelling thinner",
                       "3 min apart", "16 µm", "another coat", "Thu 26 Nov 19:00", "data sheet"):  # fmt: skip
            self.assertIn(wanted, said)
        self.assertIn("extraction", said)
        self.assertLess(said.index("extraction"), said.index("lacquer primer"))

    def test_the_rack_is_drawn_in_its_colours_on_a_sheet_across(self) -> None:
        pdf = self.printed(f"{TUG}/paper/rack")
        self.assertEqual(len(pdf.pages), 1)
        self.assertIn(self.size(pdf.pages[0])[::-1], A4)
        said = self.words(pdf.pages[0])
        for wanted in (
            "Hull below water",
            "Topsides",
            "Red oxide",
            "Gloss clear",
            "wrinkles",
            "142 cm²",
            "polystyrene",
        ):
            self.assertIn(wanted, said)
        self.assertGreaterEqual(len(pdf.pages[0]["/Resources"]["/Pattern"]), 50)  # type: ignore[index]
        # Colours are kept also where the person has not asked for backgrounds.
        bare = PdfReader(io.BytesIO(self.page.pdf(prefer_css_page_size=True, print_background=False)))
        self.assertGreaterEqual(len(bare.pages[0]["/Resources"]["/Pattern"]), 50)  # type: ignore[index]

    def test_the_table_is_whole(self) -> None:
        pdf = self.printed(f"{TUG}/paper/table")
        said = " ".join(self.words(p) for p in pdf.pages)
        self.assertEqual(len(pdf.pages), 2)
        for n in range(1, 25):
            self.assertRegex(said, rf"\b{n}\b")
        for wanted in ("Verdict", "Graphite on hook and bollards", "clash: wrinkles", "white spirit", "Note"):
            self.assertIn(wanted, said)

    def test_there_is_one_sheet_a_sitting_with_mixes_windows_and_cautions(self) -> None:
        self.page.goto(f"{self.live_server_url}{TUG}/sittings")
        expect(self.page.get_by_test_id("finish")).to_contain_text("Finished")
        expect(self.page.get_by_test_id("searching")).to_have_count(0)
        pdf = self.printed(f"{TUG}/paper/sittings", "light")
        heads = [self.words(p)[:60] for p in pdf.pages]
        self.assertGreaterEqual(len(heads), 4)
        self.assertTrue(all(re.match(r"(Mon|Tue|Wed|Thu|Fri|Sat|Sun) \d+ Nov|.* Dec", h) for h in heads), heads)
        said = " ".join(self.words(p) for p in pdf.pages)
        for wanted in (
            "drops",
            "2 passes, 60 s between",
            "flash point from 4 °C",
            "Press: light, then firmer",
            "bar",
            "Not before",
            "not after",
            "at the latest",
            "First of all",
        ):
            self.assertIn(wanted, said)
        self.assertTrue(all(self.words(p).count("flash point") <= 1 for p in pdf.pages), "the lowest alone")
        for step in ("Red oxide", "Gloss clear", "Pin wash, brown", "Salt and dust"):
            self.assertIn(step, said)

    def test_printing_a_view_brings_its_sheets(self) -> None:
        for view, paper in (
            ("", "rack"),
            ("/table", "table"),
            ("/mix-and-spray/primer", "card/primer"),
            ("/sittings", "sittings"),
        ):
            self.page.goto(f"{self.live_server_url}{TUG}{view}")
            self.page.get_by_test_id("saved").wait_for()
            self.page.keyboard.press("Control+p")
            self.page.wait_for_url(f"**/paper/{paper}")

    def test_figures_on_paper_go_by_the_units_that_are_liked(self) -> None:
        self.page.goto(self.live_server_url)
        self.page.evaluate("localStorage.setItem('emvar-units', JSON.stringify({ pressure: 'psi', length: 'in' }))")
        said = self.words(self.printed(f"{TUG}/paper/card/primer").pages[0])
        self.assertIn("psi", said)
        self.assertNotRegex(said, r"\d bar")
