import { DEG } from '@longheron/core/frames';
import { Problem } from '@longheron/core/shared';
import { SOLUTIONS, type EventPose, type TimedEvent } from '@longheron/core/trajectory';
import { csvCell, decodeText, splitCsv } from '../csv';

/** Reads an event list, docs/formats/events.md. Every wrong value is named by line and column. */
export function readEvents(bytes: Uint8Array, file: string): TimedEvent[] {
  const table = splitCsv(decodeText(bytes, file), file);
  const at = (name: string) => table.header.indexOf(name);
  for (const name of ['gps_week', 'gps_sow'])
    if (at(name) < 0)
      throw new Problem(`The column ${name} is missing.`, {
        code: 'events-columns',
        file,
        place: 'header line',
        remedy: 'An event list has the columns gps_week, gps_sow and label.',
      });
  return table.rows.map((row, r) => {
    const cells = row.split(',');
    const number = (name: string): number => {
      const text = (cells[at(name)] ?? '').trim();
      const value = text === '' ? NaN : Number(text);
      if (!Number.isFinite(value))
        throw new Problem(`${name} is "${text}": not a number.`, {
          code: 'events-value',
          file,
          place: `line ${table.lineNumbers[r]}, column ${name}`,
          remedy: 'Correct the line, or export the events again.',
        });
      return value;
    };
    return { week: number('gps_week'), sow: number('gps_sow'), label: (cells[at('label')] ?? '').trim() };
  });
}

const HEADER =
  'label,gps_week,gps_sow,lat_deg,lon_deg,h_ell_m,roll_deg,pitch_deg,heading_deg,sd_n_m,sd_e_m,sd_d_m,sd_roll_deg,sd_pitch_deg,sd_heading_deg,solution';

/** Positions at events as CSV. @param point what the positions refer to. */
export function eventPositionsCsv(poses: EventPose[], point: string, crs: string, epoch?: number): string {
  const lines = [`# crs: ${crs}`, ...(epoch === undefined ? [] : [`# epoch: ${epoch}`]), `# point: ${point}`, HEADER];
  const degrees = (rad: number | undefined, digits: number) => (rad === undefined ? '' : (rad / DEG).toFixed(digits));
  for (const p of poses) {
    const a = p.attitude;
    const metres = [0, 1, 2].map((k) => (p.sdM ? p.sdM[k].toFixed(4) : ''));
    lines.push(
      [
        csvCell(p.event.label),
        p.event.week,
        p.event.sow.toFixed(6),
        degrees(p.latRad, 10),
        degrees(p.lonRad, 10),
        p.hEllM.toFixed(4),
        degrees(a?.rollRad, 5),
        degrees(a?.pitchRad, 5),
        degrees(a?.headingRad, 5),
        ...metres,
        ...[0, 1, 2].map((k) => degrees(p.attitudeSdRad?.[k], 5)),
        SOLUTIONS[p.solution],
      ].join(','),
    );
  }
  return `${lines.join('\n')}\n`;
}
