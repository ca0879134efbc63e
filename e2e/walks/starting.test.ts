// npm start from outside: what it refuses, and that nothing is left running by a start that failed or was killed.
import { spawn, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { createServer } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect } from 'chai';
import { freePort } from '../../scripts/lib/postgres.mjs';

/** Ids of processes that name a folder on their command line or in what they were given. */
function processesOf(folder: string): number[] {
  const names = (pid: string) =>
    ['cmdline', 'environ'].some((file) => {
      try {
        return readFileSync(`/proc/${pid}/${file}`, 'utf8').includes(folder);
      } catch {
        return false;
      }
    });
  return readdirSync('/proc').filter((pid) => /^\d+$/.test(pid) && names(pid)).map(Number); // prettier-ignore
}

describe('npm start', function () {
  this.timeout(120_000);
  // outside of the checkout, as an instance that serves several people would have it
  const dataFolder = mkdtempSync(join(tmpdir(), 'dusting-start-'));
  const other = mkdtempSync(join(tmpdir(), 'dusting-start-'));
  let port: number;
  before(async () => (port = await freePort()));
  after(() => {
    for (const pid of [...processesOf(dataFolder), ...processesOf(other)]) process.kill(pid, 'SIGKILL');
    for (const folder of [dataFolder, other]) rmSync(folder, { recursive: true, force: true });
  });

  /** A start, and what it says. */
  function start(env: Record<string, string> = {}) {
    const child = spawn(process.execPath, ['scripts/start.mjs'], {
      env: { ...process.env, DUSTING_DEMO: 'off', DUSTING_DATA: dataFolder, DUSTING_PORT: String(port), ...env },
      stdio: ['ignore', 'pipe', 'pipe'],
      detached: true, // a process group of its own, as in a terminal
    });
    let said = '';
    for (const stream of [child.stdout, child.stderr]) stream.setEncoding('utf8').on('data', (text) => (said += text));
    const ended = once(child, 'close').then(([code]) => ({ code: code as number | null, said }));
    const ready = new Promise<void>((resolve, reject) => {
      child.stdout.on('data', () => said.includes('Dusting is ready') && resolve());
      void ended.then(() => reject(new Error(said)));
    });
    ready.catch(() => {}); // a start that is to fail is read from its end
    return { child, ended, ready };
  }
  const answers = async () => (await fetch(`http://127.0.0.1:${port}/api/health`)).status;
  const end = async (child: ChildProcess, signal: NodeJS.Signals) => {
    process.kill(-child.pid!, signal);
    await once(child, 'close');
  };

  it('refuses what does not fit before it starts anything', async () => {
    const refused = async (env: Record<string, string>, words: RegExp) => {
      const { code, said } = await start(env).ended;
      expect({ code, said }).to.satisfy(() => code === 1 && words.test(said), said);
      expect(processesOf(dataFolder)).to.deep.equal([]);
    };
    await refused({ DUSTING_PORT: 'abc' }, /DUSTING_PORT=abc is no port/);
    await refused({ DUSTING_PORT: '70000' }, /no port/);
    await refused({ DUSTING_HOST: '0.0.0.0' }, /set DUSTING_TOKEN/);
    await refused({ DUSTING_HOST: '192.0.2.1', DUSTING_TOKEN: 'a' }, /no address of this machine/);
    const holder = createServer().listen(port, '127.0.0.1');
    await once(holder, 'listening');
    await refused({}, new RegExp(`Port ${port} is taken`));
    holder.close();
    await once(holder, 'close');
  });

  it('starts after that, and a second start leaves it alone', async () => {
    const first = start();
    await first.ready;
    expect(await answers()).to.equal(200);
    const second = await start().ended;
    expect(second.code).to.equal(1);
    expect(second.said).to.contain(`already running at http://127.0.0.1:${port}`);
    const elsewhere = await start({ DUSTING_DATA: other }).ended;
    expect(elsewhere.said).to.contain('is taken');
    expect(processesOf(other)).to.deep.equal([]);
    expect(await answers()).to.equal(200);
    // what is installed has changed: it is not taken away from under the one that runs
    const stamp = 'node_modules/.built-from';
    const installed = readFileSync(stamp, 'utf8');
    writeFileSync(stamp, 'of another lock file');
    try {
      const changed = await start({ DUSTING_DATA: other, DUSTING_PORT: String(await freePort()) }).ended;
      expect(changed.code).to.equal(1);
      expect(changed.said).to.contain(`still runs from this folder at http://127.0.0.1:${port}: stop it first`);
      expect(changed.said).to.not.contain('Installing');
    } finally {
      writeFileSync(stamp, installed);
    }
    expect(processesOf(other)).to.deep.equal([]);
    expect(await answers()).to.equal(200);
    // its terminal is closed
    await end(first.child, 'SIGHUP');
    expect(processesOf(dataFolder)).to.deep.equal([]);
  });

  it('ends what a killed start has left, and starts', async () => {
    const first = start();
    await first.ready;
    first.child.kill('SIGKILL');
    await once(first.child, 'exit');
    expect(processesOf(dataFolder)).not.to.deep.equal([]); // the database at least
    const second = start();
    await second.ready;
    expect(await answers()).to.equal(200);
    await end(second.child, 'SIGTERM');
    expect(processesOf(dataFolder)).to.deep.equal([]);
  });

  it('given up on its way, it leaves nothing', async () => {
    const { child, ended } = start();
    await once(child.stdout, 'data');
    child.kill('SIGINT');
    expect((await ended).code).to.equal(0);
    expect(processesOf(dataFolder)).to.deep.equal([]);
  });
});
