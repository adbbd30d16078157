import { WEEK_S } from '@longheron/core/time';
import { type ReferenceSystem } from '@longheron/core/frames';
import { type SonarFile } from '@longheron/formats/sonar';
import { findStrips, planDistanceM, type StripSettings, type Trajectory } from '@longheron/core/trajectory';

/** A line: straight enough, or a whole file. */
export interface SonarLine {
  id: number;
  file: string;
  startSow: number;
  endSow: number;
  lengthM: number;
  headingRad: number;
}

/**
 * Lines of a file: the file as it is when it holds one, else its straight pieces; what lies between them belongs to none.
 * @param first number of its first line. @param shift seconds of the week of the file less those of the path.
 */
export function linesOf(
  file: SonarFile,
  times: Float64Array,
  path: Trajectory,
  rules: StripSettings,
  first: number,
): SonarLine[] {
  const shift = (file.info.week - path.week) * WEEK_S;
  let [low, high] = [Infinity, -Infinity];
  for (const t of times) {
    if (t < low) low = t;
    if (t > high) high = t;
  }
  const part = between(path, low + shift, high + shift);
  const { name } = file;
  const whole = (): SonarLine => {
    const n = part.sow.length;
    let lengthM = 0;
    for (let i = 1; i < n; i++) lengthM += planDistanceM(part, i - 1, i);
    return { id: first, file: name, startSow: low, endSow: high, lengthM, headingRad: courseOf(part) };
  };
  if (part.sow.length < 3) return [{ id: first, file: name, startSow: low, endSow: high, lengthM: 0, headingRad: 0 }];
  const { strips } = findStrips(part, rules);
  if (strips.length < 2) return [whole()];
  return strips.map((s, k) => ({
    id: first + k,
    file: name,
    startSow: s.startSow - shift,
    endSow: s.endSow - shift,
    lengthM: s.lengthM,
    headingRad: s.headingRad,
  }));
}

/** Course from first to last epoch, radians from north. */
function courseOf({ latRad, lonRad }: Trajectory): number {
  const n = latRad.length - 1;
  const course = Math.atan2((lonRad[n] - lonRad[0]) * Math.cos(latRad[0]), latRad[n] - latRad[0]);
  return course < 0 ? course + 2 * Math.PI : course;
}

/** Rows a second in which lines are looked for. */
const LOOK_HZ = 10;

/** The path from one time to another, thinned to what lines need. */
function between(path: Trajectory, from: number, to: number): Trajectory {
  const rows: number[] = [];
  let last = -Infinity;
  for (let i = 0; i < path.sow.length; i++) {
    const t = path.sow[i];
    if (t < from || t > to || t - last < 0.999 / LOOK_HZ) continue;
    rows.push(i);
    last = t;
  }
  const pick = (v: Float64Array | undefined) => v && Float64Array.from(rows, (i) => v[i]);
  return {
    week: path.week,
    sow: pick(path.sow)!,
    latRad: pick(path.latRad)!,
    lonRad: pick(path.lonRad)!,
    hEllM: pick(path.hEllM)!,
    rollRad: pick(path.rollRad),
    pitchRad: pick(path.pitchRad),
    headingRad: pick(path.headingRad),
  };
}

/** The line of a time; 0 when it lies in none. */
export function lineAt(lines: readonly SonarLine[], sow: number): number {
  return lines.find((l) => sow >= l.startSow && sow <= l.endSow)?.id ?? 0;
}

/** The way of a line on the grid, a place every few metres. */
export function wayOf(path: Trajectory, { startSow, endSow }: SonarLine, system: ReferenceSystem): number[] {
  const out: number[] = [];
  const one = new Float64Array(3);
  for (let i = 0; i < path.sow.length; i++) {
    if (path.sow[i] < startSow || path.sow[i] > endSow) continue;
    system.project(path.latRad[i], path.lonRad[i], path.hEllM[i], one);
    const n = out.length;
    if (n && Math.hypot(one[0] - out[n - 2], one[1] - out[n - 1]) < 4) continue;
    out.push(one[0], one[1]);
  }
  return out;
}
