/** What in the settings names something that is not there: rules, services, resources, versions. */

import { suggest } from '../core/base/nearest-word.ts';
import { appendPointer } from '../core/base/place.ts';
import { RULE_IDS } from '../core/checks/index.ts';
import { CHANGE_RULES } from '../core/compare/changes/rules/index.ts';
import type { Settings } from './formats/settings.ts';
import { InputFailure } from './problem.ts';
import { locate, type Source } from './source.ts';

interface Wrong {
  readonly pointer: string;
  readonly message: string;
}

/** The same for a file that others extend: of it rules alone are looked at. */
export function checkShared(settings: Settings, source: Source): void {
  failWith(levelProblems(settings), source);
}

/** Fails with all of them at once. `services` are the names of all services, also where the folder's files name them. */
export function checkSettings(settings: Settings, source: Source, services: readonly string[]): void {
  const wrong = [
    ...serviceProblems(settings),
    ...levelProblems(settings),
    ...serviceNames(settings, services),
    ...expectationProblems(settings),
  ];
  failWith(wrong, source);
}

function failWith(wrong: readonly Wrong[], source: Source): void {
  if (wrong.length === 0) return;
  const places = locate(
    source,
    wrong.map((w) => w.pointer),
  );
  throw new InputFailure(wrong.map(({ pointer, message }) => ({ file: source.file, ...places.get(pointer), message })));
}

function serviceProblems({ services = [] }: Settings): readonly Wrong[] {
  return services.flatMap((s, i): readonly Wrong[] => {
    const at = appendPointer('/services', i);
    const first = services.findIndex((o) => o.name === s.name);
    return [
      ...(first < i
        ? [{ pointer: `${at}/name`, message: `a service named "${s.name}" is listed already; give each its own name` }]
        : []),
      ...(s.routes === undefined && s.document === undefined
        ? [{ pointer: at, message: `the service "${s.name}" names no file; expected routes: or document:, or both` }]
        : []),
    ];
  });
}

/** Rules that there are none of. */
function levelProblems({ levels = {}, levelsBelow = {} }: Settings): readonly Wrong[] {
  const below = Object.entries(levelsBelow).flatMap(([path, own]) =>
    unknownRules(own, appendPointer('/levelsBelow', path), RULE_IDS),
  );
  return [...unknownRules(levels, '/levels', [...RULE_IDS, ...Object.keys(CHANGE_RULES)]), ...below];
}

function unknownRules(levels: object, pointer: string, known: readonly string[]): readonly Wrong[] {
  return Object.keys(levels).flatMap((id) =>
    known.includes(id)
      ? []
      : [
          {
            pointer: appendPointer(pointer, id),
            message: `unknown rule "${id}"${nearest(id, known, 'elm-gate explain lists them')}`,
          },
        ],
  );
}

function serviceNames({ clients = [], expect = [] }: Settings, services: readonly string[]): readonly Wrong[] {
  const unknown = (name: string, pointer: string): readonly Wrong[] =>
    services.includes(name)
      ? []
      : [{ pointer, message: `unknown service "${name}"${nearest(name, services, `there are ${services.join(', ')}`)}` }];
  return [
    ...clients.flatMap((c, i) => (c.services ?? []).flatMap((name, k) => unknown(name, `/clients/${i}/services/${k}`))),
    ...expect.flatMap((e, i) => (e.service === undefined ? [] : unknown(e.service, `/expect/${i}/service`))),
  ];
}

function expectationProblems({ expect = [] }: Settings): readonly Wrong[] {
  return expect.flatMap(({ handler, status, parameters, allow, request }, i) =>
    [handler, status, parameters, allow].some((x) => x !== undefined)
      ? []
      : [
          {
            pointer: `/expect/${i}`,
            message: `nothing is expected of ${request}; write handler:, status:, parameters: or allow:`,
          },
        ],
  );
}

function nearest(found: string, known: readonly string[], otherwise: string): string {
  const near = suggest(found, known);
  return near === undefined ? `; ${otherwise}` : `; did you mean "${near}"?`;
}
