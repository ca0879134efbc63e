import { setFlagsFromString } from 'node:v8';
import { runInNewContext } from 'node:vm';

setFlagsFromString('--expose-gc');

/**
 * Collects what is no longer used on this thread, now. Scenes lie in shared buffers, whose size V8 does not count as a reason to
 * collect: they stay until a heap that hardly grows is full. Measured on a render node, 36 renders of 6 shots in turn: 576 MB
 * without, about 300 MB with it, and no more after that; fewer arenas of malloc (2) changed nothing. It takes 10 to 20 ms.
 */
export const collectGarbage = runInNewContext('gc') as () => void;
