// Composes many stages by the reference implementation of OpenUSD, each into one layer, written as
// text and as crate.
//
//   node --require ./browser.cjs flatten.cjs FOLDER
//
// Each folder in FOLDER holds a stage root.usda (or root.usdc, root.usdz); flat.usda and flat.usdc
// are written beside it. Exit 1 where one cannot be opened, with what the reference says of it.
const fs = require('node:fs');
const path = require('node:path');
const { start, copy, run } = require('./reference.cjs');

const folder = process.argv[2];

run(async () => {
  const complaints = [];
  const usd = await start(complaints);
  copy(usd.FS, folder, '/in');
  usd.FS.mkdir('/out');
  for (const entry of fs.readdirSync(folder, { withFileTypes: true })) {
    const at = path.join(folder, entry.name);
    const root = entry.isDirectory() && fs.readdirSync(at).find((n) => n.startsWith('root.'));
    if (!root) {
      continue;
    }
    complaints.length = 0;
    const stage = await usd.UsdStage.Open(`/in/${entry.name}/${root}`);
    if (!stage) {
      console.error(`${entry.name}: ${complaints.join('\n')}`);
      return 1;
    }
    fs.writeFileSync(path.join(at, 'flat.usda'), stage.ExportToString());
    stage.Export(`/out/${entry.name}.usdc`, false);
    fs.writeFileSync(path.join(at, 'flat.usdc'), usd.FS.readFile(`/out/${entry.name}.usdc`));
  }
  return 0;
});
