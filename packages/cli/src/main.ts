import { InputError } from '@dusting/core/formats';
import { denoise } from './denoise.ts';
import { diagnose } from './diagnose.ts';
import { drift } from './drift.ts';
import { inspect } from './inspect.ts';
import { render } from './render.ts';
import { repair } from './repair.ts';
import { tint } from './tint.ts';
import { HELP, UsageError } from './usage.ts';

const COMMANDS: Record<string, (args: string[]) => string | Promise<string>> = {
  render,
  inspect,
  diagnose,
  repair,
  denoise,
  drift,
  tint,
};

export interface Outcome {
  /** 0: done; 1: what was given cannot be used; 2: wrong usage. */
  status: number;
  /** For standard output. */
  out: string;
  /** For standard error. */
  complaint: string;
}

/** Runs one command. */
export async function main(args: string[]): Promise<Outcome> {
  const [name, ...rest] = args;
  const done = (status: number, out: string, complaint = ''): Outcome => ({ status, out, complaint });
  try {
    if (name === undefined || name === '--help' || name === 'help')
      return done(name === undefined ? 2 : 0, `${HELP.main}\n`);
    if (!Object.hasOwn(COMMANDS, name)) throw new UsageError(`there is no command "${name}"`);
    return done(0, `${await COMMANDS[name](rest)}\n`);
  } catch (error) {
    if (error instanceof InputError) return done(1, '', `dusting: ${error.sentence}\n`);
    if (!(error instanceof UsageError)) throw error;
    const of = name && name in COMMANDS ? `${name} ` : '';
    return done(2, '', `dusting: ${error.message}\nSee dusting ${of}--help.\n`);
  }
}
