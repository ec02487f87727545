/** What changed between two versions, and what it breaks. */

import { type Place, pointerKeys } from '../core/base/place.ts';
import { type Affected, type Change, EFFECTS, type Effect } from '../core/compare/changes/change.ts';
import type { Comparison } from '../core/compare/compare-contracts.ts';
import type { ClientProfile } from '../core/contract/resources/negotiated.ts';
import { chooseType, takesType } from '../core/media/media.ts';
import { isShortened, markedJson } from './marked-json.ts';
import { placeText } from './place-text.ts';
import { recordedText } from './recorded.ts';
import type { Locate } from './rendered.ts';
import { count, type Terminal, wrap } from './terminal.ts';
import { type Together, together } from './together.ts';
import { type Touched, touchedBy } from './touched.ts';

export interface ComparisonView {
  readonly comparison: Comparison;
  readonly names: readonly [string, string];
  readonly locate: Locate;
  /** What stands at the place of a change, in its file. */
  readonly contentOf: (place: Place) => unknown;
  /** Who calls the service. */
  readonly callers: readonly ClientProfile[];
  /** Compatible changes are told too. */
  readonly all: boolean;
}

/** The verdict first, then what breaks, by cause. */
export function comparisonText(view: ComparisonView, terminal: Terminal): string {
  const { comparison, all, names } = view;
  const { paint } = terminal;
  const { verdict, claimed, changes } = comparison;
  const bump =
    verdict === 'major'
      ? paint.red(paint.bold(verdict))
      : verdict === 'minor'
        ? paint.yellow(paint.bold(verdict))
        : paint.green(paint.bold(verdict));
  const counts = EFFECTS.map((e) => [e, changes.filter((c) => c.effect === e).length] as const).filter(([, n]) => n > 0);
  const claim = claimed === null ? '' : claimed === verdict ? ', as the version says' : `, and the version says ${claimed}`;
  const head = `${names[0]} -> ${names[1]}: ${bump}${claim}`;
  const total = counts.length === 0 ? 'Nothing changed for clients.' : `${counts.map(([e, n]) => `${n} ${e}`).join(', ')}.`;
  const shown = changes.filter((c) => all || c.effect !== 'compatible');
  const touched = touchedBy(({ method, path }) => `${method}${STICKS}${path}`);
  const hidden = changes.length - shown.length;
  const tail = [
    ...(comparison.weighed === undefined
      ? []
      : [
          `levels: in the settings weighs ${count(comparison.weighed, 'change')} otherwise than its rule does, or leaves it out.`,
        ]),
    ...(comparison.factsWithoutEffect ?? []).map(
      ({ fact, was, is }) =>
        `${fact} was ${was} and is ${is}: no request for these routes shows it, so it has no effect on them.`,
    ),
    ...(hidden > 0 ? [`${count(hidden, 'compatible change')} not shown; --all lists them.`] : []),
    ...(shown.some((c) => c.witness?.kind === 'value' && isShortened(c.witness.body, roomIn(terminal)))
      ? ['Long witnesses are shortened; --format json has them whole.']
      : []),
  ].map((text) => paint.dim(text));
  return `${[wrap(`${head}. ${total}`, terminal), ...together(shown, touched).map((t) => changeText(t, view, touched, terminal)), ...(tail.length === 0 ? [] : [tail.join('\n')])].join('\n\n')}\n`;
}

const INDENT = 12;
const LABEL = 9;
/** Longer witnesses are shortened to what matters. */
const MOST_LINES = 3;
/** A space at which no line ends. */
const STICKS = '\u00a0';
/** So many of what a change touches are named. */
const MOST_SHOWN = 6;

function badge(effect: Effect, { paint }: Terminal): string {
  const text = effect.padEnd(INDENT);
  if (effect === 'breaking') return paint.red(paint.bold(text));
  return effect === 'risky' ? paint.yellow(paint.bold(text)) : effect === 'undecided' ? paint.magenta(text) : paint.cyan(text);
}

function changeText({ first: change, also }: Together, view: ComparisonView, touched: Touched, terminal: Terminal): string {
  const { paint } = terminal;
  const pad = ' '.repeat(INDENT);
  const row = (label: string, text: string): string =>
    wrap(text, terminal, pad + paint.dim(label.padEnd(LABEL)), pad + ' '.repeat(LABEL));
  const { at } = change;
  const where = [
    at.part === 'routing' || at.part === 'document' ? '' : `${at.method} ${at.path}`,
    at.part === 'operation' ? '' : at.part === 'routing' ? '' : at.part,
    // What is answered now stands in the sentence already.
    at.part === 'routing' ? '' : (at.status ?? ''),
  ]
    .filter((t) => t !== '')
    .join(' ');
  const lines = [
    wrap(paint.bold(`${where === '' ? '' : `${where}: `}${change.message}`), terminal, badge(change.effect, terminal), pad),
  ];
  if (also.length > 0) lines.push(row('also', also.join(', ')));
  lines.push(row('rule', paint.dim(change.rule)));
  const place = (p: Place | undefined): string =>
    p === undefined ? '' : placeText({ file: p.file, line: undefined, column: undefined, ...view.locate(p) });
  if (change.old !== undefined) lines.push(row('was', paint.cyan(place(change.old))));
  if (change.new !== undefined) lines.push(row('is', paint.cyan(place(change.new))));
  if (change.witness !== undefined) lines.push(row('witness', witnessText(change, terminal)));
  if (change.undecided !== null) lines.push(row('because', `${change.undecided} stopped it`));
  const who = clientsOfCallers(change, view.callers);
  const touches = touched(change);
  if (touches.size > 1) {
    const more = touches.size > MOST_SHOWN ? ` and ${touches.size - MOST_SHOWN} more` : '';
    lines.push(row('touches', touches.first(MOST_SHOWN).join(', ') + more).replaceAll(STICKS, ' '));
  }
  if (change.recorded !== undefined) lines.push(row('traffic', recordedText(change.recorded)));
  if (who.length > 0) lines.push(row('clients', who.join(', ')));
  if (change.advice !== null) lines.push(row('advice', change.advice));
  return lines.join('\n');
}

function roomIn({ width }: Terminal): number {
  return MOST_LINES * (width - INDENT - LABEL);
}

/** One line of JSON with the part that matters marked. */
function witnessText({ at, witness, value }: Change, terminal: Terminal): string {
  const { paint } = terminal;
  if (witness === undefined) return '';
  if (witness.kind === 'request') {
    const headers = Object.entries(witness.headers).map(([name, text]) => `${name}: ${text}`);
    return paint.green([`${witness.method} ${witness.target}`, ...headers].join('  '));
  }
  // What is answered to it has a status.
  const isCall = (at.part === 'webhook' || at.part === 'callback') && at.status === null;
  const keys = pointerKeys(witness.lost ?? value ?? '');
  const mark = keys.length === 0 ? paint.green : (text: string): string => paint.bold(paint.underline(text));
  const body = markedJson(witness.body, keys, {
    plain: paint.green,
    mark,
    line: roomIn(terminal) / MOST_LINES,
    room: roomIn(terminal),
  });
  const end =
    witness.lost === undefined
      ? `fits the ${witness.validUnder} ${isCall ? at.part : witness.side}, not the ${witness.invalidUnder}`
      : `could come, and ${witness.lost} can't any more`;
  return `${body} ${end}`;
}

/** The clients of the settings that send or accept what is touched. */
export function clientsOfCallers({ at }: Change, callers: readonly ClientProfile[]): readonly string[] {
  if (at.media === null) return [];
  const { media, part } = at;
  return callers
    .filter((c) =>
      part === 'request' ? c.sends !== undefined && takesType([media], c.sends) : chooseType(c.accept, [media]) !== undefined,
    )
    .map((c) => c.name);
}

/**
 * The changes as JSON, piece by piece: thousands of changes may touch thousands of operations each, and the whole may be
 * longer than a text can be. What one change touches stands one on a line.
 */
export function* comparisonJson({ comparison, locate }: Pick<ComparisonView, 'comparison' | 'locate'>): Generator<string> {
  const { verdict, claimed, changes, factsWithoutEffect } = comparison;
  const touches = touchesText();
  yield `{\n${members({ verdict, claimed, ...(factsWithoutEffect === undefined ? {} : { factsWithoutEffect }) }, 2)},\n  "changes": [`;
  for (const [i, c] of changes.entries()) {
    yield `${i === 0 ? '' : ','}\n    {\n${members(changeHead(c, locate), 6)},\n      "affects": [`;
    yield* touches(c);
    const traffic = c.recorded === undefined ? {} : { traffic: c.recorded };
    yield `\n      ],\n${members({ witness: c.witness ?? null, undecided: c.undecided, ...traffic }, 6)}\n    }`;
  }
  yield `${changes.length === 0 ? '' : '\n  '}]\n}\n`;
}

function changeHead(c: Change, locate: Locate): object {
  const place = (p: Place | undefined): object | null =>
    p === undefined
      ? null
      : { file: p.file, line: locate(p)?.line ?? null, column: locate(p)?.column ?? null, pointer: p.pointer };
  return {
    rule: c.rule,
    effect: c.effect,
    operation: { method: c.at.method, path: c.at.path },
    part: c.at.part,
    status: c.at.status,
    media: c.at.media,
    parameter: c.parameter,
    value: c.value,
    message: c.message,
    advice: c.advice,
    old: place(c.old),
    new: place(c.new),
  };
}

/** The members of an object as they stand inside another. */
function members(value: object, indent: number): string {
  return JSON.stringify(value, null, 2).slice(2, -2).replaceAll(/^ {2}/gmu, ' '.repeat(indent));
}

/** Lists are shared by many changes, and written once. */
function touchesText(): (change: Change) => Generator<string> {
  const known = new Map<readonly Affected[], string>();
  const text = (list: readonly Affected[]): string => {
    const done = known.get(list) ?? list.map(affectedText).join(',');
    known.set(list, done);
    return done;
  };
  return function* ({ touches }) {
    let first = true;
    for (const list of touches) {
      if (list.length === 0) continue;
      if (!first) yield ',';
      yield text(list);
      first = false;
    }
  };
}

function affectedText({ method, path, part, status, media }: Affected): string {
  return `\n        ${JSON.stringify({ method, path, part, status, media })}`;
}
