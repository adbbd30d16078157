import { RIDE_KINDS } from '@longheron/site/rides';
import { judgeRide } from './rides';

type Line = (what: string, value: string, target: string, good: boolean) => void;

const SEEDS = 5;
const WHAT = ['north', 'east', 'height', 'roll', 'pitch', 'heading'];

/** Rides with inertial units from the finest to the coarsest, drawn at random: others each time, or those of a seed. */
export function drawnRides(line: Line, seed = Math.floor(Math.random() * 1e6)): void {
  console.log(`Drawn rides with inertial units, ${SEEDS} of each kind, seed ${seed} …`);
  for (const kind of RIDE_KINDS) {
    const all = Array.from({ length: SEEDS }, (_, k) => judgeRide(kind, seed + k));
    const sum = (of: (f: (typeof all)[number]) => number) => all.reduce((s, f) => s + of(f), 0);
    const rows = sum((f) => f.rows);
    const grades = all.map((f) => f.told.grade).join(', ');
    const wrong = sum((f) => f.wrong);
    line(`Ride ${kind} (${grades}): wrong rows called fixed`, `${wrong} of ${rows}`, 'none', wrong === 0);
    const beyond = sum((f) => f.beyond);
    line(`Ride ${kind}: errors over five deviations`, String(beyond), 'none', beyond === 0);
    const over = WHAT.map((_, k) => Math.sqrt(sum((f) => f.shares[k]) / rows));
    line(
      `Ride ${kind}: error over deviation, N, E, D, roll, pitch, heading`,
      over.map((v) => v.toFixed(2)).join(', '),
      '0.7 to 1.4',
      over.every((v) => v >= 0.7 && v <= 1.4),
    );
  }
}
