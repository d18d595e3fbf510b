// Validates a glTF file by the format's own validator, and prints its report as JSON.
import fs from 'node:fs';
import { createRequire } from 'node:module';

const require = createRequire(import.meta.url);
const validator = require('gltf-validator');
const bytes = new Uint8Array(fs.readFileSync(process.argv[2]));
const report = await validator.validateBytes(bytes, { maxIssues: 100 });
console.log(JSON.stringify(report));
