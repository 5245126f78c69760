/** Puts the page on the device, where the browser allows that: this machine, or an address with a certificate. */
export function keepOnDevice() {
  if (!("serviceWorker" in navigator) || !window.isSecureContext || !import.meta.env.PROD) return;
  window.addEventListener("load", () => {
    // After the first drawing: nothing that is looked at waits for it.
    setTimeout(() => {
      navigator.serviceWorker.register("/sw.js", { scope: "/" }).then(warm, () => undefined);
    }, 1200);
  });
}

/** What this page had asked before anybody stood between: once more, so that it lies there. */
async function warm() {
  await navigator.serviceWorker.ready;
  if (!navigator.serviceWorker.controller)
    await new Promise((done) => {
      navigator.serviceWorker.addEventListener("controllerchange", done, { once: true });
      setTimeout(done, 3000);
    });
  const cache = await caches.open("page");
  if (!(await cache.match("/"))) {
    const page = await fetch("/");
    if (page.ok) await cache.put("/", page);
  }
  const build = /^\/build\/([^/]+)/.exec(location.pathname)?.[1];
  const asked = ["/api/knowledge", "/api/techniques", "/api/builds"];
  if (build) asked.push(`/api/builds/${build}`, `/api/builds/${build}/pack`, `/api/builds/${build}/sittings`);
  const had = await caches.open("asked");
  for (const url of asked) if (!(await had.match(url))) await fetch(url).catch(() => undefined);
}
