// Part of the service worker: answers the identify bench where the server can't be
// reached, by the same code compiled for browsers (cmd/offline).
(() => {
  const box = "zorvel-bench";
  const files = ["/offline.wasm", "/wasm_exec.js"];
  const paths = /^\/api\/v1\/calc\/(identify|live|echo|knowledge)$/;

  const keep = async () => {
    const cache = await caches.open(box);
    await cache.addAll(files.map((f) => new Request(f, { cache: "reload" })));
  };

  self.addEventListener("message", (e) => {
    if (e.data === "keep the bench")
      e.waitUntil(
        caches.match(files[0], { cacheName: box }).then((there) => there || keep().catch(() => undefined)),
      );
  });

  // Another version of the pages comes with its own bench.
  self.addEventListener("activate", (e) => {
    e.waitUntil(caches.has(box).then((had) => had && keep().catch(() => undefined)));
  });

  let bench;
  const start = async () => {
    const [wasm, run] = await Promise.all(files.map((f) => caches.match(f, { cacheName: box })));
    if (!wasm || !run) throw new Error("the bench is not on this device");
    const ready = new Promise((done) => {
      self.zorvelReady = done;
    });
    const go = new self.Go();
    const { instance } = await WebAssembly.instantiate(await wasm.arrayBuffer(), go.importObject);
    void go.run(instance).finally(() => {
      bench = undefined;
    });
    await ready;
    return self.zorvelAnswer;
  };

  const here = async (path, body) => {
    bench ??= start();
    try {
      const { status, body: text } = (await bench)(path, body);
      return new Response(text, {
        status,
        headers: {
          "Content-Type": status === 200 ? "application/json" : "application/problem+json",
          "X-Weighed": "here",
        },
      });
    } catch (e) {
      bench = undefined;
      throw e;
    }
  };

  self.addEventListener("fetch", (e) => {
    const { pathname, origin } = new URL(e.request.url);
    if (origin !== self.location.origin) return;
    // The camera's worker loads the same code: from here where there is no network.
    if (files.includes(pathname)) {
      e.respondWith(
        fetch(e.request).catch(async (away) => {
          const there = await caches.match(pathname, { cacheName: box });
          if (!there) throw away;
          return there;
        }),
      );
      return;
    }
    const path = paths.exec(pathname)?.[1];
    if (!path) return;
    e.respondWith(
      (async () => {
        const body = e.request.method === "POST" ? await e.request.clone().text() : "";
        try {
          return await fetch(e.request);
        } catch (away) {
          try {
            return await here(path, body);
          } catch {
            throw away;
          }
        }
      })(),
    );
  });
})();
