// node check_glb.mjs FILE...: the glTF standard's own validator. Exit code 1 at any error or warning.
import fs from "node:fs";
import validator from "gltf-validator";

let bad = 0;
for (const file of process.argv.slice(2)) {
  const report = await validator.validateBytes(new Uint8Array(fs.readFileSync(file)), { maxIssues: 20 });
  const { numErrors, numWarnings, messages } = report.issues;
  if (numErrors + numWarnings === 0) continue;
  bad += 1;
  console.log(`${file}: ${numErrors} errors, ${numWarnings} warnings`);
  for (const m of messages.slice(0, 5)) console.log(`  ${m.code} ${m.pointer}: ${m.message}`);
}
console.log(bad === 0 ? "No errors, no warnings." : `${bad} files have problems.`);
process.exit(bad === 0 ? 0 : 1);
