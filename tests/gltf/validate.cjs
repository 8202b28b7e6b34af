// Prints the report of the glTF validator for a file as JSON.
const { readFileSync } = require('fs')
const { createRequire } = require('module')
const validator = createRequire(process.argv[2])('gltf-validator')
validator.validateBytes(new Uint8Array(readFileSync(process.argv[3]))).then((report) => console.log(JSON.stringify(report.issues)))
