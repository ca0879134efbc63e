export function needWeb(): Promise<void>;
