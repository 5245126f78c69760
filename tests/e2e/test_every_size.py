"""Every view, sheet and menu at every size: nothing scrolls sideways, nothing lies outside, axe finds nothing."""

from collections.abc import Callable
from typing import Any

from playwright.sync_api import Error, Page, expect

from tests.lengths import at_length

from .browser import BrowserCase, violations

TUG = "/build/demo-harbour-tug"
SIZES = [(360, 740), (390, 844), (640, 400), (768, 1024), (1024, 768), (1280, 800), (1920, 1080)]
ZOOMED = (640, 400)  # 1280 × 800 at 200 %
NARROW, WIDE = (390, 844), (1280, 800)
AXE_SIZES = at_length([NARROW, WIDE], [NARROW, WIDE, ZOOMED])
# At which sizes a sheet is opened, and at which it is looked at then: it stays open while the window grows.
SHEET_SIZES = at_length({NARROW: [NARROW, WIDE]}, {size: [size] for size in AXE_SIZES})
VIEWS = {
    "builds": "/",
    "rack": TUG,
    "table": f"{TUG}/table",
    "mix and spray": f"{TUG}/mix-and-spray",
    "sittings": f"{TUG}/sittings",
    "compendium": "/compendium",
    "an entry": "/compendium#technique~clay_wash",
    "in hand": "/mix-and-spray",
    "paper": f"{TUG}/paper/card/primer",
    "bench": f"{TUG}/at-the-bench",
    "log": "/build/demo-finished-tug/log",
    "all logs": "/log",
    "shelf": "/shelf",
}
# Kept once the document has stood still for a tenth of a second, or changed for three.
QUIET = """() => new Promise((quiet) => {
    const still = () => { watch.disconnect(); clearTimeout(end); quiet(); };
    let pause = setTimeout(still, 100);
    const end = setTimeout(still, 3000);
    const watch = new MutationObserver(() => { clearTimeout(pause); pause = setTimeout(still, 100); });
    watch.observe(document, { subtree: true, childList: true, attributes: true, characterData: true });
})"""
# What a sheet opens; the view behind it is looked at by itself.
OPENED = (
    "[role=dialog], [role=menu], [data-testid=step-panel], [data-testid=seam-panel], [data-testid=this-sitting],"
    " .now-whole"
)
CONTRAST: dict[str, Any] = {"runOnly": ["color-contrast"]}  # what a theme can change
EVERYTHING: dict[str, Any] = {"rules": {"target-size": {"enabled": True}}}
# What lies outside of the window, or is cut by it at a side; what is meant for screen readers only does not count.
OUTSIDE = """() => [...document.querySelectorAll('button, a, input, select, textarea, h1, h2, label')].filter((e) => {
    const r = e.getBoundingClientRect();
    if (!r.width || !r.height || e.closest('.sr-only, .skip, .paper-page, [inert], svg')) return false;
    const style = getComputedStyle(e);
    if (style.visibility === 'hidden' || style.position === 'absolute' && r.width <= 1) return false;
    return r.right > innerWidth + 1 || r.left < -1;
}).map((e) => e.outerHTML.slice(0, 120))"""


# What does not lie half under the bar of views, which stays at the bottom while the page scrolls.
BESIDE_THE_BAR = """(selectors) => {
    const bar = document.querySelector('.views-bar')?.getBoundingClientRect();
    return selectors.filter((s) => {
        const r = document.querySelector(s).getBoundingClientRect();
        return !bar?.height || r.bottom <= bar.top || r.top >= bar.bottom;
    });
}"""


def button(name: str, nth: int = 0) -> Callable[[Page], None]:
    return lambda page: page.get_by_role("button", name=name, exact=True).nth(nth).click()


def key(name: str) -> Callable[[Page], None]:
    return lambda page: page.keyboard.press(name)


def chosen(*then: Callable[[Page], None]) -> Callable[[Page], None]:
    def work(page: Page) -> None:
        page.evaluate("scrollTo(0, 0)")
        page.locator(".coat").nth(1).press("Enter")
        page.get_by_test_id("step-panel").wait_for()
        for act in then:
            act(page)

    return work


def menu(page: Page) -> None:
    page.get_by_role("button", name="Harbour tug").first.click()


def about(page: Page) -> None:
    menu(page)
    page.get_by_role("menuitem", name="This build").click()


def mend(page: Page) -> None:
    if page.get_by_test_id("counts").count():
        page.get_by_test_id("counts").click()
    page.get_by_role("button", name="Mend the plan").click()


def seam(page: Page) -> None:
    page.keyboard.press("n")
    page.get_by_test_id("seam-panel").wait_for()


def sitting(page: Page) -> None:
    page.locator("[data-sitting]").first.wait_for()
    if not page.get_by_test_id("this-sitting").count():
        page.locator("[data-sitting]").first.click()


def more(name: str) -> Callable[[Page], None]:
    def work(page: Page) -> None:
        page.reload()
        page.get_by_test_id("main-act").wait_for()
        page.get_by_role("button", name="More", exact=True).click()
        page.get_by_role("button", name=name, exact=True).click()

    return work


SHEETS: list[tuple[str, str, Callable[[Page], None]]] = [
    ("add", TUG, key("a")),
    ("help", TUG, key("?")),
    ("menu", TUG, menu),
    ("about", TUG, about),
    ("settings", TUG, button("Settings")),
    ("air", TUG, lambda page: page.get_by_role("button", name="Bench air").click()),
    ("mend", TUG, mend),
    ("park", TUG, button("Can I stop now?")),
    ("step", TUG, chosen()),
    ("over", TUG, chosen(button("What may go here?"))),
    ("seam", TUG, seam),
    ("needs", f"{TUG}/mix-and-spray", button("For the build")),
    ("tools", f"{TUG}/mix-and-spray", button("Small tools")),
    ("kit", f"{TUG}/mix-and-spray", button("Kit")),
    ("recipe", f"{TUG}/mix-and-spray", button("Recipe")),
    ("measure", f"{TUG}/mix-and-spray", button("Measure")),
    ("instruments", f"{TUG}/mix-and-spray", button("Instruments")),
    ("hours", f"{TUG}/sittings", lambda page: page.get_by_role("button", name="Hours").first.click()),
    ("a sitting", f"{TUG}/sittings", sitting),
    ("trouble", f"{TUG}/at-the-bench", lambda page: page.get_by_test_id("wrong-act").click()),
    ("otherwise", f"{TUG}/at-the-bench", more("Note, picture, figures")),
    ("trial", f"{TUG}/at-the-bench", more("Try it on scrap")),
    ("again", "/build/demo-finished-tug/log", button("Again")),
    ("slide", "/build/demo-finished-tug/log", button("Slide over another")),
    ("jar", "/shelf", button("Put a jar on it")),
    ("area", "/", lambda page: page.get_by_role("button", name="Work out the area of Hull").click()),
]


assert {path for _, path, _ in SHEETS} <= set(VIEWS.values()), "a sheet is looked at where its view is"


class AtSizes(BrowserCase):
    def setUp(self) -> None:
        super().setUp()
        self.page.add_init_script("localStorage.setItem('emvar-visited', 'yes')")
        self.wrong: list[object] = []

    def tearDown(self) -> None:
        super().tearDown()
        if self.wrong:
            self.fail("\n".join(str(w) for w in self.wrong))

    def go(self, path: str) -> None:
        self.page.goto(f"{self.live_server_url}/icon.svg")
        self.page.goto(f"{self.live_server_url}{path}")
        self.page.locator("main:not([aria-busy]) :is(h1, h2, button, p)").first.wait_for(state="attached")
        self.page.wait_for_load_state("networkidle")
        self.settled()

    def settled(self) -> None:
        """Waits until nothing has been asked of the server, and nothing drawn anew, for a moment."""
        self.page.evaluate(QUIET)

    def size(self, size: tuple[int, int]) -> None:
        self.page.set_viewport_size({"width": size[0], "height": size[1]})
        self.settled()

    def nothing_outside(self, what: str, size: tuple[int, int]) -> None:
        wide = self.page.evaluate("document.documentElement.scrollWidth")
        if wide > size[0]:
            self.wrong.append((what, size, "scrolls sideways", wide))
        if outside := self.page.evaluate(OUTSIDE):
            self.wrong.append((what, size, "outside", outside[:3]))

    def axe(self, what: str, size: tuple[int, int], within: str = "html") -> None:
        """In short, the light theme on a phone and on a screen what the dark one changes; at length, all of both."""
        short = {"dark": CONTRAST} if size == WIDE else {"light": EVERYTHING}
        for theme, rules in at_length(short, {"light": EVERYTHING, "dark": EVERYTHING}).items():
            self.page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")
            for violation in violations(self.page, rules, within):
                nodes = violation["nodes"]
                if violation["id"] == "target-size":
                    seen = self.page.evaluate(BESIDE_THE_BAR, [n["target"][0] for n in nodes])
                    nodes = [n for n in nodes if n["target"][0] in seen]
                html = [n["html"][:160] for n in nodes[:2]]
                if violation["id"] == "target-size" and what == "sittings":
                    # Short steps stand, large enough, in the list under the drawing; a row may lie half under the bar.
                    html = [h for h in html if "aria-pressed" not in h and "data-sitting" not in h]
                if html:
                    self.wrong.append((what, size, theme, violation["id"], html))


class EveryView(AtSizes):
    def test_no_view_and_no_sheet_scrolls_sideways_and_axe_finds_nothing(self) -> None:
        for what, path in VIEWS.items():
            self.go(path)
            for size in SIZES:
                self.size(size)
                self.nothing_outside(what, size)
                if size in AXE_SIZES:
                    self.axe(what, size)
                if size in SHEET_SIZES:
                    for sheet, _, opened in (s for s in SHEETS if s[1] == path):
                        self.sheet(sheet, path, size, opened)

    def sheet(self, what: str, path: str, size: tuple[int, int], opened: Callable[[Page], None]) -> None:
        try:
            opened(self.page)
        except Error as error:
            self.wrong.append((what, size, "does not open", str(error)[:300]))
            self.go(path)
            return
        self.page.locator(OPENED).first.wait_for()
        for each in SHEET_SIZES[size]:
            self.size(each)
            self.nothing_outside(what, each)
            self.axe(what, each, within=at_length(OPENED, "html"))
        self.size(size)
        for _ in range(3):
            self.page.keyboard.press("Escape")
        self.page.wait_for_timeout(50)

    def test_from_eight_cores_on_names_stand_once_and_sixty_four_zones_are_usable(self) -> None:
        from builds import store
        from emvar_core.plan import parse_plan

        from tests.builders import tall_json

        data = tall_json(40, zones=64)
        step = data["steps"][3]
        for one in data["steps"]:
            one["zones"] = [z["id"] for z in data["zones"]]
        step["zones"] = [data["zones"][5]["id"]]  # one zone is otherwise
        store.create(parse_plan(data), "many")
        self.size((1280, 800))
        self.go("/build/many")
        cores = self.page.get_by_test_id("rack").get_by_role("group")
        expect(cores).to_have_count(2)
        expect(self.page.get_by_test_id("rack")).to_contain_text("× 63")
        self.size((390, 844))
        expect(cores).to_have_count(1)
        self.page.get_by_role("button", name="The next zone").click()
        expect(cores).to_have_count(1)
        expect(self.page.get_by_test_id("rack")).not_to_contain_text("× 63")
