#!/usr/bin/env node
import { bundle } from '../../../scripts/lib/bundle.mjs';

const [program] = await bundle('packages/cli', ['main']);
const { main } = await import(program);
const { complaint, out, status } = await main(process.argv.slice(2));
process.stdout.write(out);
process.stderr.write(complaint);
process.exitCode = status;
