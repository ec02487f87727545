import { existsSync, mkdirSync } from 'node:fs';
import { dirname } from 'node:path';

/**
 * Makes a folder with those above it that are missing. Throws where it can't: Node.js itself tries for ever where a file
 * system refuses to make what it says is not there.
 */
export function makeFolder(path: string, mode = 0o777): void {
  const missing: string[] = [];
  for (let at = path; !existsSync(at) && dirname(at) !== at; at = dirname(at)) missing.push(at);
  for (const folder of missing.reverse()) {
    try {
      mkdirSync(folder, { mode });
    } catch (error) {
      // Another run may have made it in between.
      if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
    }
  }
}
