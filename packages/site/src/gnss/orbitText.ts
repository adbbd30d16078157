import { satelliteOffsetM } from './antennas';
import { siteOrbit, type SiteSatellite } from './constellation';
import { dateOf, f } from './rinexText';

const LIGHT = 299792458;
const STEP_S = 300;

/** −2 r·v / c² from places half a second apart: what users of tables take out of a clock. */
function relativityS(s: SiteSatellite, sow: number): number {
  const [a, b] = [new Float64Array(4), new Float64Array(4)];
  siteOrbit(s, sow - 0.5, a);
  siteOrbit(s, sow + 0.5, b);
  // r·dr/dt is half the change of r²: the turn of the axes does not matter
  const square = (p: Float64Array) => p[0] ** 2 + p[1] ** 2 + p[2] ** 2;
  return -(square(b) - square(a)) / LIGHT ** 2;
}

/**
 * Orbits and clocks as SP3-c, of centres of mass, every five minutes; clocks without relativity, as tables have them.
 */
export function orbitText(sky: SiteSatellite[], week: number, fromSow: number, toSow: number): string {
  const first = Math.floor(fromSow / STEP_S) * STEP_S;
  const count = Math.ceil((toSow - first) / STEP_S) + 1;
  const stamp = (sow: number) => {
    const { d, seconds } = dateOf(week, sow);
    const two = (v: number) => String(v).padStart(2);
    return `${d.getUTCFullYear()} ${two(d.getUTCMonth() + 1)} ${two(d.getUTCDate())} ${two(d.getUTCHours())} ${two(d.getUTCMinutes())} ${f(seconds, 11, 8)}`;
  };
  let out = `#cP${stamp(first)} ${String(count).padStart(7)} ORBIT IGS14 FIT DEMO\n`;
  out += `## ${String(week).padStart(4)} ${f(first, 15, 8)} ${f(STEP_S, 14, 8)} 61207 0.0000000000000\n`;
  const names = sky.map((s) => s.name);
  for (let k = 0; k < 5; k++) {
    const row = Array.from({ length: 17 }, (_, i) => names[17 * k + i] ?? '  0').join('');
    out += `+  ${k === 0 ? ` ${String(names.length).padStart(2)}   ` : '      '}${row}\n`;
  }
  for (let k = 0; k < 5; k++) out += `++       ${'  0'.repeat(17)}\n`;
  out += '%c M  cc GPS ccc cccc cccc cccc cccc ccccc ccccc ccccc ccccc\n';
  out += '%c cc cc ccc ccc cccc cccc cccc cccc ccccc ccccc ccccc ccccc\n';
  out += '%f  1.2500000  1.025000000  0.00000000000  0.000000000000000\n'.repeat(2);
  out += '%i    0    0    0    0      0      0      0      0         0\n'.repeat(2);
  out += '/* made up\n'.repeat(4);
  const orbit = new Float64Array(4);
  for (let k = 0; k < count; k++) {
    const sow = first + k * STEP_S;
    out += `*  ${stamp(sow)}\n`;
    for (const s of sky) {
      siteOrbit(s, sow, orbit);
      const r = Math.hypot(orbit[0], orbit[1], orbit[2]);
      const away = 1 + satelliteOffsetM(s) / r;
      const clock = orbit[3] - relativityS(s, sow);
      const xyz = [0, 1, 2].map((i) => f((orbit[i] * away) / 1000, 14, 6)).join('');
      out += `P${s.name}${xyz}${f(clock * 1e6, 14, 6)}\n`;
    }
  }
  return `${out}EOF\n`;
}
