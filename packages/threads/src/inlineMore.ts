import { setFlagsFromString } from 'node:v8';

/**
 * The path loop is some fifty small functions. V8 stops putting them into each other at 920 bytes of bytecode in one function,
 * and leaves alone what has more than 460 by itself.
 */
export const INLINE_MORE = ['--max-inlined-bytecode-size-cumulative=3000', '--max-inlined-bytecode-size=1500'] as const;

INLINE_MORE.forEach(setFlagsFromString);
