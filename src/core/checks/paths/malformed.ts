import type { Flaw } from '../../routes/table/route.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const malformed: Rule = {
  id: 'paths/malformed',
  level: 'error',
  messages: {
    unreadable: "{route} can't be read and is left out: {problem}",
    pattern: '{route}: {problem}',
    'twice-named': '{route} has a name that another route has: {problem}',
    line: '{problem}',
    style: '{problem}',
  },
  advice: {
    unreadable: 'Correct the pattern; until then every other check ignores this route.',
    pattern: 'Correct the pattern.',
    line: 'Correct the line; it was read as far as possible.',
    style: 'Say the style of the table, or write the path in it; until then other checks leave it out.',
    'twice-named': 'Give it a name of its own, or say sharedNames: true when names stand for resources.',
  },
  meta: {
    what: 'A line that is no route, an unknown method, a path pattern that is not well formed or is written in another style, or a route name that is used twice.',
    why: 'Routers read such patterns differently: some refuse them, some drop a value, some match what nobody meant.',
    example:
      '- GET /basins//berths -> berths.list\n- GET /basins/{id}/berths/{id} -> berths.read     # one of the two values is lost',
    fix: 'Start with one slash, leave no segment empty, give each parameter of a pattern its own name and each route its own.',
  },
  check: (context) => context.router?.table.flaws.map(report) ?? [],
};

function report(flaw: Flaw): Found {
  const { message: problem, start, end } = flaw.error;
  const related = flaw.other === undefined ? [] : [{ role: 'has the name too', ...flaw.other }];
  return {
    message: flaw.kind,
    advice: flaw.kind,
    data: {
      route: flaw.route,
      problem,
      ...(flaw.kind === 'twice-named' || flaw.pattern === '' ? {} : { pattern: flaw.pattern, start, end }),
    },
    at: { place: flaw.place, what: flaw.route },
    related,
  };
}
