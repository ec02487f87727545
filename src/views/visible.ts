/** Text of an input made safe for a terminal: no control character of it gets there. */

/** C0 and C1 controls but tab and line feed, DEL, and marks that turn the direction of writing. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for
const UNSAFE = /[\u0000-\u0008\u000b-\u001f\u007f-\u009f\u200e\u200f\u202a-\u202e\u2066-\u2069\ufeff]/gu;

/** Every control character as JSON writes it: `\u001b`. So JSON stays JSON. */
export function visible(text: string): string {
  return text.replace(UNSAFE, (char) => `\\u${char.charCodeAt(0).toString(16).padStart(4, '0')}`);
}

/** The most characters of one text that are printed for people; JSON has it whole. */
export const MOST_TEXT = 4_000;

/** A text of bounded length: where it is too long its middle is left out, and it says how much. */
export function bounded(text: string, most = MOST_TEXT): string {
  if (text.length <= most) return text;
  const end = Math.floor(most / 4);
  const left = text.length - most;
  return `${text.slice(0, most - end).trimEnd()} … (${left} characters left out) … ${text.slice(text.length - end).trimStart()}`;
}

/** At the start of a line CI servers take these for commands to them. */
// biome-ignore lint/suspicious/noControlCharactersInRegex: a colour may stand before it
const COMMAND = /^((?:\s|\u001b\[\d+m)*)(?=::|##\[|##(?:vso|teamcity)\[)/gmu;

/** No line of it is a command to whoever shows it: a backslash stands before what would be one. */
export function harmless(text: string): string {
  return text.replace(COMMAND, '$1\\');
}

/** The colours that this program writes itself. */
const OWN_COLOURS = new Set(
  ['0', '1', '2', '4', '22', '24', '31', '32', '33', '34', '35', '36', '39'].map((n) => `\u001b[${n}m`),
);

/** A whole output: all of it visible but the program's own colours, where it writes any. */
export function safeOutput(text: string, isColoured: boolean): string {
  if (!isColoured) return harmless(visible(text));
  return harmless(
    text
      // biome-ignore lint/suspicious/noControlCharactersInRegex: these are what is looked for
      .split(/(\u001b\[\d+m)/u)
      .map((piece) => (OWN_COLOURS.has(piece) ? piece : visible(piece)))
      .join(''),
  );
}
