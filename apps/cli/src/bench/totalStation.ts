import { type ReferenceSystem } from '@longheron/core/frames';
import { adjustJob, reduceFaces } from '@longheron/core/terrestrial';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { totalStationRun, type RunPlan, type RunPoint } from '@longheron/site/totalStation';

type Line = (what: string, value: string, target: string, met: boolean | null) => void;
const STATIONS = 42;
const DETAILS = 60;

/** A ring of stations, each sighting its neighbours and the details before it. */
function ring(): RunPlan {
  const at = (name: string, turn: number, radiusM: number): RunPoint => ({
    name,
    x: 180 + radiusM * Math.sin(turn),
    y: 300 + radiusM * Math.cos(turn),
    heightM: 4 + 2 * Math.sin(5 * turn),
  });
  const turn = (k: number, of: number) => (2 * Math.PI * k) / of;
  const stations = Array.from({ length: STATIONS }, (_, k) => at(`S${k}`, turn(k, STATIONS), 260));
  const details = Array.from({ length: DETAILS }, (_, k) => at(`D${k}`, turn(k, DETAILS), 190 + 15 * (k % 3)));
  return {
    points: [...stations, ...details],
    sights: stations.map(({ name }, k) => [
      name,
      1.6,
      [
        `S${(k + STATIONS - 1) % STATIONS}`,
        `S${(k + 1) % STATIONS}`,
        ...Array.from({ length: 6 }, (_, j) => `D${(Math.round((k * DETAILS) / STATIONS) + j) % DETAILS}`),
      ],
    ]),
  };
}

/** About a thousand observations of a total station, adjusted with all that is looked for in them. */
export function benchTotalStation(system: ReferenceSystem, line: Line): void {
  const run = totalStationRun(3, 'medium', system, {}, ring());
  const readings = run.readings.map((r) => ({
    ...r,
    horizontalRad: (r.circleDeg * Math.PI) / 180,
    zenithRad: (r.zenithDeg * Math.PI) / 180,
  }));
  const { sightings } = reduceFaces({ readings });
  const control = run.points
    .filter((p) => /^S(0|14|28)$/.test(p.name))
    .map((p) => ({
      name: p.name,
      eastingM: SITE_ORIGIN_E + p.x,
      northingM: SITE_ORIGIN_N + p.y,
      heightM: p.heightM,
      sdM: [0.002, 0.002, 0.002] as const,
    }));
  const started = performance.now();
  const instrument = { angleRad: (0.0006 * Math.PI) / 180, distanceM: 0.0015, distanceShare: 2e-6 };
  const { adjustment } = adjustJob({ setUps: run.setUps, sightings, rough: [], control, instrument, system });
  const s = (performance.now() - started) / 1000;
  line(
    `${adjustment.observations.length} observations of a total station adjusted`,
    `${s.toFixed(2)} s, sigma nought ${Math.sqrt(adjustment.varianceFactor).toFixed(3)}`,
    'under 1 s',
    s < 1,
  );
}
