import { type SensorMounting } from '@longheron/core/frames';
import { type Matrix3 } from '@longheron/core/numeric';

const DEG = Math.PI / 180;

/**
 * How a body's axes lie in north, east, down: columns forward, right and down. The platform is turned as a person would
 * turn it: from level and north to its heading, the nose lifted by the pitch, the right side lowered by the roll.
 * Written out by itself, so that a wrong sign in placing would show against it.
 */
export function attitude(rollRad: number, pitchRad: number, headingRad: number): Matrix3 {
  // level: ahead (north, east), aside to its right, and straight down
  const aheadN = Math.cos(headingRad);
  const aheadE = Math.sin(headingRad);
  const asideN = -aheadE;
  const asideE = aheadN;
  // the nose goes up: what was straight down now leans ahead
  const up = Math.sin(pitchRad);
  const on = Math.cos(pitchRad);
  const floorN = up * aheadN;
  const floorE = up * aheadE;
  // the right side goes down, towards the floor
  const tip = Math.sin(rollRad);
  const flat = Math.cos(rollRad);
  const forward = [on * aheadN, on * aheadE, -up];
  const right = [flat * asideN + tip * floorN, flat * asideE + tip * floorE, tip * on];
  const down = [flat * floorN - tip * asideN, flat * floorE - tip * asideE, flat * on];
  return Float64Array.of(forward[0], right[0], down[0], forward[1], right[1], down[1], forward[2], right[2], down[2]);
}

/** How a sensor's axes lie in the body: turned as it is built in, then by what its maker missed. */
export function sensorAxes({ orientationDeg: built, boresightDeg: missed }: SensorMounting): Matrix3 {
  const inner = attitude(built.roll * DEG, built.pitch * DEG, built.heading * DEG);
  const outer = attitude(missed.roll * DEG, missed.pitch * DEG, missed.heading * DEG);
  const out = new Float64Array(9);
  for (let axis = 0; axis < 3; axis++)
    for (let k = 0; k < 3; k++) for (let j = 0; j < 3; j++) out[3 * k + axis] += outer[3 * k + j] * inner[3 * j + axis];
  return out;
}
