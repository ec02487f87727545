/** Services on the loopback address, and the program that asks them: they run in this process, which must not wait for it. */
import { execFile } from 'node:child_process';
import type { AddressInfo, Server } from 'node:net';
import { NODE, PROGRAM, type Ran } from './run.ts';

/** Starts a service on a free port. */
export async function listening(
  start: (port: number) => Server,
): Promise<{ readonly origin: string; readonly close: () => void }> {
  const server = start(0);
  await new Promise((resolve) => server.once('listening', resolve));
  const { port } = server.address() as AddressInfo;
  return { origin: `http://127.0.0.1:${port}`, close: () => void server.close() };
}

export function rehearse(dir: string, args: readonly string[], env: NodeJS.ProcessEnv = {}): Promise<Ran> {
  return new Promise((resolve) => {
    const child = execFile(
      NODE,
      [PROGRAM, 'rehearse', ...args],
      { cwd: dir, env: { ...process.env, ...env, NO_COLOR: '1' } },
      (_, out, err) => resolve({ status: child.exitCode, out, err }),
    );
  });
}
