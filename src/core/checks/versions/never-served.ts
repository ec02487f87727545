import type { Rule } from '../engine/rule.ts';

export const neverServed: Rule = {
  id: 'versions/never-served',
  level: 'warning',
  messages: { never: 'no route and no document is for version {id}, which the settings declare' },
  advice: { serve: 'Add routes for version {id}, or remove it from versions:.' },
  meta: {
    what: 'A version that the settings declare and that nothing serves.',
    why: 'Clients that ask for it get what answers every version, or nothing; a misspelt version looks like this too.',
    example:
      '# elm-gate.yaml\nversioning: { selector: header, name: Desk-Version, versions: [{ id: "1" }, { id: "4" }] }\n# routes\n- { route: GET /locks, handler: locks.list, version: "1" }',
    fix: 'Add a route for the version, or remove it from the settings until there is one.',
  },
  check: (context) => {
    const { unserved = [] } = context.service;
    return context
      .versions()
      .all.flatMap(({ id, place }) =>
        place === undefined || !unserved.includes(id)
          ? []
          : [{ message: 'never', advice: 'serve', data: { id }, at: { place, what: `version ${id}` } }],
      );
  },
};
