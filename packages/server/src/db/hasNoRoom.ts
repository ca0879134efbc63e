import { statfsSync } from 'node:fs';

/** PostgreSQL writes its log in files of 16 MB: with less it ends. */
const LEAST = 16 * 2 ** 20;

/** Whether the disk that the database lies on is full; false where somebody else runs it, since nobody can tell from here. */
export function hasNoRoom(folder = process.env.DUSTING_DATABASE_FOLDER): boolean {
  if (!folder) return false;
  try {
    const { bavail, bsize } = statfsSync(folder);
    return bavail * bsize < LEAST;
  } catch {
    return false;
  }
}
