/** What a running service answered, held against the model. */
import type { FactResult } from '../core/rehearse/experiments.ts';
import type { Request } from '../core/routes/request/request.ts';
import { count, type Terminal, wrap } from './terminal.ts';

/** One request that was sent. */
export interface Sent {
  readonly service: string;
  readonly request: Request;
  readonly verdict: 'agrees' | 'contradicts' | 'open';
  readonly expected: string;
  readonly came: string;
  /** Facts that the expectation rests on and that were assumed. */
  readonly restsOn: readonly string[];
  /** What of the answer the document does not have. */
  readonly undocumented: readonly string[];
}

export interface RehearsalView {
  readonly origin: string;
  readonly sent: readonly Sent[];
  readonly facts: readonly (FactResult & { readonly service: string })[];
  readonly withoutEffect: readonly string[];
  /** Routes that were not asked because their methods may change something. */
  readonly unsafe: number;
  /** What could not be done, each as a sentence without its full stop. */
  readonly notes: readonly string[];
  readonly stopped: boolean;
  /** Why nothing was answered at all. */
  readonly reason?: string | undefined;
}

const LABEL = 10;

/** Counts first, then contradictions, then facts. */
export function rehearsalText(view: RehearsalView, terminal: Terminal): string {
  const { sent, origin } = view;
  const of = (verdict: Sent['verdict']): readonly Sent[] => sent.filter((s) => s.verdict === verdict);
  const wrong = sent.filter((s) => s.verdict === 'contradicts' || s.undocumented.length > 0);
  const head = `${origin}: ${count(sent.length, 'request')} sent${view.stopped ? ' before it was stopped' : ''}, ${of('agrees').length} answered as expected, ${of('contradicts').length} otherwise, ${of('open').length} open.`;
  const blocks = [
    wrap(head, terminal),
    ...wrong.map((s) => contradictionText(s, origin, terminal)),
    openText(of('open'), terminal),
    factsText(view, terminal),
    tailText(view, terminal),
  ];
  return `${blocks.filter((b) => b !== '').join('\n\n')}\n`;
}

function contradictionText(s: Sent, origin: string, terminal: Terminal): string {
  const { paint } = terminal;
  const row = (label: string, text: string): string =>
    wrap(text, terminal, `  ${paint.dim(label.padEnd(LABEL))}`, ' '.repeat(LABEL + 2));
  const isWrong = s.verdict === 'contradicts';
  const title = paint.red(paint.bold(isWrong ? 'contradicts' : 'undocumented'));
  return [
    wrap(`${title}  ${s.request.method} ${s.request.target}`, terminal),
    ...(isWrong ? [row('expected', s.expected), row('came', paint.bold(s.came))] : []),
    ...(isWrong && s.restsOn.length > 0 ? [row('assumed', s.restsOn.join(', '))] : []),
    ...s.undocumented.map((text) => row('document', text)),
    row('curl', curlOf(origin, s.request)),
  ].join('\n');
}

function openText(open: readonly Sent[], terminal: Terminal): string {
  if (open.length === 0) return '';
  const shown = open.slice(0, 5).map((s) => `${s.request.method} ${s.request.target} (${s.came})`);
  const more = open.length > 5 ? ` and ${open.length - 5} more` : '';
  return wrap(`Open: ${shown.join(', ')}${more}. Such answers say nothing of the router.`, terminal);
}

function factsText({ facts }: RehearsalView, terminal: Terminal): string {
  if (facts.length === 0) return '';
  const sorted = [...facts].sort((a, b) => STATES.indexOf(a.state) - STATES.indexOf(b.state));
  return [terminal.paint.bold('Router facts'), ...sorted.map((f) => factLine(f, terminal))].join('\n');
}

function tailText({ withoutEffect, unsafe, notes }: RehearsalView, terminal: Terminal): string {
  const lines = [
    ...notes.map((note) => `${note}.`),
    ...(withoutEffect.length > 0 ? [`Without effect on these routes, so not asked: ${withoutEffect.join(', ')}.`] : []),
    ...(unsafe > 0
      ? [`${count(unsafe, 'route')} not asked with methods that may change something; --methods says which are sent.`]
      : []),
  ];
  return lines.map((text) => wrap(terminal.paint.dim(text), terminal)).join('\n');
}

const STATES = ['contradicted', 'open', 'confirmed'] as const;
const STATE_ROOM = 14;

function factLine({ fact, assumed, consistent, state, together, requests }: FactResult, terminal: Terminal): string {
  const { paint } = terminal;
  const colour = { contradicted: paint.red, open: paint.yellow, confirmed: paint.green }[state];
  const explain = consistent.length === 1 ? 'explains' : 'explain';
  const words = {
    contradicted:
      together.length > 0
        ? `${fact}: no value explains the answers alone; ${orList(together.map((t) => `(${t})`))} does`
        : `${fact}: ${assumed} was assumed, but ${orList(consistent)} ${explain} the answers; set it under router:`,
    open: `${fact}: ${assumed} is assumed; no answer tells`,
    confirmed: `${fact}: ${orList(consistent)}`,
  }[state];
  const [shown] = requests;
  const asked = shown === undefined ? '' : ` (${shown.method} ${shown.target})`;
  return wrap(words + asked, terminal, `  ${colour(state.padEnd(STATE_ROOM))}`, ' '.repeat(STATE_ROOM + 2));
}

function orList(values: readonly string[]): string {
  return values.length < 2 ? (values[0] ?? 'nothing') : `${values.slice(0, -1).join(', ')} or ${values.at(-1)}`;
}

/** One line for a shell. Headers from the command line are left out: they may hold secrets. */
export function curlOf(origin: string, { method, target, headers, body }: Request): string {
  const quoted = (text: string): string => `'${text.replaceAll("'", "'\\''")}'`;
  const more = Object.entries(headers).map(([name, value]) => ` -H ${quoted(`${name}: ${value}`)}`);
  const head = method === 'HEAD' ? ' -I' : method === 'GET' ? '' : ` -X ${method}`;
  return `curl -i --path-as-is${head}${more.join('')}${body === undefined ? '' : ` --data-raw ${quoted(body)}`} ${quoted(origin + target)}`;
}

/** The same for programs. */
export function rehearsalJson(view: RehearsalView): object {
  const { sent, facts, origin, withoutEffect, unsafe, notes, stopped } = view;
  return {
    origin,
    stopped,
    summary: {
      sent: sent.length,
      agrees: sent.filter((s) => s.verdict === 'agrees').length,
      contradicts: sent.filter((s) => s.verdict === 'contradicts').length,
      open: sent.filter((s) => s.verdict === 'open').length,
      undocumented: sent.filter((s) => s.undocumented.length > 0).length,
    },
    requests: sent.map((s) => ({ ...s, curl: curlOf(origin, s.request) })),
    facts: facts.map(({ requests, ...f }) => ({ ...f, requests: requests.map((r) => `${r.method} ${r.target}`) })),
    withoutEffect,
    unsafe,
    notes,
  };
}
