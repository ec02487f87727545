/** What the rules mean, for the terminal and as a page. */
import type { Rule } from '../core/checks/finding.ts';
import { type Terminal, wrap } from './terminal.ts';

/** What each family is about, in the order of the report. */
const FAMILIES: Readonly<Record<string, string>> = {
  paths: 'which route takes a request',
  types: 'what a parameter takes',
  methods: 'what is served against what is documented',
  media: 'in which format',
  versions: 'what changed, and what it breaks',
  document: 'what of a document cannot be read',
};

/** One rule: what it means, an example, how to mend it. */
export function ruleText(rule: Rule, terminal: Terminal): string {
  const { paint } = terminal;
  const part = (title: string, text: string): string => `${paint.bold(title)}\n${wrap(text, terminal, '  ')}`;
  const example = rule.meta.example.split('\n').map((line) => `  ${paint.cyan(line)}`);
  const head = `${paint.bold(rule.id)}  ${paint.dim(`${rule.level} unless levels: in the settings says otherwise`)}`;
  return `${[head, wrap(rule.meta.what, terminal), part('Why it hurts', rule.meta.why), `${paint.bold('Example')}\n${example.join('\n')}`, part('How to mend it', rule.meta.mend)].join('\n\n')}\n`;
}

/** All rules by family, a line each. */
export function rulesText(rules: readonly Rule[], terminal: Terminal): string {
  const { paint } = terminal;
  const width = Math.max(...rules.map((r) => r.id.length)) + 2;
  const blocks = byFamily(rules).map(([family, list]) => {
    const lines = list.map((r) => wrap(r.meta.what, terminal, `  ${paint.cyan(r.id.padEnd(width))}`, ' '.repeat(width + 2)));
    return `${paint.bold(family)}  ${paint.dim(FAMILIES[family] ?? '')}\n${lines.join('\n')}`;
  });
  return `${blocks.join('\n\n')}\n\n"elm-gate explain RULE" tells more about one.\n`;
}

/** docs/rules.md. */
export function rulesMarkdown(rules: readonly Rule[]): string {
  const parts = byFamily(rules).map(([family, list]) => {
    const sections = list.map(
      (r) =>
        `### ${r.id}\n\n${r.meta.what} (${r.level})\n\n**Why it hurts.** ${r.meta.why}\n\n\`\`\`yaml\n${r.meta.example}\n\`\`\`\n\n**How to mend it.** ${r.meta.mend}\n`,
    );
    return `## ${family}: ${FAMILIES[family] ?? ''}\n\n${sections.join('\n')}`;
  });
  return `# The rules\n\nMade from the rules themselves by \`npm run docs\`; \`elm-gate explain RULE\` prints the same.\n\n${parts.join('\n')}`;
}

function byFamily(rules: readonly Rule[]): readonly (readonly [string, readonly Rule[]])[] {
  const families = [...new Set(rules.map((r) => r.id.split('/')[0] as string))];
  return families.map((family) => [family, rules.filter((r) => r.id.startsWith(`${family}/`))]);
}
