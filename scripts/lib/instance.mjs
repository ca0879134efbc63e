// Which processes belong to a data folder. A lock file in it names them by id and start time, so that an id which the
// system has given to another process since is never taken for ours, wherever the folder lies.
import { existsSync, mkdirSync, readdirSync, readFileSync, renameSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { root, say, SetupError } from './run.mjs';

const LOCK = 'instance.json';
/** One file for each instance that runs from this checkout, whatever its data folder. */
const RUNNING_HERE = join(root, '.instances');
const pause = (ms) => new Promise((resolve) => setTimeout(resolve, ms));

/** A process with its start time (proc(5): field 22 of stat, in clock ticks since boot); null where there is none. */
export function identify(pid) {
  try {
    const stat = readFileSync(`/proc/${pid}/stat`, 'utf8');
    // the name before may hold spaces and brackets
    const [state, ...fields] = stat.slice(stat.lastIndexOf(')') + 2).split(' ');
    if (state === 'Z') return null;
    return { pid, started: `${readFileSync('/proc/sys/kernel/random/boot_id', 'utf8').trim()} ${fields[18]}` };
  } catch {
    return null;
  }
}

const isAlive = ({ pid, started }) => identify(pid)?.started === started;

/**
 * Makes the data folder this process's own, and ends what a start that was killed has left running on it.
 * @returns record: writes down what runs now; release: gives the folder back
 * @throws SetupError where an instance runs on it
 */
export async function claim(dataFolder) {
  const file = join(dataFolder, LOCK);
  const main = identify(process.pid);
  while (!create(file, { main, processes: [] })) {
    const found = await read(file);
    if (found?.main && isAlive(found.main))
      throw new SetupError(
        found.url
          ? `Dusting is already running at ${found.url}`
          : `Dusting is being started on ${dataFolder} already, by process ${found.main.pid}`,
      );
    await endAll(found?.processes ?? []);
    remove(file, found);
  }
  await endAll(postmasterOf(dataFolder));
  const here = join(RUNNING_HERE, `${process.pid}-${Date.now()}.json`);
  return {
    record(url, pids) {
      const instance = { main, url, dataFolder, processes: pids.map(identify).filter(Boolean) };
      writeWhole(file, instance);
      mkdirSync(RUNNING_HERE, { recursive: true });
      writeWhole(here, instance);
    },
    release() {
      rmSync(file, { force: true });
      rmSync(here, { force: true });
    },
  };
}

/** Addresses of the instances that other processes run from this checkout. */
export function runningHere() {
  if (!existsSync(RUNNING_HERE)) return [];
  return readdirSync(RUNNING_HERE).flatMap((name) => {
    try {
      const { main, url } = JSON.parse(readFileSync(join(RUNNING_HERE, name), 'utf8'));
      if (isAlive(main)) return main.pid === process.pid ? [] : [url];
    } catch {
      // it ended meanwhile
    }
    rmSync(join(RUNNING_HERE, name), { force: true });
    return [];
  });
}

function create(file, instance) {
  try {
    writeFileSync(file, JSON.stringify(instance), { flag: 'wx' });
    return true;
  } catch (error) {
    if (error.code === 'EEXIST') return false;
    throw new SetupError(`The data folder cannot be written to: ${error.message}`);
  }
}

/** A reader finds it whole: before, or after. */
function writeWhole(file, instance) {
  writeFileSync(`${file}.new`, JSON.stringify(instance));
  renameSync(`${file}.new`, file);
}

/** What a lock file says; null where it says nothing even after a moment. */
async function read(file) {
  for (let i = 0; i < 5; i++) {
    try {
      return JSON.parse(readFileSync(file, 'utf8'));
    } catch {
      await pause(100); // it is being written, or has gone
    }
  }
  return null;
}

/** Takes a lock away that nobody holds. Of two starts that do so at once, the later puts the other's back. */
function remove(file, found) {
  const aside = `${file}.${process.pid}`;
  try {
    renameSync(file, aside);
    if (found && JSON.parse(readFileSync(aside, 'utf8')).main?.pid !== found.main?.pid) renameSync(aside, file);
  } catch {
    // the other was first
  }
  rmSync(aside, { force: true });
}

/** The database of a data folder, where it runs: it writes its id and its folder into the cluster. */
function postmasterOf(dataFolder) {
  const cluster = join(dataFolder, 'postgres');
  try {
    const pid = Number(readFileSync(join(cluster, 'postmaster.pid'), 'utf8').split('\n')[0]);
    const isOurs = readFileSync(`/proc/${pid}/cmdline`, 'utf8').split('\0').includes(cluster);
    return isOurs ? [identify(pid)].filter(Boolean) : [];
  } catch {
    return [];
  }
}

/** Ends processes, the hard way where they do not listen. */
async function endAll(processes) {
  const alive = processes.filter(isAlive);
  for (const { pid } of alive) {
    say(`Ending process ${pid}, left over from a start that was killed`);
    process.kill(pid, 'SIGINT');
  }
  for (let i = 0; i < 60 && alive.some(isAlive); i++) await pause(100);
  for (const { pid } of alive.filter(isAlive)) process.kill(pid, 'SIGKILL');
  while (alive.some(isAlive)) await pause(50);
}
