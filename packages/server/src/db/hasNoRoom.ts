import { statfsSync } from 'node:fs';

/** PostgreSQL writes its log in files of 16 MB: with less it ends. */
const LEAST = 16 * 2 ** 20;

/** Whether the disk of the data folder is full. A database that somebody else runs lies elsewhere: false. */
export function hasNoRoom(folder = process.env.DUSTING_DATA): boolean {
  if (!folder) return false;
  try {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize < LEAST;
  } catch {
    return false;
  }
}
