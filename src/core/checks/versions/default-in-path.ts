import type { Found } from '../engine/finding.ts';
import type { Rule } from '../engine/rule.ts';

export const defaultInPath: Rule = {
  id: 'versions/default-in-path',
  level: 'error',
  messages: {
    never: 'version {id} is the default, and a path that names no version is another path',
  },
  advice: { remove: 'Take default: away, or serve the routes without a version in their path too.' },
  meta: {
    what: 'A default version where versions stand in the path.',
    why: 'A request without a version in its path gets 404, whatever the settings say; somebody relies on the default.',
    example: 'versioning:\n  selector: path\n  default: "2"\n  versions: [{ id: "1" }, { id: "2" }]',
    fix: 'Declare the routes without a prefix, or choose another selector.',
  },
  check: ({ versions, service }) => {
    const { versioning } = versions();
    if (versioning?.selector !== 'path' || versioning.default === undefined || service.versionsAt === undefined) return [];
    const { file, pointer } = service.versionsAt;
    const at = { place: { file, pointer: `${pointer}/default` }, what: `default: ${versioning.default}` };
    return [{ message: 'never', advice: 'remove', data: { id: versioning.default }, at } satisfies Found];
  },
};
