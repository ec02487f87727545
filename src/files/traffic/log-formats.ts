/** The formats of logs that are read. */
export const LOG_FORMATS = ['access', 'jsonl', 'har'] as const;
export type LogFormat = (typeof LOG_FORMATS)[number];
