/// <reference lib="dom" />
/// <reference lib="dom.iterable" />
/** The script of the report: filters findings, and follows a request with the core, in the page and offline. */

import { createColors } from 'picocolors';
import { lazy } from '../core/base/lazy.ts';
import type { Place } from '../core/base/place.ts';
import { contextOf } from '../core/checks/engine/context.ts';
import { type Asked, type AskedService, followAmong } from '../core/checks/engine/follow-services.ts';
import { readContract } from '../core/contract/read/read-contract.ts';
import type { Behind, Choice, Gateway } from '../core/routes/follow/gateway.ts';
import type { Versioning } from '../core/routes/request/requested-version.ts';
import type { RouteTable } from '../core/routes/table/route.ts';
import { followingRows, headline } from '../views/following.ts';
import type { Locate } from '../views/rendered.ts';
import { type Packed, unpack } from './packed.ts';

const PLAIN = createColors(false);

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

/** Services as the page carries them. */
interface CarriedService {
  readonly name: string;
  readonly table: RouteTable;
  readonly versioning?: Versioning;
  readonly mount?: string;
  readonly behind?: Behind;
  readonly tableIsDocument?: boolean;
  /** None where they are too large for the page. */
  readonly documents: readonly string[];
  readonly files: readonly { readonly file: string; readonly value: unknown }[];
}

/** The name of a file beside another one. */
function besideName(file: string, name: string): string {
  const out: string[] = [];
  for (const step of [...file.split('/').slice(0, -1), ...name.split('/')]) {
    if (step === '..' && out.length > 0 && out.at(-1) !== '..') out.pop();
    else if (step !== '.') out.push(step);
  }
  return out.join('/');
}

/** Routers are built, and documents read, when the first request is asked. */
function servicesInPage(): { readonly services: readonly AskedService[]; readonly gateway: Gateway | undefined } {
  const { services, choice } = unpack(JSON.parse(element('data')?.textContent ?? '') as Packed) as {
    readonly services: readonly CarriedService[];
    readonly choice?: Choice;
  };
  const gateway = choice === undefined ? undefined : { choice, versioning: services[0]?.versioning };
  const asked = services.map(({ documents, files, ...service }) => ({
    name: service.name,
    behind: service.behind ?? { mount: service.mount ?? '/' },
    open: lazy((): readonly Asked[] => {
      const values = new Map(files.map(({ file, value }) => [file, value]));
      const contracts = documents.flatMap((file) => {
        const read = readContract(values.get(file), file, (reference, from) => {
          const name = besideName(from, reference);
          return values.has(name) ? { file: name, value: values.get(name) } : 'it is not part of this page';
        });
        return read.ok ? [read.contract] : [];
      });
      const context = contextOf({ ...service, contracts });
      return context.router === undefined ? [] : [{ context, router: context.router }];
    }),
  }));
  return { services: asked, gateway };
}
const asked = lazy(servicesInPage);

function headersIn(text: string): Record<string, string> {
  return Object.fromEntries(
    text.split('\n').flatMap((row) => {
      const [, name, value] = /^([\w-]+):\s*(.*)$/u.exec(row.trim()) ?? [];
      return name === undefined || value === undefined ? [] : [[name, value]];
    }),
  );
}

/** What a field holds. */
function entered(id: string): string {
  return element<HTMLInputElement>(id)?.value.trim() ?? '';
}

function ask(): void {
  const result = element('answer');
  const [method, target, headers, body] = [
    entered('method').toUpperCase(),
    entered('target'),
    entered('headers'),
    entered('body'),
  ];
  if (result === undefined || target === '') return;
  const question = [`${method} ${target}`, ...(headers === '' ? [] : [headers]), ...(body === '' ? [] : ['', body])].join('\n');
  location.hash = `ask=${encodeURIComponent(question)}`;
  const path = target.startsWith('/') ? target : `/${target}`;
  const request = { method, target: path, headers: headersIn(headers), ...(body === '' ? {} : { body }) };
  const { services, gateway } = asked();
  const followed = followAmong(services, request, gateway);
  if (followed === undefined) return;
  const locate = ({ line: number, column = 1 }: Place): ReturnType<Locate> =>
    number === undefined ? undefined : { line: number, column };
  const rows = followingRows(followed, locate, PLAIN);
  result.replaceChildren(...[['request', headline(followed, PLAIN)] as const, ...rows].map(([name, text]) => line(name, text)));
}

/** The address holds the question, so that it can be sent to somebody. */
function fromAddress(): void {
  const [, question] = /^#ask=(.*)$/su.exec(location.hash) ?? [];
  if (question === undefined) return;
  const [head = '', ...body] = decodeURIComponent(question).split('\n\n');
  const [first = '', ...headers] = head.split('\n');
  const [, method = 'GET', target = ''] = /^(\S+) (.*)$/su.exec(first) ?? [];
  const set = (id: string, value: string): void => {
    const field = element<HTMLInputElement>(id);
    if (field !== undefined) field.value = value;
  };
  set('method', method);
  set('target', target);
  set('headers', headers.join('\n'));
  set('body', body.join('\n\n'));
  ask();
}

/** What is closed is not printed. */
addEventListener('beforeprint', () => {
  for (const cause of document.querySelectorAll<HTMLDetailsElement>('details.cause')) cause.open = true;
});
document.documentElement.classList.add('scripted');
element('filters')?.addEventListener('input', filterFindings);
element('asking')?.addEventListener('submit', (event) => {
  event.preventDefault();
  ask();
});
filterFindings();
fromAddress();
