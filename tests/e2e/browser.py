"""Headless Chromium against a live server, for the interface tests, the pictures and the benchmark."""

from __future__ import annotations

import atexit
import os
import shutil
import sqlite3
from collections.abc import Callable, Iterator
from contextlib import ExitStack, closing, contextmanager
from functools import cache
from typing import Any, Literal

from axe_playwright_python.sync_playwright import Axe
from django.core.management import call_command
from django.db import connection
from django.test import LiveServerTestCase
from playwright.sync_api import Browser, BrowserContext, Error, Locator, Page, expect, sync_playwright

FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip
PATIENCE_MS = 120_000
SIZE = {"width": 1280, "height": 800}
# Every part of what is chosen stands open.
ALL_OPEN = (
    "localStorage.setItem('emvar-folds', JSON.stringify({ paint: true, work: true, where: true, when: true,"
    " seams: true, wrong: true, cautions: true, more: true }))"
)


@contextmanager
def chromium() -> Iterator[Browser]:
    path = os.environ.get("EMVAR_CHROMIUM") or shutil.which("chromium-headless-shell") or shutil.which("chromium")
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=path, args=FLAGS)
        yield browser
        browser.close()


@cache
def one_browser() -> Browser:
    """One browser for all test classes of this process, closed when it ends."""
    until_the_end = ExitStack()
    atexit.register(until_the_end.close)
    return until_the_end.enter_context(chromium())


def chooser(page: Page | Locator, label: str) -> Locator:
    """A field that searches among many."""
    return page.get_by_role("combobox", name=label, exact=True)


def take(page: Page | Locator, label: str, value: str) -> None:
    """Chooses by its value in a field that searches."""
    chooser(page, label).click()
    page.locator(f"[data-option='{value}']").click()


def violations(page: Page, options: dict[str, Any] | None = None, within: str = "html") -> list[dict[str, Any]]:
    """What axe finds wrong on a page as it is, or within a part of it; put into the page once."""
    if not page.evaluate("() => Boolean(window.axe)"):
        page.evaluate(Axe().axe_script)
    wanted = {**(options or {}), "resultTypes": ["violations"]}
    where = within if page.locator(within).count() else "html"
    found: dict[str, Any] = page.evaluate("([where, options]) => axe.run(where, options)", [where, wanted])
    return list(found["violations"])


def set_theme(page: Page, theme: str) -> None:
    page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")


def _file() -> str:
    return str(connection.settings_dict["NAME"])


class Snapshot:
    """The test database as it was at a moment, to be put back whole: quicker than making it what it was again."""

    def __init__(self) -> None:
        self._kept = sqlite3.connect(":memory:", check_same_thread=False)
        with closing(sqlite3.connect(_file())) as now:
            now.backup(self._kept)

    def put_back(self) -> None:
        with closing(sqlite3.connect(_file(), timeout=20)) as now:
            self._kept.backup(now)


def empty() -> None:
    """A database with nothing in it."""


def with_demo() -> None:
    """A database with the demo builds."""
    call_command("load_demo", "--reset", verbosity=0)


def with_hull() -> None:
    """The demo builds, and the tug's hull by itself: a search for it takes a second or two."""
    from builds import store  # the pictures and the timings use this module before Django is set up

    from tests.core.agendas import hull

    with_demo()
    store.create(hull(), "hull")


SNAPSHOTS: dict[Callable[[], None], Snapshot] = {}  # of the database, by what made it from an empty one


def database(made_by: Callable[[], None]) -> None:
    """The test database as something makes it from an empty one; made once."""
    if empty not in SNAPSHOTS:
        SNAPSHOTS[empty] = Snapshot()
    SNAPSHOTS[empty].put_back()
    if made_by not in SNAPSHOTS:
        made_by()
        SNAPSHOTS[made_by] = Snapshot()
    elif made_by is not empty:
        SNAPSHOTS[made_by].put_back()


STORED = "cookies,local_storage,indexeddb,service_workers,cache_storage,file_systems"  # by a page, on its device


class BrowserCase(LiveServerTestCase):
    """One device and one page for the class; a script error on the page fails the test.

    `made_by`: what the database holds at first. What a test leaves behind, on the server, on the device or on the page,
    is gone before the next; what the browser has read of the scripts stays, for a page is drawn in a third of the time
    so. A test that sets the page's own clock closes the page.
    """

    made_by: Callable[[], None] = staticmethod(with_demo)
    browser: Browser
    context: BrowserContext
    device: dict[str, Any] = {"viewport": SIZE, "color_scheme": "light"}
    workers: Literal["allow", "block"] = "block"  # what lies on the device would hide what the server says
    all_open = True  # every part of what is chosen stands open, so that a test may type where it likes

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.browser = one_browser()
        cls.context = cls.browser.new_context(reduced_motion="reduce", service_workers=cls.workers, **cls.device)
        cls.addClassCleanup(cls.context.close)
        if cls.all_open:
            cls.context.add_init_script(ALL_OPEN)
        expect.set_options(timeout=PATIENCE_MS)  # a busy machine stalls for seconds

    @classmethod
    def _fixture_setup(cls) -> None:
        database(cls.made_by)

    def _fixture_teardown(self) -> None:
        SNAPSHOTS[empty].put_back()

    def setUp(self) -> None:
        pages = self.context.pages
        self.page: Page = pages[0] if pages else self.context.new_page()
        self.page.set_viewport_size(self.device.get("viewport", SIZE))
        self.context.new_cdp_session(self.page).send(
            "Storage.clearDataForOrigin", {"origin": self.live_server_url, "storageTypes": STORED}
        )
        self.page.set_default_timeout(PATIENCE_MS)
        self.broken: list[str] = []
        self.page.on("pageerror", self.breaks)

    def breaks(self, error: Error) -> None:
        self.broken.append(str(error))

    def tearDown(self) -> None:
        self.context.set_offline(False)
        for page in self.context.pages[1:]:
            page.close()
        if not self.page.is_closed():
            self.page.unroute_all(behavior="ignoreErrors")
            self.page.mouse.move(0, 0)
            self.page.goto(f"{self.live_server_url}/icon.svg")  # what it has still to say is said before the next test
            self.page.remove_listener("pageerror", self.breaks)
        self.assertEqual(self.broken, [])
