// Reads an OpenUSD text file by a parser that is not ours, and prints what it understood as JSON.
import fs from 'node:fs';
import { createRequire } from 'node:module';

// the library is built for browsers; it needs no more of one than this
process.type = 'renderer';
globalThis.window = globalThis.window ?? {};
const require = createRequire(import.meta.url);
const { default: start } = await import('tinyusdz/tinyusdz.js');
const wasm = fs.readFileSync(require.resolve('tinyusdz/tinyusdz.wasm'));
const usd = await start({
  print: (text) => console.error(text),
  printErr: (text) => console.error(text),
  instantiateWasm: (imports, done) => {
    WebAssembly.instantiate(wasm, imports).then((made) => done(made.instance, made.module));
    return {};
  },
});
const file = process.argv[2];
const bytes = fs.readFileSync(file);
const layer = new usd.TinyUSDZLoaderNative();
const loaded = layer.loadAsLayerFromBinary(bytes, file);
const text = loaded ? layer.layerToString() : '';
const scene = new usd.TinyUSDZLoaderNative();
const staged = scene.loadFromBinary(bytes, file);
console.log(
  JSON.stringify({
    loaded,
    error: loaded ? '' : layer.error(),
    text,
    staged,
    meshes: staged ? scene.numMeshes() : -1,
  }),
);
process.exit(loaded ? 0 : 1);
