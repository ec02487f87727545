/** The flags that name logs, and say how they are read. */
import * as Flags from '@oclif/core/flags';
import { LOG_FORMATS, type LogFormat } from '../files/traffic/log-formats.ts';

/** How logs are read. */
export const logFlags = {
  as: Flags.option({ options: LOG_FORMATS, summary: 'What the logs are, where it is not seen' })(),
  fields: Flags.string({ summary: 'Where the parts of a JSON record stand, such as method=req.method', helpValue: 'LIST' }),
  strip: Flags.string({ summary: 'A base path that a proxy takes off before the service', helpValue: 'PATH', default: '' }),
};

export const trafficFlags = {
  traffic: Flags.string({
    summary: 'Recorded requests to weigh by: an access log, JSON Lines or HAR; may be given more than once',
    helpValue: 'FILE',
    multiple: true,
    multipleNonGreedy: true,
  }),
  ...logFlags,
};

export interface LogFlags {
  readonly as?: LogFormat | undefined;
  readonly fields?: string | undefined;
  readonly strip: string;
}

export interface TrafficFlags extends LogFlags {
  readonly traffic?: readonly string[] | undefined;
}
