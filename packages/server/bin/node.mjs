#!/usr/bin/env node
// A render node by itself: DUSTING_DATABASE_URL=... node packages/server/bin/node.mjs
import { bundle } from '../../../scripts/lib/bundle.mjs';

const [program] = await bundle('packages/server', ['nodeMain']);
await import(program);
