/** What the rules mean, for the terminal and as a page. */
import type { Rule } from '../core/checks/engine/rule.ts';
import type { ChangeRule } from '../core/compare/changes/rules/rule.ts';
import { type Terminal, wrap } from './terminal.ts';

/** What each family is about, in the order of the report. */
const FAMILIES: Readonly<Record<string, string>> = {
  paths: 'which route takes a request',
  types: 'what a parameter takes',
  methods: 'what is served against what is documented',
  media: 'in which format',
  versions: 'how versions live side by side',
  document: 'what of a document cannot be read',
};

/** One rule: what it means, an example, how to fix it. */
export function ruleText(rule: Rule, terminal: Terminal): string {
  const { paint } = terminal;
  const part = (title: string, text: string): string => `${paint.bold(title)}\n${wrap(text, terminal, '  ')}`;
  const example = rule.meta.example.split('\n').map((line) => `  ${paint.cyan(line)}`);
  const head = `${paint.bold(rule.id)}  ${paint.dim(`${rule.level} unless levels: in the settings says otherwise`)}`;
  return `${[head, wrap(rule.meta.what, terminal), part('Why it hurts', rule.meta.why), `${paint.bold('Example')}\n${example.join('\n')}`, part('How to fix it', rule.meta.fix)].join('\n\n')}\n`;
}

/** One change that compare tells of. */
export function changeText(id: string, { effect, what, why, fix }: ChangeRule, terminal: Terminal): string {
  const { paint } = terminal;
  const part = (title: string, text: string): string => `${paint.bold(title)}\n${wrap(text, terminal, '  ')}`;
  const head = `${paint.bold(id)}  ${paint.dim(`${effect}, as compare tells it`)}`;
  return `${[head, wrap(what, terminal), part('What it does to clients', why), part('What to do', fix)].join('\n\n')}\n`;
}

/** What compare tells of, by its id. */
export type ChangeRules = Readonly<Record<string, ChangeRule>>;

/** All rules by family, a line each, and all changes. */
export function rulesText(rules: readonly Rule[], changes: ChangeRules, terminal: Terminal): string {
  const { paint } = terminal;
  const ids = [...rules.map((r) => r.id), ...Object.keys(changes)];
  const width = Math.max(...ids.map((id) => id.length)) + 2;
  const line = (id: string, what: string): string =>
    wrap(what, terminal, `  ${paint.cyan(id.padEnd(width))}`, ' '.repeat(width + 2));
  const block = (family: string, about: string, lines: readonly string[]): string =>
    `${paint.bold(family)}  ${paint.dim(about)}\n${lines.join('\n')}`;
  const blocks = [
    ...byFamily(rules).map(([family, list]) =>
      block(
        family,
        FAMILIES[family] ?? '',
        list.map((r) => line(r.id, r.meta.what)),
      ),
    ),
    block(
      'compare',
      'what changed from one version to the next',
      Object.entries(changes).map(([id, { what }]) => line(id, what)),
    ),
  ];
  return `${blocks.join('\n\n')}\n\n"elm-gate explain RULE" tells more about one.\n`;
}

/** docs/rules.md. */
export function rulesMarkdown(rules: readonly Rule[], changes: ChangeRules): string {
  const parts = byFamily(rules).map(([family, list]) => {
    const sections = list.map(
      (r) =>
        `### ${r.id}\n\n${r.meta.what} (${r.level})\n\n**Why it hurts.** ${r.meta.why}\n\n\`\`\`yaml\n${r.meta.example}\n\`\`\`\n\n**How to fix it.** ${r.meta.fix}\n`,
    );
    return `## ${family}: ${FAMILIES[family] ?? ''}\n\n${sections.join('\n')}`;
  });
  const told = Object.entries(changes).map(
    ([id, { effect, what, why, fix }]) =>
      `### ${id}\n\n${what} (${effect})\n\n**What it does to clients.** ${why}\n\n**What to do.** ${fix}\n`,
  );
  const last = `## compare: what changed from one version to the next\n\n${told.join('\n')}`;
  return `# The rules\n\nMade from the rules themselves by \`npm run docs\`; \`elm-gate explain RULE\` prints the same.\n\n${[...parts, last].join('\n')}`;
}

function byFamily(rules: readonly Rule[]): readonly (readonly [string, readonly Rule[]])[] {
  const families = [...new Set(rules.map((r) => r.id.split('/')[0] as string))];
  return families.map((family) => [family, rules.filter((r) => r.id.startsWith(`${family}/`))]);
}
