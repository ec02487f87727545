/** The path that a client sends to: what a gateway and the servers of a document put before it. */

/** `/` below a base is the base itself. */
export function fullPath(base: string, path: string): string {
  return path === '/' && base !== '' ? base : base + path;
}

/** A base behind a mount; one that starts with the mount, or holds it, has it already. */
export function mountedBase(base: string, mount: string): string {
  if (mount === '' || mount === '/') return base;
  return `${base}/`.includes(`${mount.replace(/\/$/u, '')}/`) ? base : mount.replace(/\/$/u, '') + base;
}
