import { sharedBinary, unsharedBinary, type Kernel } from '@dusting/kernel';

const modules = new Map<boolean, WebAssembly.Module>();

/** Whether this machine runs the kernel: WebAssembly with SIMD. */
export function kernelRuns(): boolean {
  return typeof WebAssembly === 'object' && WebAssembly.validate(unsharedBinary);
}

/** The kernel on a memory. */
export function startKernel(memory: WebAssembly.Memory): Kernel {
  const shared = typeof SharedArrayBuffer === 'function' && memory.buffer instanceof SharedArrayBuffer;
  let module = modules.get(shared);
  if (!module) modules.set(shared, (module = new WebAssembly.Module(shared ? sharedBinary : unsharedBinary)));
  return new WebAssembly.Instance(module, { env: { memory } }).exports as unknown as Kernel;
}
