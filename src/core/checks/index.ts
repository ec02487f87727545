/** All rules, in the order of the report: by family, in each the most serious first. */

import { grouped } from '../base/grouped.ts';
import { decide } from '../language/limits.ts';
import { malformedDocument } from './document/malformed.ts';
import { misspelt } from './document/misspelt.ts';
import { documentNames } from './document/names.ts';
import { neverFits } from './document/never-fits.ts';
import { nullable } from './document/nullable.ts';
import { reference } from './document/reference.ts';
import { refusedExample } from './document/refused-example.ts';
import { type Context, contextOf, type Service } from './engine/context.ts';
import { byLevel, type Finding, type Found, type Level } from './engine/finding.ts';
import type { Rule } from './engine/rule.ts';
import { clientMedia } from './media/client.ts';
import { defaultBetween } from './media/default-between.ts';
import { defaultDiffers } from './media/default-differs.ts';
import { errorShape } from './media/error-shape.ts';
import { noType } from './media/no-type.ts';
import { oneWay } from './media/one-way.ts';
import { patchFormat } from './media/patch-format.ts';
import { requestTypes } from './media/request-types.ts';
import { responseTypes } from './media/response-types.ts';
import { sameType } from './media/same-type.ts';
import { anyMethod } from './methods/any-method.ts';
import { basePath } from './methods/base-path.ts';
import { createAnswer } from './methods/create-answer.ts';
import { deprecation } from './methods/deprecation.ts';
import { errorInSuccess } from './methods/error-in-success.ts';
import { keyElsewhere } from './methods/key-elsewhere.ts';
import { listParameters } from './methods/list-parameters.ts';
import { looseSibling } from './methods/loose-sibling.ts';
import { lostKey } from './methods/lost-key.ts';
import { misplaced } from './methods/misplaced.ts';
import { missingMethod } from './methods/missing.ts';
import { names } from './methods/names.ts';
import { notSendable } from './methods/not-sendable.ts';
import { openWrite } from './methods/open-write.ts';
import { partialReplace } from './methods/partial-replace.ts';
import { sharedOperationId } from './methods/shared-operation-id.ts';
import { undocumentedStatus } from './methods/status.ts';
import { undocumented } from './methods/undocumented.ts';
import { unexpectedContent } from './methods/unexpected-content.ts';
import { unserved } from './methods/unserved.ts';
import { ambiguous } from './paths/ambiguous.ts';
import { claimedTwice } from './paths/claimed-twice.ts';
import { duplicate } from './paths/duplicate.ts';
import { hiddenByService } from './paths/hidden-by-service.ts';
import { malformed } from './paths/malformed.ts';
import { partlyShadowed } from './paths/partly-shadowed.ts';
import { refusedByHandler } from './paths/refused-by-handler.ts';
import { shadowed } from './paths/shadowed.ts';
import { strayMethod } from './paths/stray-method.ts';
import { swallowedSuffix } from './paths/swallowed-suffix.ts';
import { twinSpelling } from './paths/twin-spelling.ts';
import { unexpectedOutcome } from './paths/unexpected-outcome.ts';
import { badDefault } from './types/bad-default.ts';
import { clash } from './types/clash.ts';
import { inconsistent } from './types/inconsistent.ts';
import { optionalPath } from './types/optional-path.ts';
import { refusesDocumented } from './types/refuses-documented.ts';
import { renamedParameter } from './types/renamed.ts';
import { takesUndocumented } from './types/takes-undocumented.ts';
import { undeclaredParameter } from './types/undeclared.ts';
import { unusedParameter } from './types/unused.ts';
import { defaultInPath } from './versions/default-in-path.ts';
import { dropped } from './versions/dropped.ts';
import { mixedSelectors } from './versions/mixed-selectors.ts';
import { neverServed } from './versions/never-served.ts';
import { noSunset } from './versions/no-sunset.ts';
import { selectorDiffers } from './versions/selector-differs.ts';
import { sunsetPassed } from './versions/sunset-passed.ts';
import { undeclaredVersion } from './versions/undeclared.ts';

export const RULES = [
  // paths: which route takes a request
  malformed,
  unexpectedOutcome,
  shadowed,
  duplicate,
  ambiguous,
  claimedTwice,
  hiddenByService,
  refusedByHandler,
  partlyShadowed,
  strayMethod,
  swallowedSuffix,
  twinSpelling,
  // types: what a parameter may be, here and there
  clash,
  refusesDocumented,
  undeclaredParameter,
  takesUndocumented,
  inconsistent,
  badDefault,
  unusedParameter,
  optionalPath,
  renamedParameter,
  // methods: what is served against what is documented
  basePath,
  unserved,
  undocumented,
  missingMethod,
  misplaced,
  keyElsewhere,
  lostKey,
  notSendable,
  looseSibling,
  openWrite,
  unexpectedContent,
  deprecation,
  names,
  createAnswer,
  partialReplace,
  errorInSuccess,
  undocumentedStatus,
  listParameters,
  anyMethod,
  sharedOperationId,
  // media: in which form
  clientMedia,
  requestTypes,
  responseTypes,
  defaultDiffers,
  defaultBetween,
  oneWay,
  noType,
  sameType,
  errorShape,
  patchFormat,
  // versions: which there are, and until when
  undeclaredVersion,
  selectorDiffers,
  defaultInPath,
  mixedSelectors,
  neverServed,
  dropped,
  sunsetPassed,
  noSunset,
  // document: what of it can't be read
  reference,
  malformedDocument,
  neverFits,
  nullable,
  documentNames,
  misspelt,
  refusedExample,
] as const satisfies readonly Rule[];

export const RULE_IDS: readonly string[] = RULES.map((r) => r.id);

/** The level that a rule is set to. */
export type Levels = Readonly<Record<string, Level | 'off'>>;

/** Runs every rule over a service. The most serious first, then in the order of the rules and of the files. */
export function check(service: Service, levels: Levels = {}): readonly Finding[] {
  const context: Context = contextOf(service);
  const findings = RULES.flatMap((rule: Rule): Finding[] => {
    const set = levels[rule.id];
    if (set === 'off') return [];
    const found = decide(() => rule.check(context));
    if (!found.decided) return [unfinished(rule, service, found.why)];
    return gathered(found.value).map((f) => ({
      ...f,
      rule: rule.id,
      level: set ?? f.level ?? rule.level,
      service: service.name,
    }));
  });
  return findings.sort(byLevel);
}

/** A rule that reached a limit as a whole says so, and the others go on. */
function unfinished(rule: Rule, { name, table, contracts }: Service, why: string): Finding {
  const place = table?.place ?? contracts[0]?.place ?? { file: '', pointer: '' };
  return {
    rule: rule.id,
    level: 'note',
    service: name,
    message: `not all of this rule could be decided: ${why} stopped it`,
    advice: '',
    data: {},
    at: { place, what: name },
    undecided: why,
  };
}

/** Those that belong together as one: the first, with the places of the others. */
function gathered(all: readonly Found[]): readonly Found[] {
  const groups = grouped(
    all.map((found, i) => ({ found, key: found.together === undefined ? `${i}` : `together ${found.together}` })),
    (f) => f.key,
  );
  return groups.map(([{ found }, ...others]): Found => {
    if (found.together === undefined) return { ...found, data: { more: '', ...found.data } };
    const { together, ...first } = found;
    return {
      ...first,
      // Whichever file it is in: files are renamed.
      group: (together as string).replaceAll(found.at.place.file, ''),
      data: { ...found.data, more: others.length === 0 ? '' : ` (and ${others.length} more)` },
      related: [...(found.related ?? []), ...others.map((o) => ({ role: 'the same', ...o.found.at }))],
    };
  });
}

/** The rule of an id. */
export function ruleOf(id: string): Rule | undefined {
  return RULES.find((r) => r.id === id);
}
