import { existsSync } from 'node:fs';
import { basename, resolve } from 'node:path';
import * as Flags from '@oclif/core/flags';
import { FACTS } from '../core/routes/table/router-facts.ts';
import type { FolderSurvey } from '../files/folder-survey.ts';
import { fail } from '../files/problem.ts';
import type { Answers } from '../files/settings-text.ts';
import { GateCommand } from './base.ts';

/** The three questions that decide most: the values of each with what they mean, the default of the table first. */
const QUESTIONS = [
  {
    fact: 'precedence',
    asks: 'Two routes match one request. Which handles it?',
    choices: [
      ['first-declared', 'the one declared first'],
      ['most-specific', 'the one with the most specific pattern'],
      ['last-declared', 'the one declared last'],
    ],
  },
  {
    fact: 'noMethod',
    asks: 'The path exists, but not for this method. What is answered?',
    choices: [
      ['405', '405 Method Not Allowed'],
      ['404', '404 Not Found'],
    ],
  },
  {
    fact: 'types',
    asks: 'A pattern has a type, such as {id:int}. Where is it checked?',
    choices: [
      ['in-match', 'while routes are matched: another route may handle the request'],
      ['after-match', 'in the handler, which rejects the request'],
    ],
  },
] as const;

export default class Init extends GateCommand {
  static override summary = 'Write a first elm-gate.yaml, and a route table where there is none, from what this folder holds.';
  static override description =
    'Route tables, documents, printed listings, folders of route files and git tags are looked for. At a terminal three questions are asked; without one the defaults are taken. Nothing is written over.';
  static override examples = [
    { description: 'In the folder of a service', command: '<%= config.bin %> <%= command.id %>' },
    { description: 'Without questions', command: '<%= config.bin %> <%= command.id %> --yes' },
  ];
  static override flags = {
    yes: Flags.boolean({ summary: 'Ask nothing; take the defaults' }),
  };

  async run(): Promise<void> {
    const { flags } = await this.parse(Init);
    const { surveyFolder } = await import('../files/folder-survey.ts');
    const { firstFiles } = await import('../files/settings-text.ts');
    const { openSources } = await import('../files/sources.ts');
    const { SETTINGS_FILES } = await import('../files/discover.ts');
    const { initText } = await import('../views/init.ts');
    const cwd = process.cwd();
    const there = SETTINGS_FILES.find((file) => existsSync(file));
    if (there !== undefined)
      fail(there, 'the settings are there already, and nothing is written over; edit them, or run "elm-gate check"');
    const sources = openSources(cwd);
    const survey = surveyFolder(cwd, sources);
    if (survey.tables.length + survey.documents.length + survey.lists.length === 0)
      fail(
        '.',
        'no route table, OpenAPI document, printed list of routes or folder of route files was found here; "elm-gate import SOURCE" reads routes from anywhere else, and "elm-gate demo" shows an example',
      );
    const name = basename(resolve(cwd)).replace(/[^\w-]+/gu, '-') || 'service';
    const isAsked = !flags.yes && process.stdin.isTTY === true && process.stdout.isTTY === true && survey.lists.length > 0;
    const answers = isAsked ? await asked(survey) : {};
    const { settings, table } = firstFiles(survey, name, answers);
    if (table !== undefined && existsSync(table.file))
      fail(table.file, 'this file is there already, and nothing is written over');
    if (table !== undefined) this.put(table.text, table.file);
    this.put(settings, 'elm-gate.yaml');
    const assumed =
      table === undefined
        ? []
        : QUESTIONS.filter((q) => answers[q.fact] === undefined).map((q) => ({ ...q, value: FACTS[q.fact].values[0] }));
    this.put(initText(survey, table?.file, assumed, await this.terminal(undefined)), undefined);
  }
}

/** Each question with what was seen as its default. */
async function asked(survey: FolderSurvey): Promise<Answers> {
  const { select } = await import('@inquirer/prompts');
  const isTree = survey.lists[0]?.reading.look === 'a tree' || survey.lists[0]?.reading.style === 'bracket';
  const answers: Record<string, string> = {};
  for (const { fact, asks, choices } of QUESTIONS) {
    const values = choices.map(([value, name]) => ({ value: value as string, name }));
    const seen = fact === 'precedence' && isTree ? 'most-specific' : values[0]?.value;
    answers[fact] = await select({ message: asks, choices: values, default: seen });
  }
  return answers;
}
