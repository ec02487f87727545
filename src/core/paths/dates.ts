/** Dates and times as languages (RFC 3339, section 5.6), leap years included. */
import { choice, type Expression, literal, oneOf, optional, repeat, sequence, span } from '../language/expression.ts';

const digit = span('0', '9');
const two = repeat(digit, 2, 2);

/** `2027-03-14`; a day that its month does not have is refused, 29 February outside leap years too. */
export function dateExpression(): Expression {
  const short = sequence(among('04', '06', '09', '11'), literal('-'), days(30));
  const long = sequence(among('01', '03', '05', '07', '08', '10', '12'), literal('-'), days(31));
  const february = sequence(literal('02-'), days(28));
  const common = sequence(two, two, literal('-'), choice(long, short, february));
  return choice(common, sequence(leapYear(), literal('-02-29')));
}

/** `2027-03-14T09:30:00Z`, with fractions and offsets; a leap second is taken. */
export function datetimeExpression(): Expression {
  return sequence(dateExpression(), oneOf([0x54, 0x54, 0x74, 0x74]), timeExpression());
}

/** `09:30:00Z`. */
export function timeExpression(): Expression {
  const clock = sequence(hour(), literal(':'), sixty(), literal(':'), choice(sixty(), literal('60')));
  const offset = sequence(oneOf([0x2b, 0x2b, 0x2d, 0x2d]), hour(), literal(':'), sixty());
  return sequence(clock, optional(sequence(literal('.'), repeat(digit, 1))), choice(oneOf([0x5a, 0x5a, 0x7a, 0x7a]), offset));
}

function among(...texts: readonly string[]): Expression {
  return choice(...texts.map((t) => literal(t)));
}

function days(last: 28 | 30 | 31): Expression {
  const all = Array.from({ length: last }, (_, i) => String(i + 1).padStart(2, '0'));
  return among(...all);
}

/** Divisible by 4, by 100 only with 400. */
function leapYear(): Expression {
  const fours = Array.from({ length: 25 }, (_, i) => String(i * 4).padStart(2, '0'));
  return choice(sequence(two, among(...fours.slice(1))), sequence(among(...fours), literal('00')));
}

function hour(): Expression {
  return choice(sequence(span('0', '1'), digit), sequence(literal('2'), span('0', '3')));
}

function sixty(): Expression {
  return sequence(span('0', '5'), digit);
}
