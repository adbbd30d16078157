import { Problem } from '@longheron/core/shared';
import { decodeText, splitCsv } from '../csv';

export const TARGET_KINDS = ['sphere', 'disc', 'corner'] as const;

/** A target in the frame of the scanner that saw it, metres. */
export interface ScanTarget {
  scan: string;
  target: string;
  atM: [number, number, number];
  /** 1 SD of each coordinate. */
  sdM: number;
  kind: (typeof TARGET_KINDS)[number];
}

const FARTHEST_M = 10_000;

/** Reads targets seen in scans, docs/formats/scan-targets.md. @throws Problem that names line and column. */
export function readScanTargets(bytes: Uint8Array, file: string): ScanTarget[] {
  const table = splitCsv(decodeText(bytes, file), file);
  const at = (name: string) => table.header.indexOf(name);
  const missing = ['scan', 'target', 'x_m', 'y_m', 'z_m', 'sd_m'].find((name) => at(name) < 0);
  if (missing)
    throw new Problem(`The column ${missing} is missing.`, {
      code: 'scan-targets-columns',
      file,
      place: 'header line',
      remedy: 'Targets seen in scans have the columns scan, target, x_m, y_m, z_m, sd_m and kind.',
    });
  const seen = new Set<string>();
  return table.rows.map((row, r) => {
    const cells = row.split(',').map((c) => c.trim());
    const cell = (name: string) => cells[at(name)] ?? '';
    const wrong = (name: string, what: string) =>
      new Problem(`${name} is "${cell(name)}": ${what}.`, {
        code: 'scan-targets-value',
        file,
        place: `line ${table.lineNumbers[r]}, column ${name}`,
        remedy: 'Correct the line.',
      });
    const [scan, target] = [cell('scan'), cell('target')];
    if (!scan) throw wrong('scan', 'a target is seen in a scan');
    if (!target) throw wrong('target', 'a target needs a name');
    const key = `${scan}\u0000${target}`;
    if (seen.has(key)) throw wrong('target', `${scan} has it already`);
    seen.add(key);
    const atM = ['x_m', 'y_m', 'z_m'].map((name) => {
      const v = cell(name) === '' ? Number.NaN : Number(cell(name));
      if (!(Math.abs(v) < FARTHEST_M)) throw wrong(name, 'no place in metres about a scanner');
      return v;
    }) as [number, number, number];
    const sdM = cell('sd_m') === '' ? Number.NaN : Number(cell('sd_m'));
    if (!(sdM > 0 && sdM < 1)) throw wrong('sd_m', 'deviations are metres above zero');
    const kind = (cell('kind') || 'sphere') as ScanTarget['kind'];
    if (!TARGET_KINDS.includes(kind)) throw wrong('kind', `known are ${TARGET_KINDS.join(', ')}`);
    return { scan, target, atM, sdM, kind };
  });
}
