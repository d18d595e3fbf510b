// Opens a stage by the reference implementation of OpenUSD, compiled to WebAssembly, and prints what
// it understood as JSON: the composed stage as one layer's text, and the values of attributes.
//
//   node --require ./browser.cjs stage.cjs FOLDER STAGE [PRIM.ATTRIBUTE...]
//
// FOLDER is copied whole into the module's memory; STAGE is a path in it. Exit 1 where the stage
// cannot be opened, with what the reference says of it.
const fs = require('node:fs');
const path = require('node:path');

const home = path.join(__dirname, 'node_modules', 'three-usdz-loader', 'external');
const [folder, name, ...wanted] = process.argv.slice(2);

function copy(files, from, to) {
  files.mkdir(to);
  for (const entry of fs.readdirSync(from, { withFileTypes: true })) {
    const source = path.join(from, entry.name);
    if (entry.isDirectory()) {
      copy(files, source, `${to}/${entry.name}`);
    } else if (entry.isFile()) {
      files.writeFile(`${to}/${entry.name}`, fs.readFileSync(source));
    }
  }
}

async function main() {
  const complaints = [];
  const start = require(path.join(home, 'emHdBindings.js'));
  const usd = await start(
    {
      locateFile: (file) => path.join(home, file),
      print: () => {},
      printErr: (line) => complaints.push(line),
      getPreloadedPackage: (file) =>
        Uint8Array.from(fs.readFileSync(path.join(home, path.basename(file)))).buffer,
    },
    home + '/',
    1024 ** 3,
  );
  copy(usd.FS, folder, '/in');
  const stage = await usd.UsdStage.Open(`/in/${name}`);
  if (!stage) {
    console.error(complaints.join('\n'));
    return 1;
  }
  const values = {};
  for (const one of wanted) {
    const dot = one.lastIndexOf('.');
    values[one] = stage.GetPrimAtPath(one.slice(0, dot)).GetAttribute(one.slice(dot + 1)).Get();
  }
  fs.writeSync(1, JSON.stringify({ text: stage.ExportToString(), values }));
  return 0;
}

main().then(
  (code) => process.exit(code),
  (error) => {
    console.error(String(error?.message ?? error));
    process.exit(1);
  },
);
