// Starts the reference implementation of OpenUSD, compiled to WebAssembly.
const fs = require('node:fs');
const path = require('node:path');

const home = path.join(__dirname, 'node_modules', 'three-usdz-loader', 'external');

/** Returns its module; what it complains of is added to a list. */
exports.start = (complaints) =>
  require(path.join(home, 'emHdBindings.js'))(
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

/** Copies a folder whole into the module's memory. */
exports.copy = function copy(files, from, to) {
  files.mkdir(to);
  for (const entry of fs.readdirSync(from, { withFileTypes: true })) {
    const source = path.join(from, entry.name);
    if (entry.isDirectory()) {
      copy(files, source, `${to}/${entry.name}`);
    } else if (entry.isFile()) {
      files.writeFile(`${to}/${entry.name}`, fs.readFileSync(source));
    }
  }
};

/** Runs something that gives an exit code, and ends the process with it. */
exports.run = (main) =>
  main().then(
    (code) => process.exit(code),
    (error) => {
      console.error(String(error?.message ?? error));
      process.exit(1);
    },
  );
