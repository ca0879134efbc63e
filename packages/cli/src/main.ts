import { InputError } from '@dusting/core/formats';
import { diagnose } from './diagnose.ts';
import { inspect } from './inspect.ts';
import { render } from './render.ts';
import { HELP, UsageError } from './usage.ts';

const COMMANDS: Record<string, (args: string[]) => string | Promise<string>> = { render, inspect, diagnose };

/** Runs one command; returns the exit code. */
export async function main(args: string[]): Promise<number> {
  const [name, ...rest] = args;
  try {
    if (name === undefined || name === '--help' || name === 'help') {
      process.stdout.write(`${HELP.main}\n`);
      return name === undefined ? 2 : 0;
    }
    if (!Object.hasOwn(COMMANDS, name)) throw new UsageError(`there is no command "${name}"`);
    process.stdout.write(`${await COMMANDS[name](rest)}\n`);
    return 0;
  } catch (error) {
    if (error instanceof InputError) {
      process.stderr.write(`dusting: ${error.sentence}\n`);
      return 1;
    }
    if (error instanceof UsageError) {
      process.stderr.write(
        `dusting: ${error.message}\nSee dusting ${name && name in COMMANDS ? `${name} ` : ''}--help.\n`,
      );
      return 2;
    }
    throw error;
  }
}
