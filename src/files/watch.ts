/** Waits for changes of files that were read. */
import { statSync } from 'node:fs';
import { dirname, resolve } from 'node:path';
import { watch } from 'chokidar';

/** Editors write a file in several steps; what comes within so many milliseconds is one change. */
const TOGETHER = 15;
/** After a run it is looked once more, so many milliseconds later. */
const LATE = 80;

/** Tells one state of a file from another. */
function stampOf(path: string): string {
  const stat = statSync(path, { throwIfNoEntry: false });
  return stat === undefined ? 'none' : `${stat.mtimeMs} ${stat.size}`;
}

/**
 * Calls `changed` with the files that changed, one call after the other, until Ctrl-C. `files` are asked after each call, and
 * those that are new are watched too.
 */
export async function untilInterrupted(
  files: () => readonly string[],
  changed: (names: readonly string[]) => Promise<void>,
  /** Called when nothing that changes from then on is missed. */
  ready: () => void,
): Promise<void> {
  const names = new Map<string, string>();
  const folders = new Set<string>();
  // Folders and not files, so that a file that was taken away is seen when it comes back.
  const watcher = watch([], { ignoreInitial: true, depth: 0 });
  const follow = (): void => {
    for (const file of files()) names.set(resolve(file), file);
    const fresh = [...names.keys()].map((path) => dirname(path)).filter((folder) => !folders.has(folder));
    for (const folder of fresh) folders.add(folder);
    if (fresh.length > 0) watcher.add(fresh);
  };
  let stamps: ReadonlyMap<string, string> = new Map();
  let [waiting, isRunning] = [new Set<string>(), false];
  const run = async (): Promise<void> => {
    if (isRunning || waiting.size === 0) return;
    isRunning = true;
    const own = [...waiting].map((path) => names.get(path) ?? path);
    waiting = new Set();
    stamps = new Map([...names.keys()].map((path) => [path, stampOf(path)]));
    try {
      await changed(own);
    } finally {
      isRunning = false;
      follow();
    }
    // A change that comes close behind another one is not told by itself.
    soon(LATE);
  };
  let timer: NodeJS.Timeout | undefined;
  const soon = (delay: number): void => {
    clearTimeout(timer);
    timer = setTimeout(() => {
      for (const [path, stamp] of stamps) {
        if (stampOf(path) === stamp) waiting.delete(path);
        else waiting.add(path);
      }
      void run();
    }, delay);
  };
  watcher.on('all', (_, path) => {
    if (!names.has(resolve(path))) return;
    waiting.add(resolve(path));
    soon(TOGETHER);
  });
  watcher.once('ready', ready);
  follow();
  await new Promise<void>((done) => process.once('SIGINT', done));
  clearTimeout(timer);
  await watcher.close();
}
