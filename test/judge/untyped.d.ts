/** Judges that ship no types. */
declare module '@hapi/call' {
  export class Router {
    add(config: { method: string; path: string }, route: unknown): unknown;
    route(method: string, path: string): unknown;
  }
}
