// The resident memory of a process with a scene of a million triangles.
import { spawnSync } from 'node:child_process';

export async function benchMemory(): Promise<void> {
  const program = ['--expose-gc', '--import', 'tsx', 'bench/memoryProcess.ts'];
  const { stdout } = spawnSync(process.execPath, program, { encoding: 'utf8' });
  const memory = JSON.parse(stdout) as Record<'triangles' | 'resident' | 'hierarchy' | 'arrays', number>;
  const megabytes = (bytes: number) => `${(bytes / 1e6).toFixed(0)} MB`;
  console.log(
    `\na process with ${memory.triangles} triangles, normals and UVs: ${megabytes(memory.resident)} resident, of which ${megabytes(memory.hierarchy)} hierarchy and ${megabytes(memory.arrays)} vertices and indices`,
  );
}
