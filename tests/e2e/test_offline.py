"""The page on the device: it opens and works with the server stopped, and what was said there comes home later."""

import shutil
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import expect

sys.path.insert(0, str(Path(__file__).resolve().parent.parent.parent / "tools"))

from served import Served, free_port

from .browser import BrowserCase, empty

TUG = "demo-harbour-tug"
LIES_THERE = """async (urls) => {
    const had = await caches.open('asked');
    const there = await Promise.all(urls.map((u) => had.match(u)));
    return there.every((x) => x) && !!(await (await caches.open('page')).match('/'));
}"""


class WithoutItsServer(BrowserCase):
    workers = "allow"
    made_by = staticmethod(empty)

    def setUp(self) -> None:
        super().setUp()
        data = Path(tempfile.mkdtemp())
        self.addCleanup(shutil.rmtree, data, True)
        self.port = free_port()
        self.server = Served(data, self.port)
        self.server.start("--demo")
        self.addCleanup(self.server.kill)

    def test_is_installed_opens_and_works_with_the_server_stopped_and_tells_it_later(self) -> None:
        page, base = self.page, f"http://localhost:{self.port}"
        told = page.request.get(f"{base}/manifest.webmanifest").json()
        self.assertEqual(told["display"], "standalone")
        for icon in told["icons"]:
            self.assertEqual(page.request.get(f"{base}{icon['src']}").status, 200)
        self.assertIn("javascript", page.request.get(f"{base}/sw.js").headers["content-type"])
        page.goto(f"{base}/build/{TUG}/at-the-bench")
        page.get_by_test_id("main-act").wait_for()
        page.wait_for_function("() => navigator.serviceWorker.controller !== null")
        wanted = ["/api/knowledge", "/api/techniques", f"/api/builds/{TUG}", f"/api/builds/{TUG}/pack"]
        for _ in range(200):  # `wait_for_function` takes a promise for yes
            if page.evaluate(LIES_THERE, wanted):
                break
            page.wait_for_timeout(100)
        self.server.kill()
        # Opened anew with nobody to answer: the bench, and the rack.
        page.goto(f"{base}/build/{TUG}/at-the-bench")
        act = page.get_by_test_id("main-act")
        expect(act).to_have_text("Begin")
        act.click()
        expect(act).to_have_text("Done")
        act.click()
        expect(page.get_by_test_id("kept")).to_contain_text("kept here")
        page.goto(f"{base}/build/{TUG}")
        expect(page.locator('[data-row="primer~hull"]')).to_be_visible()
        page.goto(f"{base}/build/{TUG}/at-the-bench")
        expect(page.get_by_test_id("timers")).to_contain_text("dry to the touch")
        self.server.start()
        expect(page.get_by_test_id("kept")).to_have_text("")
        status, kept = self.server.ask("GET", f"/api/builds/{TUG}/journal")
        self.assertEqual((status, [e["said"] for e in kept["entries"]]), (200, ["begun", "done"]))
        self.assertEqual(kept["entries"][0]["step"], "primer")
