/** Who sends the value: `readOnly` properties are no part of a request, `writeOnly` ones none of a response. */
export type Side = 'request' | 'response' | 'either';

/**
 * How a schema is read. `producer`: it describes what somebody sends, who declares every property that comes, and means one
 * branch of a union (each closed with what is declared beside it). `consumer`: it describes what somebody accepts, to whom
 * undeclared properties are welcome where they are not forbidden; more than one branch of `oneOf` may match unless two
 * closed ones do. `standard`: as JSON Schema says.
 */
export type Semantics = 'standard' | 'producer' | 'consumer';

/** One of the two ends of a message, where there is no standard reading. */
export type MessageEnd = Exclude<Semantics, 'standard'>;
