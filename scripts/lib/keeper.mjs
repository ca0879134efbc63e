import { say, SetupError } from './run.mjs';

/** Ends of a process, each within 10 s of its launch, after which a start gives up. */
const MOST_EARLY_ENDS = 3;

/** One process that is kept alive until it is to stop. */
export class Keeper {
  /** @param onLaunch is called after each launch, with the process running */
  constructor(name, start, stopSignal, onLaunch) {
    Object.assign(this, { name, start, stopSignal, onLaunch, stopping: false, earlyEnds: 0 });
    /** Rejects where it ends again and again. */
    this.failed = new Promise((_, reject) => (this.fail = reject));
    this.failed.catch(() => {}); // only a start listens
    /** Resolves once it says that it is ready. */
    this.ready = new Promise((resolve) => (this.sayReady = resolve));
    this.launch();
  }

  launch() {
    const child = (this.child = this.start());
    const startedAt = Date.now();
    child.on('message', this.sayReady);
    child.on('error', (error) => say(`${this.name}: ${error.message}`));
    this.ended = new Promise((resolve) =>
      child.on('exit', (code, signal) => {
        resolve();
        if (this.stopping) return;
        const early = Date.now() - startedAt < 10_000;
        this.earlyEnds = early ? this.earlyEnds + 1 : 0;
        if (this.earlyEnds >= MOST_EARLY_ENDS)
          this.fail(new SetupError(`The ${this.name} ended ${MOST_EARLY_ENDS} times: what it says stands above.`));
        say(`${this.name} ended unexpectedly (${signal ?? `code ${code}`}): starting it again`);
        setTimeout(() => !this.stopping && this.launch(), early ? 1000 : 200);
      }),
    );
    this.onLaunch();
  }

  async stop() {
    this.stopping = true;
    if (this.child.exitCode !== null || this.child.signalCode !== null) return;
    this.child.kill(this.stopSignal);
    const late = setTimeout(() => this.child.kill('SIGKILL'), 8000);
    await this.ended;
    clearTimeout(late);
  }
}
