export function needWeb(): Promise<void>;
export function needKernel(): void;
