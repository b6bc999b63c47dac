// Loaded into a server before it starts: whatever is written below a folder for files on their way meets a full disk.
const fs = require('node:fs');
const { syncBuiltinESMExports } = require('node:module');

const createWriteStream = fs.createWriteStream;
fs.createWriteStream = (path, options) =>
  createWriteStream(String(path).includes('gray-loom-') ? '/dev/full' : path, options);
syncBuiltinESMExports();
