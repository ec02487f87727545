/** What a change of whole operations can be. */
import type { ChangeRule } from './rule.ts';

export const OPERATION_RULES = {
  'versions/operation-added': {
    effect: 'compatible',
    what: 'An operation that the old version lacks.',
    why: 'Nobody is hurt; clients may want to know.',
    fix: 'Nothing.',
  },
  'versions/operation-removed': {
    effect: 'breaking',
    what: 'An operation that the new version lacks.',
    why: 'Clients that ask for it are answered 404 or 405.',
    fix: 'Keep serving it; mark it deprecated with a sunset first.',
  },
  'versions/operation-moved': {
    effect: 'breaking',
    what: 'An operation that stands at another path, known by its operationId.',
    why: 'The old path is answered 404.',
    fix: 'Serve the old path too, or redirect with 308 (RFC 9110, 15.4.9).',
  },
  'versions/slash-changed': {
    effect: 'breaking',
    what: 'The slash at the end of many paths came or went.',
    why: 'Every link and every client that has the old paths is answered 404, or redirected without its body.',
    fix: 'Serve both, or redirect with 308.',
  },
  'versions/operation-undecided': {
    effect: 'undecided',
    what: 'An operation that could not be compared, because the work of one run was used up.',
    why: 'Nothing is known of it.',
    fix: 'Compare it by itself, or make its schemas simpler.',
  },
  'versions/prefix-changed': {
    effect: 'breaking',
    what: 'All operations stand behind another base path.',
    why: 'Every request of old clients is answered 404.',
    fix: 'Serve both, or name the versions under versioning: where the prefix is one.',
  },
  'versions/server-changed': {
    effect: 'risky',
    what: 'A host that the document named is no longer among its servers.',
    why: 'Clients go on asking the old one.',
    fix: 'Keep serving the old host, or redirect (308), until clients have moved.',
  },
  'versions/deprecated': {
    effect: 'compatible or risky',
    what: 'An operation that is marked as deprecated now; risky where no sunset says until when it is served.',
    why: "Clients can't plan what nobody tells them.",
    fix: 'Name a sunset (RFC 8594).',
  },
  'versions/security-tightened': {
    effect: 'breaking',
    what: 'A way to prove who one is that was enough and is none any more.',
    why: 'Clients that prove themselves as before are answered 401 or 403.',
    fix: 'Keep accepting what was enough in this version.',
  },
  'versions/security-loosened': {
    effect: 'compatible',
    what: 'Less is needed than before.',
    why: 'Nobody is hurt.',
    fix: 'Nothing, if it was meant.',
  },
} as const satisfies Readonly<Record<string, ChangeRule>>;
