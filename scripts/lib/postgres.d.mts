import type { ChildProcess } from 'node:child_process';

export function preparePostgres(dataFolder: string): Promise<{ url: string; port: number; start(): ChildProcess }>;
export function waitForPort(port: number, seconds: number): Promise<void>;
export function freePort(): Promise<number>;
