import { GateCommand, inputFlags, locator } from './base.ts';

/** What `elm-gate` alone does; it has no name of its own. */
export default class Overview extends GateCommand {
  static override summary = 'Say what was found in this folder, and what to run next.';
  static override hidden = true;
  static override flags = inputFlags;

  async run(): Promise<void> {
    const { flags } = await this.parse(Overview);
    const workspace = await this.open(flags);
    this.mayRepeat(workspace, undefined);
    const { check } = await import('./engine.ts');
    const { placesOf, render } = await import('./engine.ts');
    const { overviewText } = await import('./engine.ts');
    const services = workspace.services.map((service) => {
      const findings = check(service, workspace.levels);
      return { service, findings: render(findings, locator(workspace, placesOf(findings))) };
    });
    this.put(overviewText(services, workspace.discovered, await this.terminal(undefined)), undefined);
  }
}
