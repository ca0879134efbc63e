#!/usr/bin/env node
import { register } from 'tsx/esm/api';

register();
const { main } = await import('../src/main.ts');
const { complaint, out, status } = await main(process.argv.slice(2));
process.stdout.write(out);
process.stderr.write(complaint);
process.exitCode = status;
