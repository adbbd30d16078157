import { DEG } from '@longheron/core/frames';
import { SOLUTIONS, type Trajectory } from '@longheron/core/trajectory';
import { format } from '../format';
import about from './about';
import { TRAJECTORY_COLUMNS } from './columns';
import { inspectTrajectory } from './inspect';
import { openTrajectory } from './read';

export { TRAJECTORY_COLUMNS } from './columns';
export { openTrajectory, readTrajectory } from './read';

/** Writes the layout, in pieces of a few thousand lines. */
export function* trajectoryCsv(t: Trajectory): Generator<string> {
  let out = '';
  if (t.crs) out += `# crs: ${t.crs}\n`;
  if (t.epoch !== undefined) out += `# epoch: ${t.epoch}\n`;
  if (t.point) out += `# point: ${t.point}\n`;
  if (t.source) out += `# source: ${t.source}\n`;
  out += `${TRAJECTORY_COLUMNS.join(',')}\n`;
  const deg = (v: Float64Array | undefined, i: number, d: number) => (v ? (v[i] / DEG).toFixed(d) : '');
  const met = (v: Float64Array | undefined, i: number) => (v ? v[i].toFixed(4) : '');
  for (let i = 0; i < t.sow.length; i++) {
    const turn = Math.floor(t.sow[i] / 604800);
    out +=
      [
        t.week + turn,
        (t.sow[i] - turn * 604800).toFixed(6),
        (t.latRad[i] / DEG).toFixed(10),
        (t.lonRad[i] / DEG).toFixed(10),
        t.hEllM[i].toFixed(4),
        deg(t.rollRad, i, 5),
        deg(t.pitchRad, i, 5),
        deg(t.headingRad, i, 5),
        met(t.vnMps, i),
        met(t.veMps, i),
        met(t.vdMps, i),
        met(t.sdNM, i),
        met(t.sdEM, i),
        met(t.sdDM, i),
        deg(t.sdRollRad, i, 5),
        deg(t.sdPitchRad, i, 5),
        deg(t.sdHeadingRad, i, 5),
        t.solution ? SOLUTIONS[t.solution[i]] : '',
        t.satellites ? t.satellites[i] : '',
      ].join(',') + '\n';
    if ((i & 0xfff) === 0xfff) {
      yield out;
      out = '';
    }
  }
  yield out;
}

/** Trajectories with named columns. */
export default format({
  about,
  // what begins with labels or images are positions of something else
  sniff: (look) =>
    look.has('gps_sow', 'lat_deg') && !['label', 'image', 'cast'].includes(look.columns[0]) ? 'columns' : undefined,
  inspect: async (file, out) => inspectTrajectory(out, await openTrajectory(file.path, file.name)),
  open: openTrajectory,
});
