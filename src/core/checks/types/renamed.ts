import { slotsByPosition } from '../../contract/pairing/path-slots.ts';
import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const renamedParameter: Rule = {
  id: 'types/renamed',
  level: 'note',
  messages: {
    names: 'behind {shown} the same parameter is called {names}{more}',
  },
  advice: {
    one: 'Call it by one name; people and generated clients read two names as two things.',
  },
  meta: {
    what: 'One position of sibling paths with two parameter names.',
    why: 'Handlers read the wrong name, and clients get two methods where one was meant.',
    example: '- GET /vessels/{registration} -> vessels.read\n- GET /vessels/{vesselId}/passages -> passages.ofVessel',
    fix: 'Choose one of the names.',
  },
  check: (context) =>
    context.slots().flatMap((slots) =>
      slotsByPosition(slots).flatMap((group): Found[] => {
        const names = [...new Map(group.map((s) => [s.name, s])).values()];
        const languages = new Set(group.map((s) => s.language));
        const [first, ...others] = names;
        // Different types at one place are another finding.
        if (first === undefined || others.length === 0 || languages.size > 1) return [];
        return [
          {
            message: 'names',
            ...(context.service.tableIsDocument ? { together: first.place.file } : {}),
            advice: 'one',
            data: { shown: first.shown, names: names.map((s) => s.name).join(' and ') },
            at: { place: first.place, what: first.what },
            related: others.map((s) => ({ role: 'the other', place: s.place, what: s.what })),
          },
        ];
      }),
    ),
};
