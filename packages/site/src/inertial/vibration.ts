import { Random } from '@longheron/core/numeric';

const TONES = 12;
const FROM_HZ = 15;
const TO_HZ = 60;
/** Share of the vibration that an engine at rest makes. */
const IDLE = 0.25;
/** Speed at which it is whole, m/s. */
const FULL_SPEED_MPS = 8;

/** Vibration of the roof rack: tones of 15 to 60 Hz on each axis, by speed. */
export class Vibration {
  private readonly tones: Array<Array<{ hz: number; phase: number }>>;

  /** @param rmsMps2 at full speed. */
  constructor(
    seed: number,
    private readonly rmsMps2: number,
  ) {
    this.tones = [0, 1, 2].map((axis) => {
      const random = new Random(seed, `vibration ${axis}`);
      return Array.from({ length: TONES }, () => ({
        hz: random.between(FROM_HZ, TO_HZ),
        phase: random.between(0, 2 * Math.PI),
      }));
    });
  }

  /** Adds specific force, m/s², to values[at…at+2]. */
  add(t: number, speedMps: number, values: Float64Array, at: number): void {
    const size = this.rmsMps2 * (IDLE + (1 - IDLE) * Math.min(1, speedMps / FULL_SPEED_MPS)) * Math.sqrt(2 / TONES);
    for (let axis = 0; axis < 3; axis++) {
      let sum = 0;
      for (const { hz, phase } of this.tones[axis]) sum += Math.sin(2 * Math.PI * hz * t + phase);
      values[at + axis] += size * sum;
    }
  }
}
