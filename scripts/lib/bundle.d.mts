export function bundle(folder: string, programs: string[], beforeChange?: () => void): Promise<string[]>;
