import * as Args from '@oclif/core/args';
import * as Flags from '@oclif/core/flags';
import { fail } from '../files/problem.ts';
import { formatFlags, GateCommand, inputFlags } from './base.ts';
import { logFlags } from './log-flags.ts';

export default class Traffic extends GateCommand {
  static override summary = 'Follow recorded requests: who is asked how often, and what the model does not explain.';
  static override description =
    'Reads access logs (common and combined), JSON Lines and HAR, packed with gzip or not. No value of a request is printed: parameters are shown as their pattern has them.';
  static override strict = false;
  static override examples = [
    { description: 'What was asked of the services of this folder', command: '<%= config.bin %> <%= command.id %> november.log' },
    {
      description: 'Recorded before a proxy that takes a base path off',
      command: '<%= config.bin %> <%= command.id %> november.log --strip /canal',
    },
    {
      description: 'Records of your own: where each part stands',
      command: '<%= config.bin %> <%= command.id %> requests.jsonl --fields method=req.method,target=req.url,status=res.code',
    },
  ];
  static override args = {
    files: Args.string({ ignoreStdin: true, required: true, description: 'Logs to read, one or more; - is standard input' }),
  };
  static override flags = {
    ...inputFlags,
    ...logFlags,
    values: Flags.boolean({ summary: 'Print targets as they were sent, with what secrets they may hold' }),
    all: Flags.boolean({ summary: 'Every line of every part' }),
    ...formatFlags,
  };

  async run(): Promise<void> {
    const { argv, flags } = await this.parse(Traffic);
    const files = argv as string[];
    const workspace = await this.open(flags);
    const engine = await import('./traffic-engine.ts');
    const services = engine.trafficServices(workspace.services);
    if (services.length === 0) fail('', 'there is no route table to follow the requests through; name one with --routes FILE');
    this.inputs = () => [...workspace.sources.names(), ...files];
    const survey = new engine.Survey(services, { values: flags.values });
    const sink = await engine.counted(files, flags, (r) => survey.meets(r), [survey.outside]);
    const broken = [...sink.broken.values()];
    const view = {
      report: engine.reportOf(survey),
      names: files,
      broken,
      first: sink.first,
      last: sink.last,
      all: flags.all,
    };
    await this.putAll(flags, async (format, output) => {
      if (format === 'text') return engine.trafficText(view, await this.terminal(output));
      if (format === 'json') return `${JSON.stringify(engine.trafficJson(view), null, 2)}\n`;
      const { formatted } = await import('./formats.ts');
      const { version, root } = this.config;
      const summary = engine.headLines(view);
      const items = engine.trafficItems(view);
      const all = { command: 'traffic' as const, version, items, summary, failOn: 'error' as const, known: 0 };
      const title = services.map((s) => s.name).join(', ');
      const grids = [engine.routesGrid(view)];
      return formatted(format, all, { title, services: workspace.services, sources: workspace.sources, grids, root });
    });
    if (survey.total.requests + survey.outside.requests === 0) fail('', `no request could be read in ${files.join(', ')}`);
  }
}
