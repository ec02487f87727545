/** All that a change can be, in the order in which a request meets it. */

import { ANSWER_RULES } from './answers.ts';
import { CALL_RULES } from './calls.ts';
import { OPERATION_RULES } from './operations.ts';
import { PARAMETER_RULES } from './parameters.ts';
import { REQUEST_RULES } from './requests.ts';
import { TABLE_RULES } from './tables.ts';

export const CHANGE_RULES = {
  ...OPERATION_RULES,
  ...PARAMETER_RULES,
  ...REQUEST_RULES,
  ...ANSWER_RULES,
  ...CALL_RULES,
  ...TABLE_RULES,
} as const;

export type ChangeRuleId = keyof typeof CHANGE_RULES;
