import { type Orbits, pointPosition, type Observations } from '@longheron/core/gnss';
import { Problem } from '@longheron/core/shared';

/** Rover and base must share some time. */
export function checkOverlap(
  rover: Observations,
  base: Observations,
  from: number,
  to: number,
  roverName: string,
  baseName: string,
): void {
  const shift = (base.week - rover.week) * 604800;
  const [b0, b1] = [base.sow[0] + shift, base.sow[base.sow.length - 1] + shift];
  const [r0, r1] = [rover.sow[from], rover.sow[to - 1]];
  if (b1 >= r0 && b0 <= r1) return;
  const hours = Math.round(((r0 + r1) / 2 - (b0 + b1) / 2) / 360) / 10;
  throw new Problem(
    `Rover and base do not overlap in time: the base lies ${Math.abs(hours)} h ${hours > 0 ? 'before' : 'after'} the rover.`,
    {
      code: 'position-no-overlap',
      file: baseName,
      place: `${b0} to ${b1} s of week ${rover.week}, the rover ${r0} to ${r1} s`,
      remedy: `Choose the base file of the time of ${roverName}.`,
    },
  );
}

/** Orbits must be valid at the rover's time. */
export function checkOrbits(rover: Observations, orbits: Orbits, from: number, to: number, files: string): void {
  const middle = (from + to) >> 1;
  const valid = orbits.satellites.filter((s) => orbits.sent(s, rover.week, rover.sow[middle]));
  if (valid.length >= 4) return;
  throw new Problem(`The navigation data have valid orbits of ${valid.length} satellites at the time of the rover.`, {
    code: 'position-navigation',
    file: files,
    remedy: 'Choose the navigation or orbit file of the same day and hours.',
  });
}

/** A base must stand still: places found from its codes at a few epochs may scatter, but not travel. */
export function checkMotion(base: Observations, orbits: Orbits, baseName: string, roverName: string): void {
  const places: Float64Array[] = [];
  for (let k = 0; k < 9; k++) {
    const p = pointPosition(base, Math.floor((k * (base.sow.length - 1)) / 8), orbits);
    if (p) places.push(p.xyzM);
  }
  const far = Math.max(0, ...places.map((p) => Math.hypot(...[0, 1, 2].map((k) => p[k] - places[0][k]))));
  if (far > 30)
    throw new Problem(`The base moves by ${far.toFixed(0)} m: rover and base may be exchanged.`, {
      code: 'position-base-moves',
      file: baseName,
      remedy: `Give ${baseName} as rover and ${roverName} as base, or choose another base.`,
    });
}
