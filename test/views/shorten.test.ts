import fc from 'fast-check';
import { expect, test } from 'vitest';
import { shortened } from '../../src/views/shorten.ts';
import { widthOf } from '../../src/views/terminal.ts';

const segments = fc.array(fc.constantFrom('locks', '{lockId}', 'passages', '{passageId}', 'gates', 'notes', 'crew'), {
  minLength: 1,
  maxLength: 7,
});

test('shortened: any paths -> they fit, and those of one end stay apart', () => {
  fc.assert(
    fc.property(
      fc.uniqueArray(segments, { selector: (s) => s.join('/'), maxLength: 30 }),
      fc.integer({ min: 24, max: 60 }),
      (list, room) => {
        const texts = list.map((s) => `/${s.join('/')}`);
        const cut = shortened(texts, room);
        for (const text of texts) {
          expect(widthOf(cut.get(text) as string)).toBeLessThanOrEqual(room);
          if (widthOf(text) <= room) expect(cut.get(text)).toBe(text);
        }
        // Five cuts are tried: two texts look alike only where all of them do.
        const most = texts.filter((t) => widthOf(t) > room).length;
        if (most <= 2) expect(new Set(cut.values()).size).toBe(texts.length);
      },
    ),
  );
});
