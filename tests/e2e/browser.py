"""Headless Chromium against a live server, for the interface tests, the pictures and the benchmark."""

from __future__ import annotations

import os
import shutil
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Literal

from django.test import LiveServerTestCase
from playwright.sync_api import Browser, Locator, Page, expect, sync_playwright

FLAGS = [
    "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run", "--disable-background-networking",
    "--disable-component-update", "--disable-sync",
]  # fmt: skip
SIZE = {"width": 1280, "height": 800}
# Every part of what is chosen stands open.
ALL_OPEN = (
    "localStorage.setItem('emvar-folds', JSON.stringify({ paint: true, work: true, where: true, when: true,"
    " seams: true, wrong: true, cautions: true, more: true }))"
)


@contextmanager
def chromium() -> Iterator[Browser]:
    path = os.environ.get("EMVAR_CHROMIUM") or shutil.which("chromium")
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=path, args=FLAGS)
        yield browser
        browser.close()


def chooser(page: Page | Locator, label: str) -> Locator:
    """A field that searches among many."""
    return page.get_by_role("combobox", name=label, exact=True)


def take(page: Page | Locator, label: str, value: str) -> None:
    """Chooses by its value in a field that searches."""
    chooser(page, label).click()
    page.locator(f"[data-option='{value}']").click()


def set_theme(page: Page, theme: str) -> None:
    page.evaluate(f"document.documentElement.dataset.theme = '{theme}'")


class BrowserCase(LiveServerTestCase):
    """One browser for the class, one fresh page a test; a script error on the page fails the test."""

    browser: Browser
    workers: Literal["allow", "block"] = "block"  # what lies on the device would hide what the server says
    all_open = True  # every part of what is chosen stands open, so that a test may type where it likes

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.browser = cls.enterClassContext(chromium())
        expect.set_options(timeout=20_000)  # a busy machine stalls for seconds

    def setUp(self) -> None:
        self.context = self.browser.new_context(
            viewport={"width": 1280, "height": 800}, color_scheme="light", reduced_motion="reduce",
            service_workers=self.workers,
        )  # fmt: skip
        if self.all_open:
            self.context.add_init_script(ALL_OPEN)
        self.page: Page = self.context.new_page()
        self.broken: list[str] = []
        self.page.on("pageerror", lambda error: self.broken.append(str(error)))

    def tearDown(self) -> None:
        self.context.close()
        self.assertEqual(self.broken, [])
