import { readFile } from 'node:fs/promises';
import { DEG } from '@longheron/core/frames';
import { format } from '../format';
import { readPhotoPositions } from '../photo-set';
import about from './about';

/** Two photographs nearer than this were taken from one place, metres. */
const SAME_M = 0.01;
const METRES_A_RADIAN = 6.37e6;

/** Lists that say where photographs were taken, as events or an adjustment write them. */
export default format({
  about,
  sniff: (look) =>
    ['label', 'image'].includes(look.columns[0]) && look.has('lat_deg', 'lon_deg', 'h_ell_m') ? 'columns' : undefined,
  async inspect({ path, name }, out) {
    const { rows, without, point, crs, oriented } = readPhotoPositions(await readFile(path), name);
    out.count = rows.length;
    out.details.push(
      ['Of', point ?? 'no named point'],
      ['Attitudes', oriented ? 'of the camera, adjusted' : rows.some((r) => r.rotation) ? 'given' : 'none'],
      ['Precision', rows.every((r) => r.sdM) ? 'given' : 'not given for all'],
    );
    if (without.length) out.details.push(['Without a position', String(without.length)]);
    const times = rows.flatMap((r) => r.gpsS ?? []);
    if (times.length) {
      out.startGps = times.reduce((a, b) => Math.min(a, b));
      out.endGps = times.reduce((a, b) => Math.max(a, b));
    }
    if (rows.length) {
      const of = (pick: (r: (typeof rows)[number]) => number) => {
        const all = rows.map(pick);
        return [all.reduce((a, b) => Math.min(a, b)), all.reduce((a, b) => Math.max(a, b))];
      };
      const [lon, lat, h] = [of((r) => r.lonRad / DEG), of((r) => r.latRad / DEG), of((r) => r.hEllM)];
      out.extent = { min: [lon[0], lat[0], h[0]], max: [lon[1], lat[1], h[1]], crs: 'geographic' };
      const span = Math.max(lon[1] - lon[0], lat[1] - lat[0]) * DEG * METRES_A_RADIAN;
      if (rows.length > 2 && span < SAME_M)
        out.findings.push({
          code: 'positions-same',
          severity: 'error',
          file: name,
          text: `All ${rows.length} photographs have one and the same position.`,
          effect: 'It is that of the launch, or of a receiver without a fix: it says nothing of the photographs.',
          remedy: 'Position the events of the camera with a trajectory, or orient the photographs by their ties alone.',
        });
    }
    const labels = new Set<string>();
    const twice = rows.filter((r) => labels.size === labels.add(r.image).size).map((r) => r.image);
    if (twice.length)
      out.findings.push({
        code: 'positions-twice',
        severity: 'warning',
        file: name,
        text: `${twice.length} photographs stand in the list twice, ${twice[0]} the first of them.`,
        effect: 'The last position of each counts.',
        remedy: 'Leave one of them out.',
      });
    if (!crs)
      out.findings.push({
        code: 'positions-crs',
        severity: 'info',
        file: name,
        text: 'The list does not name its frame.',
        effect: 'It is taken for that of the project.',
      });
  },
  open: async (path, name) => readPhotoPositions(await readFile(path), name),
});
