// Tells the import rules where an import leads: relative files, and our own packages by their entries.
const { existsSync } = require('node:fs');
const { dirname, resolve } = require('node:path');

const packages = resolve(__dirname, '../../packages');

exports.interfaceVersion = 2;
exports.resolve = (source, file) => {
  const own = /^@dusting\/([a-z]+)(?:\/(.+))?$/.exec(source);
  const path = own
    ? resolve(packages, own[1], 'src', own[2] ?? '.', 'index.ts')
    : source.startsWith('.')
      ? resolve(dirname(file), source)
      : null;
  return path && existsSync(path) ? { found: true, path } : { found: false };
};
