// A worker of the page: follows discs in films and counts teeth on photos by the core,
// compiled for browsers (cmd/offline). Pictures come in and counts go out; nothing
// leaves the device.
importScripts("/wasm_exec.js");

const ready = (async () => {
  const begun = new Promise((done) => {
    self.zorvelReady = done;
  });
  const go = new self.Go();
  const wasm = await fetch("/offline.wasm");
  const { instance } = await WebAssembly.instantiate(await wasm.arrayBuffer(), go.importObject);
  void go.run(instance);
  await begun;
  return { film: self.zorvelFilm, sight: self.zorvelSight };
})();

self.onmessage = async ({ data }) => {
  let answer;
  try {
    const { film, sight } = await ready;
    if (data.what === "begin") answer = film.begin(JSON.stringify(data.film));
    if (data.what === "see") answer = film.see(new Uint8Array(data.rgba), data.width, data.height, data.at);
    if (data.what === "count") answer = sight(new Uint8Array(data.rgba), data.width, data.height, JSON.stringify(data.at));
    if (data.what === "tell") answer = film.tell(JSON.stringify(data.other ?? null));
  } catch (e) {
    answer = JSON.stringify({ wrong: `The camera's part can't be loaded: ${e.message}` });
  }
  self.postMessage({ number: data.number, answer });
};
