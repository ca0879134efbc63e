export interface Application {
  url: string;
  databaseUrl: string;
  pid(name: 'database' | 'server' | 'node'): number;
  stop(): Promise<void>;
}
export function startApplication(options: {
  dataFolder?: string;
  port?: number;
  env?: Record<string, string>;
}): Promise<Application>;
