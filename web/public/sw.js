// Keeps the application itself (its page, scripts, styles and fonts), so that it opens while the
// server is away. Never anything of /api: what is shown is either fresh or says that it is not.

const SHELL = "rumek-shell";

self.addEventListener("install", () => self.skipWaiting());
self.addEventListener("activate", (event) => event.waitUntil(self.clients.claim().then(refresh)));

self.addEventListener("fetch", (event) => {
  const { method, mode, url } = event.request;
  const { origin, pathname } = new URL(url);
  if (method !== "GET" || origin !== self.location.origin || pathname.startsWith("/api")) return;
  if (mode === "navigate" && !pathname.includes(".")) event.respondWith(page(event));
  else if (pathname.startsWith("/assets/") || pathname === "/mark.svg") event.respondWith(asset(event.request));
});

/** The page from the server, and the kept one where that cannot be reached. */
async function page(event) {
  try {
    const fresh = await fetch(event.request);
    if (fresh.ok) event.waitUntil(refresh());
    return fresh;
  } catch (error) {
    const kept = await caches.match("/", { cacheName: SHELL });
    if (kept) return kept;
    throw error;
  }
}

/** Their names change with their content: what is kept is right. */
async function asset(request) {
  return (await caches.match(request, { cacheName: SHELL })) ?? fetch(request);
}

/** Fetches what the build now is made of, and lets go of what it no longer is. */
async function refresh() {
  try {
    const [page, manifest] = await Promise.all([fetch("/"), fetch("/.vite/manifest.json")]);
    if (!page.ok || !manifest.ok) return;
    const parts = Object.values(await manifest.json()).flatMap(({ file, css = [], assets = [] }) => [file, ...css, ...assets]);
    const wanted = new Set(["/mark.svg", ...parts.map((part) => `/${part}`)]);
    const shell = await caches.open(SHELL);
    const kept = new Set((await shell.keys()).map(({ url }) => new URL(url).pathname));
    await shell.addAll([...wanted].filter((path) => !kept.has(path)));
    await shell.put("/", page);
    await Promise.all([...kept].filter((path) => path !== "/" && !wanted.has(path)).map((path) => shell.delete(path)));
  } catch {
    // The server went away meanwhile; what was kept stays.
  }
}
