import { stat } from 'node:fs/promises';
import { type Given } from '@longheron/contract/declare';
import { Problem, type Notice } from '@longheron/core/shared';
import { hashFile } from '@longheron/formats/bytes';

export const VERSION = '0.1.0';

export interface ReportInput {
  path: string;
  sha256: string;
  bytes: number;
}

/** What every operation reports: figures in SI units, keys in snake_case. */
export interface Report {
  command: string;
  version: string;
  seconds: number;
  inputs: ReportInput[];
  settings: Given;
  crs: string | null;
  notices: Notice[];
  [figure: string]: unknown;
}

/** Starts a report and its clock; `finish` adds figures and the time. */
export class ReportBuilder {
  private readonly started = performance.now();
  readonly notices: Notice[] = [];
  readonly inputs: ReportInput[] = [];

  constructor(
    private readonly command: string,
    private readonly settings: Given,
  ) {}

  async input(path: string): Promise<void> {
    const found = await stat(path).catch(() => undefined);
    if (found?.isDirectory())
      throw new Problem('This is a folder; a file is needed.', {
        code: 'file-kind',
        file: path,
        remedy: 'Name the file in it.',
      });
    this.inputs.push({ path, ...(await hashFile(path)) });
  }

  notice(notice: Notice): void {
    this.notices.push(notice);
  }

  finish(crs: string | null, figures: object): Report {
    return {
      command: this.command,
      version: VERSION,
      seconds: Number(((performance.now() - this.started) / 1000).toFixed(3)),
      inputs: this.inputs,
      settings: this.settings,
      crs,
      notices: this.notices,
      ...figures,
    };
  }
}
