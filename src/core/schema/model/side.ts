/** Who sends the value: `readOnly` properties are no part of a request, `writeOnly` ones none of a response. */
export type Side = 'request' | 'response' | 'either';

/** Who reads a schema: a sender never sends such a property, to a taker it is as if it were not declared. */
export type Role = 'sent' | 'taken';

/**
 * How `oneOf` is counted: as it is written; as a sender means it, each form closed with what is declared beside it; or as
 * a receiver takes it, any form as written unless two closed ones fit.
 */
export type Count = 'written' | 'sent' | 'taken';
