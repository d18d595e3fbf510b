// Opens a stage by the reference implementation of OpenUSD, and prints what it understood as JSON:
// the composed stage as one layer's text, and the values of attributes.
//
//   node --require ./browser.cjs stage.cjs FOLDER STAGE [PRIM.ATTRIBUTE...]
//
// FOLDER is copied whole into the module's memory; STAGE is a path in it. Exit 1 where the stage
// cannot be opened, with what the reference says of it.
const fs = require('node:fs');
const { start, copy, run } = require('./reference.cjs');

const [folder, name, ...wanted] = process.argv.slice(2);

run(async () => {
  const complaints = [];
  const usd = await start(complaints);
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
});
