import { METRES_PER, UNIT_SYMBOL, type LengthUnit } from '@longheron/core/frames';
import { csvCell } from '@longheron/formats/csv';
import { type MeasuredDto } from '@longheron/contract/api';

/** Values of each kind that are listed, with what they are: metres, square metres, degrees or percent. */
const COLUMNS: Array<[key: string, name: string, unit: 'm' | 'm2' | 'deg' | 'percent']> = [
  ['slopeM', 'slope', 'm'],
  ['planM', 'plan', 'm'],
  ['heightM', 'height', 'm'],
  ['bearingDeg', 'bearing', 'deg'],
  ['gradePercent', 'grade', 'percent'],
  ['sdSlopeM', 'sd_slope', 'm'],
  ['sdPlanM', 'sd_plan', 'm'],
  ['sdHeightM', 'sd_height', 'm'],
  ['spaceDeg', 'angle', 'deg'],
  ['planDeg', 'angle_plan', 'deg'],
  ['sdSpaceDeg', 'sd_angle', 'deg'],
  ['sdPlanDeg', 'sd_angle_plan', 'deg'],
  ['planM2', 'area_plan', 'm2'],
  ['surfaceM2', 'area_surface', 'm2'],
  ['perimeterM', 'perimeter', 'm'],
  ['sdPlanM2', 'sd_area_plan', 'm2'],
  ['aboveM', 'above_ground', 'm'],
  ['distanceM', 'from_plane', 'm'],
  ['rmsM', 'plane_rms', 'm'],
  ['tiltDeg', 'plane_tilt', 'deg'],
  ['sdM', 'sd', 'm'],
];

/** What was measured in clouds as CSV in the unit of the project; deviations are 1 SD. */
export function measuredCsv(list: MeasuredDto[], unit: LengthUnit, crs: string): string {
  const k = 1 / METRES_PER[unit];
  const u = UNIT_SYMBOL[unit];
  const shown = COLUMNS.filter(([key]) => list.some((m) => m.values[key] !== undefined && m.values[key] !== null));
  const factor = { m: k, m2: k * k, deg: 1, percent: 1 };
  const symbol = { m: u, m2: `${u}2`, deg: 'deg', percent: 'percent' };
  const header = ['name', 'kind', 'cloud', ...shown.map(([, name, what]) => `${name}_${symbol[what]}`), `points_${u}`];
  const rows = list.map((m) => {
    const value = (key: string, what: keyof typeof factor) => {
      const v = m.values[key];
      return typeof v === 'number' ? (v * factor[what]).toFixed(what === 'deg' || what === 'percent' ? 3 : 4) : '';
    };
    const places = m.points.map((p) => [p.eastingM, p.northingM, p.heightM].map((v) => (v * k).toFixed(3)).join(' '));
    const cells = [csvCell(m.name), m.kind, csvCell(m.cloud), ...shown.map(([key, , what]) => value(key, what))];
    return [...cells, places.join('; ')].join(',');
  });
  return [
    `# crs: ${crs}`,
    '# deviations are 1 SD; empty where the cloud states none',
    header.join(','),
    ...rows,
    '',
  ].join('\n');
}
