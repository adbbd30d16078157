import { type Watch } from '@longheron/core/shared';
import { type Report } from '@longheron/operations/shared/report';
import { type Options } from '../options';

export interface Outcome {
  report: Report;
  /** Lines for stdout. */
  lines: string[];
  /** Done, but out of tolerance or with errors not accepted. */
  failed?: boolean;
}

export type Command = {
  options: Record<string, 'string' | 'boolean'>;
  run(o: Options, watch: Watch): Promise<Outcome>;
};
