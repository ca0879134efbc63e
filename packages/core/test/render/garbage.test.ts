// The path loop leaves next to nothing to the garbage collector, by the engine's own sampling of the heap. What is left are
// numbers at calls that the engine does not inline, some 16 bytes each; objects or arrays for each ray would be hundreds.
import { expect } from 'chai';
import { spawnSync } from 'node:child_process';
import { fileURLToPath } from 'node:url';

describe('garbage of the path loop', () => {
  it('is less than 100 bytes a ray on matt surfaces, and less than 250 through glass', () => {
    const program = fileURLToPath(new URL('garbageOfRays.ts', import.meta.url));
    const { stdout, stderr } = spawnSync(process.execPath, ['--import', 'tsx', program], { encoding: 'utf8' });
    expect(stdout, stderr).to.match(/^\{/);
    const bytes = JSON.parse(stdout) as Record<'matt' | 'glass', number>;
    expect(bytes.matt).to.be.above(0).and.below(100);
    expect(bytes.glass).to.be.above(0).and.below(250);
  });
});
