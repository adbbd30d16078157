import { type PointSet } from '@longheron/core/cloud';
import { type Mounting } from '@longheron/core/frames';
import { Placer, type LaserReturns, type PlacedPoints } from '@longheron/core/laser';
import {
  deliveredMounting,
  outages,
  processedTrajectory,
  recordReturns,
  trueMounting,
  type Head,
  type TrueReturns,
  HEADS,
} from '@longheron/site/drive';
import { SITE_ORIGIN_E, SITE_ORIGIN_N } from '@longheron/site/terrain';
import { system, noise, drive, options, trajectory, mountTrue } from './truth';

/** Takes rows of true returns. */
export function pick(truth: TrueReturns, rows: Int32Array): TrueReturns {
  const out = { ...truth, count: rows.length };
  for (const [key, column] of Object.entries(truth)) {
    if (!ArrayBuffer.isView(column)) continue;
    const values = column as Float64Array;
    const picked = new (values.constructor as Float64ArrayConstructor)(rows.length);
    for (let i = 0; i < rows.length; i++) picked[i] = values[rows[i]];
    Object.assign(out, { [key]: picked });
  }
  return out;
}

/** The mounting as a surveyor would hold it when the true one is `mountTrue`: off by the stated deviations. */
export function believedMounting(seed: number): Mounting {
  const errors = trueMounting(seed);
  const design = deliveredMounting();
  const out = deliveredMounting();
  for (const head of HEADS) {
    const s = out.sensors[head],
      t = mountTrue.sensors[head],
      e = errors.sensors[head],
      d = design.sensors[head];
    s.leverArmM = t.leverArmM.map((v, k) => v + e.leverArmM[k] - d.leverArmM[k]) as typeof s.leverArmM;
    s.boresightDeg = {
      roll: t.boresightDeg.roll + e.boresightDeg.roll,
      pitch: t.boresightDeg.pitch + e.boresightDeg.pitch,
      heading: t.boresightDeg.heading + e.boresightDeg.heading,
    };
  }
  return out;
}

export function placeAll(
  seed: number,
  of: Record<Head, TrueReturns>,
): { set: PointSet; truth: TrueReturns[]; placed: PlacedPoints[] } {
  const given = processedTrajectory(trajectory, outages(drive), seed);
  const mount = seed === options.seed ? deliveredMounting() : believedMounting(seed);
  const placed = HEADS.map((head, k) =>
    new Placer(given, system, mount.sensors[head], noise).place(recordReturns(of[head], seed + 10 * k) as LaserReturns),
  );
  const count = placed.reduce((s, p) => s + p.eastingM.length, 0);
  const origin: [number, number, number] = [SITE_ORIGIN_E + 140, SITE_ORIGIN_N + 320, 0];
  const set: PointSet = {
    count,
    origin,
    x: new Float64Array(count),
    y: new Float64Array(count),
    z: new Float64Array(count),
  };
  let at = 0;
  for (const p of placed)
    for (let i = 0; i < p.eastingM.length; i++, at++) {
      set.x[at] = p.eastingM[i] - origin[0];
      set.y[at] = p.northingM[i] - origin[1];
      set.z[at] = p.heightM[i] - origin[2];
    }
  return { set, truth: HEADS.map((h) => of[h]), placed };
}
