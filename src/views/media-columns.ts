/** Names for the columns of media types, as short as they can be and still fit. */

export interface Column {
  readonly type: string;
  readonly label: string;
  /** With the space behind it. */
  readonly width: number;
}

const LONGEST = 14;

/** A column for each type, called by its subtype where that tells it apart, else by a letter; all by letters where room is short. */
export function columnsOf(types: readonly string[], room: number): readonly Column[] {
  const short = types.map(subtypeOf);
  const plain = types.map((type, i) => {
    const own = short[i] as string;
    return own.length <= LONGEST && short.indexOf(own) === short.lastIndexOf(own) ? own : letterOf(i, type);
  });
  const columns = placed(types, plain);
  return widthOfAll(columns) <= room
    ? columns
    : placed(
        types,
        types.map((type, i) => letterOf(i, type)),
      );
}

function placed(types: readonly string[], labels: readonly string[]): readonly Column[] {
  return types.map((type, i) => ({ type, label: labels[i] as string, width: (labels[i] as string).length + 2 }));
}

function widthOfAll(columns: readonly Column[]): number {
  return columns.reduce((sum, c) => sum + c.width, 0);
}

function subtypeOf(type: string): string {
  const [bare = '', parameters] = type.split(';', 2);
  const subtype = bare.trim().split('/')[1] ?? '';
  return parameters !== undefined || subtype === '*' ? type : subtype;
}

function letterOf(index: number, type: string): string {
  if (type === '*/*') return type;
  const letter = String.fromCharCode('a'.charCodeAt(0) + (index % 26));
  return index < 26 ? letter : `${letter}${Math.floor(index / 26)}`;
}
