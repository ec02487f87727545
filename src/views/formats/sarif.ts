/** SARIF 2.1.0 (OASIS), as code hosts and editors read it. */

import { percentEncoded } from '../../core/base/percent.ts';
import { ruleOf } from '../../core/checks/index.ts';
import { CHANGE_RULES, type ChangeRuleId } from '../../core/compare/changes/rules/index.ts';
import type { Item, ItemReport } from '../items.ts';
import type { Located } from '../place-text.ts';

/** The whole log, indented by two. O(items). */
export function sarif({ version, items }: ItemReport): string {
  const ids = [...new Set(items.map((i) => i.rule))].sort();
  const log = {
    $schema: 'https://json.schemastore.org/sarif-2.1.0.json',
    version: '2.1.0',
    runs: [
      {
        tool: { driver: { name: 'Elm Gate', semanticVersion: version, rules: ids.map(ruleObject) } },
        columnKind: 'unicodeCodePoints',
        results: items.map((item) => result(item, ids.indexOf(item.rule))),
      },
    ],
  };
  return `${JSON.stringify(log, null, 2)}\n`;
}

function ruleObject(id: string): object {
  const rule = ruleOf(id);
  const change: Record<'what' | 'why' | 'fix', string> | undefined = Object.hasOwn(CHANGE_RULES, id)
    ? CHANGE_RULES[id as ChangeRuleId]
    : undefined;
  const { what = id, why = '', fix = '' } = rule?.meta ?? change ?? {};
  return {
    id,
    shortDescription: { text: what },
    ...(why === '' ? {} : { fullDescription: { text: why } }),
    help: { text: [what, why, fix].filter((t) => t !== '').join(' ') },
    ...(rule === undefined ? {} : { defaultConfiguration: { level: rule.level } }),
  };
}

function result(item: Item, ruleIndex: number): object {
  const { rule, level, message, at, related, witness, advice, group, fingerprint, state } = item;
  const said = [message, witness === '' ? '' : `Witness: ${witness}`, advice].filter((t) => t !== '');
  return {
    ruleId: rule,
    ruleIndex,
    level,
    message: { text: said.join('\n') },
    locations: at === undefined ? [] : [location(at)],
    ...(related.length === 0
      ? {}
      : { relatedLocations: related.map((r, id) => ({ id, message: { text: `${r.role}: ${r.what}` }, ...location(r) })) }),
    ...(fingerprint === undefined ? {} : { partialFingerprints: { 'elmGate/v1': fingerprint } }),
    ...(state === undefined ? {} : { baselineState: state }),
    properties: { group, witness, advice },
  };
}

function location({ file, line, column, what }: Located): object {
  const region =
    line === undefined ? {} : { region: { startLine: line, ...(column === undefined ? {} : { startColumn: column }) } };
  return {
    physicalLocation: { artifactLocation: { uri: uriOf(file) }, ...region },
    ...(what === '' ? {} : { logicalLocations: [{ fullyQualifiedName: what }] }),
  };
}

/** A relative reference (RFC 3986, 4.2): a colon in its first segment would be a scheme. */
function uriOf(file: string): string {
  return file.replaceAll('\\', '/').split('/').map(percentEncoded).join('/');
}
