import { sharedBinary, unsharedBinary, type Kernel } from '@dusting/kernel';

const modules = new Map<boolean, WebAssembly.Module>();
const kernels = new WeakMap<WebAssembly.Memory, Kernel>();

/** Whether this machine runs the kernel: WebAssembly with SIMD. */
export function kernelRuns(): boolean {
  return typeof WebAssembly === 'object' && WebAssembly.validate(unsharedBinary);
}

/** The kernel on a memory: one for all who ask in this thread, since calls of one function are faster than of several alike. */
export function startKernel(memory: WebAssembly.Memory): Kernel {
  const running = kernels.get(memory);
  if (running) return running;
  const shared = typeof SharedArrayBuffer === 'function' && memory.buffer instanceof SharedArrayBuffer;
  let module = modules.get(shared);
  if (!module) modules.set(shared, (module = new WebAssembly.Module(shared ? sharedBinary : unsharedBinary)));
  const kernel = new WebAssembly.Instance(module, { env: { memory } }).exports as unknown as Kernel;
  kernels.set(memory, kernel);
  return kernel;
}
