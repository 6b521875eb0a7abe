// validate_gltf.cjs FOLDER FILE...: what the glTF standard's validator, installed in FOLDER, says of each file: a
// line for every error and warning, "FILE: SEVERITY CODE at POINTER: MESSAGE".
const fs = require('fs');
const path = require('path');
const [folder, ...files] = process.argv.slice(2);
const validator = require(path.join(folder, 'node_modules', 'gltf-validator'));
const kWords = ['error', 'warning'];

async function main() {
  for (const file of files) {
    const report = await validator.validateBytes(new Uint8Array(fs.readFileSync(file)), {
      uri: path.basename(file),
      externalResourceFunction: async (uri) => new Uint8Array(fs.readFileSync(path.join(path.dirname(file), uri))),
    });
    for (const issue of report.issues.messages) {
      if (issue.severity < kWords.length) {
        console.log(`${path.basename(file)}: ${kWords[issue.severity]} ${issue.code} at ${issue.pointer}: ${issue.message}`);
      }
    }
  }
  console.log(`${files.length} files`);
}

main().catch((error) => {
  console.error(String(error));
  process.exit(1);
});
