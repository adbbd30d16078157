import { adjustLines, type Adjustment } from '@longheron/core/laser';
import { findStrips, stripRulesFor } from '@longheron/core/trajectory';
import { parseSystem } from '@longheron/formats/crs';
import { drawFlightPlan, flyPlan, type Flight, type FlightPlan } from '@longheron/site/flights';

type Line = (what: string, value: string, target: string, good: boolean) => void;
const ANGLES = ['roll', 'pitch', 'heading'] as const;
const SEEDS = 20;
const FEW = 4;
const system = parseSystem('EPSG:25832+5773');

interface Flown {
  flight: Flight;
  a: Adjustment;
}

function adjusted(plan: FlightPlan): Flown {
  const flight = flyPlan(plan, system, [467_200, 6_215_300]);
  const a = adjustLines({
    trajectory: flight.trajectory,
    system,
    plan: findStrips(flight.trajectory, stripRulesFor(flight.trajectory)),
    control: [],
    heads: [
      {
        name: 'scanner',
        mounting: flight.mounting,
        noise: { rangeSdM: plan.rangeSdM, angleSdDeg: plan.angleSdDeg },
        count: flight.returns.sow.length,
        blocks: () => [flight.returns],
      },
    ],
    sought: { boresight: true, lever: false, shift: true, drift: true, range: false },
  });
  return { flight, a };
}

const rms = (v: readonly number[]) => Math.sqrt(v.reduce((s, x) => s + x * x, 0) / v.length);

/** Errors of solved angles over their deviations. */
function normalised({ flight, a }: Flown): Record<string, number> {
  const truth = flight.trueMounting.boresightDeg;
  const out: Record<string, number> = {};
  for (const name of ANGLES) {
    const p = a.parameters.find((q) => q.name === name)!;
    if (p.solved) out[name] = (p.correction - truth[name]) / p.sd;
  }
  return out;
}

/** RMS of differences of a line with the others. */
function ofLine(a: Adjustment, which: 'before' | 'after', line: number): number {
  const d = a[which].differences;
  const values: number[] = [];
  for (let i = 0; i < d.count; i++)
    if (a.pieces[d.first[i]].line === line || a.pieces[d.second[i]].line === line) values.push(d.differenceM[i]);
  return rms(values);
}

/** Flights drawn at random: boresight, honesty, disagreement, drift. */
export function drawnFlights(line: Line, seed = Math.floor(Math.random() * 1e6)): void {
  console.log(`Drawn flights, ${SEEDS} of six lines and one across, seed ${seed} …`);
  const crossing = Array.from({ length: SEEDS }, (_, k) => {
    const { flight, a } = adjusted(drawFlightPlan(seed + k, 'crossing'));
    const { after, parameters } = a;
    return { z: normalised({ flight, a }), sd: parameters.map((p) => p.sd), ratio: after.rmsM / after.noiseM };
  });
  const all = crossing.flatMap(({ z }) => Object.values(z));
  line('Flights: errors over deviations, pooled', rms(all).toFixed(2), '0.7 to 1.4', rms(all) > 0.7 && rms(all) < 1.4);
  const worst = Math.max(...all.map(Math.abs));
  line(
    'Flights: the largest of them',
    worst.toFixed(2),
    '<= 2.5, one in 20 above',
    all.filter((z) => Math.abs(z) > 2.5).length <= 3,
  );
  ANGLES.forEach((name, i) => {
    const sd = Math.max(...crossing.map((c) => c.sd[i]));
    const most = name === 'heading' ? 0.011 : 0.004;
    line(`Flights: largest deviation of ${name}`, `${sd.toFixed(4)}°`, `<= ${most}°`, sd <= most);
  });
  const ratio = Math.max(...crossing.map((c) => c.ratio));
  line('Flights: disagreement after, over its noise', ratio.toFixed(3), '<= 1.2', ratio <= 1.2);

  const oneWay = Array.from({ length: FEW }, (_, k) => adjusted(drawFlightPlan(seed + k, 'one way')));
  const held = oneWay.filter(({ a }) => a.parameters.find((p) => p.name === 'pitch')!.held === 'not determined').length;
  line('Flown one way: pitch is held', `${held} of ${FEW}`, 'all', held === FEW);
  const z = oneWay.flatMap((f) => Object.values(normalised(f)));
  line('Flown one way: errors of roll and heading', `${rms(z).toFixed(2)} deviations RMS`, '<= 1.6', rms(z) <= 1.6);

  const drifting = Array.from({ length: FEW }, (_, k) => {
    const plan = drawFlightPlan(seed + k, 'crossing');
    plan.drift = { line: 3, heightM: 0.03 };
    const { a } = adjusted(plan);
    return 1 - ofLine(a, 'after', 3) / ofLine(a, 'before', 3);
  });
  const least = Math.min(...drifting);
  line('Drifting line: differences with the others', `${(100 * least).toFixed(0)} % better`, '>= 80 %', least >= 0.8);
}
