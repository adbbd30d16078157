import { Random } from '@longheron/core/numeric';
import { FINEST_M, patchesOf, registerScans, Voxels, type ScanPatches } from '@longheron/core/terrestrial';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;
const SCANS = 6;
const POINTS = 5_000_000;
const BATCH = 1 << 16;
const DEG = Math.PI / 180;

/** Walls about a street, as corner, bearing from x, length, height. */
const WALLS = Array.from({ length: 40 }, (_, k) => ({
  x: 3 * k - 20 + (k % 3),
  y: (k % 2 ? 1 : -1) * (6 + (k % 5)),
  turn: (k % 4) * 0.5 * Math.PI + 0.05 * (k % 3),
  longM: 3 + (k % 4),
  highM: 3 + (k % 3),
}));

/** Fills a batch with points that a scanner sees, in its frame. */
function fill(random: Random, at: readonly number[], bearing: number, columns: Float64Array[]): void {
  const [sb, cb] = [Math.sin(bearing), Math.cos(bearing)];
  for (let i = 0; i < BATCH;) {
    const e = random.between(-60, 40) * DEG;
    const t = random.between(0, 2 * Math.PI);
    const own = [Math.cos(e) * Math.sin(t), Math.cos(e) * Math.cos(t), Math.sin(e)];
    const [dx, dy] = [cb * own[0] + sb * own[1], -sb * own[0] + cb * own[1]];
    let range = own[2] < 0 ? -at[2] / own[2] : Infinity;
    for (const w of WALLS) {
      const [c, s] = [Math.cos(w.turn), Math.sin(w.turn)];
      const far = (-s * (w.x - at[0]) + c * (w.y - at[1])) / (-s * dx + c * dy);
      if (!(far > 0.5 && far < range)) continue;
      const along = c * (at[0] + far * dx - w.x) + s * (at[1] + far * dy - w.y);
      const high = at[2] + far * own[2];
      if (along >= 0 && along <= w.longM && high >= 0 && high <= w.highM) range = far;
    }
    if (range > 60) continue;
    const read = range + 0.003 * random.normal();
    for (let k = 0; k < 3; k++) columns[k][i] = read * own[k];
    i++;
  }
}

/** Six scans of five million points brought together by surfaces, from points in memory to poses. */
export function benchRegister(line: Line): void {
  const stands = Array.from({ length: SCANS }, (_, k) => [4 + 12 * k, 2 * (k % 2) - 1, 1.7]);
  const surfaces = new Map<string, ScanPatches>();
  let ms = 0;
  const stations = stands.map((at, k) => {
    const random = new Random(k + 1, 'bench scans');
    const bearing = random.between(0, 2 * Math.PI);
    const voxels = new Voxels(FINEST_M);
    const columns = [0, 1, 2].map(() => new Float64Array(BATCH));
    for (let n = 0; n < POINTS; n += BATCH) {
      fill(random, at, bearing, columns);
      const started = performance.now();
      voxels.add(columns[0], columns[1], columns[2]);
      ms += performance.now() - started;
    }
    const started = performance.now();
    surfaces.set(`s${k}`, patchesOf(voxels, true));
    ms += performance.now() - started;
    return {
      name: `s${k}`,
      atM: at.map((v, i) => v + (k && i < 2 ? 0.2 : 0)) as [number, number, number],
      sdM: [0.3, 0.3, 0.3] as [number, number, number],
      bearingRad: bearing + (k ? 3 * DEG : 0),
      sdBearingRad: 3 * DEG,
      rough: true,
    };
  });
  const started = performance.now();
  const found = registerScans({
    scans: stations.map((s) => s.name),
    seen: [],
    control: [],
    stations,
    levelSdRad: 0.003 * DEG,
    surfaces,
  });
  const s = (ms + performance.now() - started) / 1000;
  const off = Math.max(...found.scans.map((p, k) => Math.hypot(...p.atM.map((v, i) => v - stands[k][i]))));
  line(
    `${SCANS} scans of ${POINTS / 1e6} million points brought together by surfaces`,
    `${s.toFixed(1)} s, ${found.scans.length} placed, ${(1000 * off).toFixed(1)} mm off at most`,
    'under 90 s',
    s < 90 && found.scans.length === SCANS,
  );
}
