/** Waits for changes of files that were read. */
import { once } from 'node:events';
import { statSync } from 'node:fs';
import { dirname, relative, resolve } from 'node:path';
import { watch } from 'chokidar';

/** Editors write a file in several steps; what comes within so many milliseconds is one change. */
const TOGETHER = 15;
/** After a run it is looked once more, so many milliseconds later. */
const LATE = 80;
/** What no route is read from. */
const IGNORED = /\/(?:node_modules|\.git)(?:\/|$)/u;

/** Tells one state of a file from another. */
function stampOf(path: string): string {
  const stat = statSync(path, { throwIfNoEntry: false });
  return stat === undefined ? 'none' : `${stat.mtimeMs} ${stat.size}`;
}

/** What a run read, and where it looked. */
export interface Watched {
  readonly files: readonly string[];
  /** Folders that were searched: files that come and go anywhere below are told. */
  readonly folders: readonly string[];
}

/** Changes that wait for the run before to end. */
class Changes {
  /** The names of the files that are watched, by their whole path. */
  readonly names = new Map<string, string>();
  private waiting = new Set<string>();
  private stamps: ReadonlyMap<string, string> = new Map();
  private isRunning = false;
  private timer: NodeJS.Timeout | undefined;

  constructor(private readonly changed: (names: readonly string[]) => Promise<void>) {}

  add(path: string): void {
    this.waiting.add(path);
    this.soon(TOGETHER);
  }

  stop(): void {
    clearTimeout(this.timer);
  }

  private soon(delay: number): void {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      for (const [path, stamp] of this.stamps) {
        if (stampOf(path) === stamp) this.waiting.delete(path);
        else this.waiting.add(path);
      }
      void this.run();
    }, delay);
  }

  private async run(): Promise<void> {
    if (this.isRunning || this.waiting.size === 0) return;
    this.isRunning = true;
    const own = [...this.waiting].map((path) => this.names.get(path) ?? relative('', path));
    this.waiting = new Set();
    this.stamps = new Map([...this.names.keys()].map((path) => [path, stampOf(path)]));
    try {
      await this.changed(own);
    } finally {
      this.isRunning = false;
    }
    // A change that comes close behind another one is not told by itself.
    this.soon(LATE);
  }
}

/**
 * Calls `changed` with the files that changed, one call after the other, until Ctrl-C. `watched` is asked after each call, and
 * what is new is watched too.
 */
export async function untilInterrupted(
  watched: () => Watched,
  changed: (names: readonly string[]) => Promise<void>,
  /** Called when nothing that changes from then on is missed. */
  ready: () => void,
): Promise<void> {
  const folders = new Set<string>();
  // Folders and not files, so that a file that was taken away is seen when it comes back.
  const watcher = watch([], { ignoreInitial: true, depth: 0 });
  const searcher = watch([], { ignoreInitial: true, ignored: IGNORED });
  const follow = (): void => {
    const { files, folders: searched } = watched();
    for (const file of files) changes.names.set(resolve(file), file);
    searcher.add(searched.map((folder) => resolve(folder)));
    const fresh = [...changes.names.keys()].map((path) => dirname(path)).filter((folder) => !folders.has(folder));
    for (const folder of fresh) folders.add(folder);
    if (fresh.length > 0) watcher.add(fresh);
  };
  const changes = new Changes((names) => changed(names).finally(follow));
  watcher.on('all', (_, path) => {
    if (changes.names.has(resolve(path))) changes.add(resolve(path));
  });
  searcher.on('all', (event, path) => {
    if ((event === 'add' || event === 'unlink') && !changes.names.has(resolve(path))) changes.add(resolve(path));
  });
  const isReady = [watcher, ...(watched().folders.length > 0 ? [searcher] : [])].map((w) => once(w, 'ready'));
  follow();
  await Promise.all(isReady);
  ready();
  await new Promise<void>((done) => process.once('SIGINT', done));
  changes.stop();
  await Promise.all([watcher.close(), searcher.close()]);
}
