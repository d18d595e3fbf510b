// Loaded first (node --require) for the main thread and its workers: the module that stage.cjs opens
// was built for a browser, and asks for these few things of one. Files come from its own package.
const fs = require('node:fs');
const path = require('node:path');

const home = path.join(__dirname, 'node_modules', 'three-usdz-loader', 'external');
const own = (name) => fs.readFileSync(path.join(home, path.basename(decodeURIComponent(String(name)))));

globalThis.self ??= globalThis;
globalThis.location = { pathname: '/', href: 'file:///' };
globalThis.fetch = async (name) =>
  new Response(own(name), { headers: { 'Content-Type': 'application/wasm' } });
globalThis.XMLHttpRequest = class {
  open(method, name) {
    this.name = name;
  }
  send() {
    setImmediate(() => {
      this.response = Uint8Array.from(own(this.name)).buffer;
      this.readyState = 4;
      this.status = 200;
      this.onload?.({});
    });
  }
};
