/// <reference lib="dom" />
/// <reference lib="dom.iterable" />
/** The script of the report: filters findings, and follows a request with the core, in the page and offline. */

import type { RoutingOutcome } from '../core/routes/follow/outcome.ts';
import { followWithFacts } from '../core/routes/follow/with-facts.ts';
import { buildRouter, type Router } from '../core/routes/index/router.ts';
import type { Versioning } from '../core/routes/request/requested-version.ts';
import { nearest } from '../core/routes/suggest/nearest-routes.ts';
import { type RouteTable, routeTitle } from '../core/routes/table/route.ts';
import { revived } from './revive.ts';

interface Data {
  readonly services: readonly { readonly table: RouteTable; readonly versioning?: Versioning }[];
}

function element<T extends HTMLElement>(id: string): T | undefined {
  return (document.getElementById(id) ?? undefined) as T | undefined;
}

/** Every text is set as text: nothing of an input becomes markup. */
function line(name: string, text: string): HTMLElement {
  const row = document.createElement('div');
  const [label, value] = [document.createElement('dt'), document.createElement('dd')];
  label.textContent = name;
  value.textContent = text;
  row.append(label, value);
  return row;
}

function filterFindings(): void {
  const words = (element<HTMLInputElement>('filter')?.value ?? '').toLowerCase();
  const levels = new Set([...document.querySelectorAll<HTMLInputElement>('[name=level]:checked')].map((box) => box.value));
  let shown = 0;
  for (const group of document.querySelectorAll<HTMLElement>('.cause')) {
    let inGroup = 0;
    for (const item of group.querySelectorAll<HTMLElement>('.finding')) {
      const text = `${group.dataset.rule} ${item.textContent}`.toLowerCase();
      const isShown = levels.has(group.dataset.level ?? '') && text.includes(words);
      item.hidden = !isShown;
      if (isShown) inGroup += 1;
    }
    group.hidden = inGroup === 0;
    shown += inGroup;
  }
  const count = element('shown');
  if (count !== undefined) count.textContent = `${shown} shown`;
}

/** Routers are built when the first request is asked. */
function routersOf(): readonly Router[] {
  const { services } = JSON.parse(element('data')?.textContent ?? '{"services":[]}', revived) as Data;
  return services.map(({ table, versioning }) => buildRouter(table, versioning));
}
let routers: readonly Router[] | undefined;

/** The first service that takes the request, or the one that came nearest. */
function answerTo(
  method: string,
  target: string,
  headers: Record<string, string>,
): readonly [Router, RoutingOutcome] | undefined {
  routers ??= routersOf();
  const answers = routers.map((router) => [router, followWithFacts(router, { method, target, headers })] as const);
  return answers.find(([, a]) => a.outcome === 'routed') ?? answers.find(([, a]) => a.outcome !== 'not-found') ?? answers[0];
}

function headersIn(text: string): Record<string, string> {
  return Object.fromEntries(
    text.split('\n').flatMap((row) => {
      const [, name, value] = /^([\w-]+):\s*(.*)$/u.exec(row.trim()) ?? [];
      return name === undefined || value === undefined ? [] : [[name, value]];
    }),
  );
}

function ask(): void {
  const result = element('answer');
  const method = (element<HTMLInputElement>('method')?.value ?? 'GET').trim().toUpperCase();
  const target = (element<HTMLInputElement>('target')?.value ?? '').trim();
  if (result === undefined || target === '') return;
  const given = element<HTMLTextAreaElement>('headers')?.value ?? '';
  const answer = answerTo(method, target.startsWith('/') ? target : `/${target}`, headersIn(given));
  location.hash = `ask=${encodeURIComponent(`${method} ${target}${given.trim() === '' ? '' : `\n${given.trim()}`}`)}`;
  if (answer === undefined) return;
  result.replaceChildren(...rowsOf(...answer));
}

function rowsOf(router: Router, f: RoutingOutcome): readonly HTMLElement[] {
  const { route } = f.leaf ?? {};
  const outcome =
    f.outcome === 'routed' ? `is handled by ${route?.handler ?? 'the router itself'}` : `is answered ${f.status ?? f.outcome}`;
  return [
    line('request', `${f.request.method} ${f.request.target} ${outcome}`),
    ...(route === undefined ? [] : [line('route', `${routeTitle(route)}  ${route.place.file}`)]),
    ...[...f.parameters].map(([name, { text, type }]) => line('parameter', `${name} = ${JSON.stringify(text)} (${type})`)),
    ...(f.why === undefined ? [] : [line('because', f.why)]),
    ...(f.allow === null ? [] : [line('Allow', f.allow.join(', '))]),
    ...(f.responseType === undefined ? [] : [line('answers', f.responseType.type)]),
    ...f.alsoMatched
      .slice(0, 5)
      .map(({ leaf, why }) => line('also matched', `${routeTitle(leaf.route)} -> ${leaf.route.handler}, ${why}`)),
    ...nearest(router, f).map((n) => line('nearest', `${n.message}; ${n.target} is handled by ${n.route.handler}`)),
    ...f.restsOn.filter((r) => r.assumed).map((r) => line('assumed', `${r.fact}: ${r.value}`)),
  ];
}

/** The address holds the question, so that it can be sent to somebody. */
function fromAddress(): void {
  const [, question] = /^#ask=(.*)$/su.exec(location.hash) ?? [];
  if (question === undefined) return;
  const [first = '', ...headers] = decodeURIComponent(question).split('\n');
  const [, method = 'GET', target = ''] = /^(\S+) (.*)$/su.exec(first) ?? [];
  const set = (id: string, value: string): void => {
    const field = element<HTMLInputElement>(id);
    if (field !== undefined) field.value = value;
  };
  set('method', method);
  set('target', target);
  set('headers', headers.join('\n'));
  ask();
}

document.documentElement.classList.add('scripted');
element('filters')?.addEventListener('input', filterFindings);
element('asking')?.addEventListener('submit', (event) => {
  event.preventDefault();
  ask();
});
filterFindings();
fromAddress();
