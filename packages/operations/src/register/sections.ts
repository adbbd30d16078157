import { type ScanSection, type SectionFile } from '@longheron/contract/kinds/parts/register';
import { type PairResidual, type Registered } from '@longheron/core/terrestrial';
import { type Vector3 } from '@longheron/core/numeric';
import { type ScanFrame } from './frame';
import { type PlacedBatch } from './points';

const HALF_M = 4;
const THICK_M = 0.2;
const MOST_SECTIONS = 60;
/** Points kept of each scan. */
const MOST_POINTS = 6000;

/** Points of pairs of scans in narrow upright slices, gathered as they are placed. */
export class Sections {
  private readonly all: Array<ScanSection & { seen: [number, number] }>;

  /** One for each pair, through where surfaces differ most, along the normal there; else midway between the scanners. */
  constructor(found: Registered, frame: ScanFrame) {
    const inGrid = (at: Vector3) => frame.toGrid(at);
    const of = (p: PairResidual) => {
      const scans = [p.a, p.b].map((n) => found.scans.find((s) => s.name === n));
      if (!scans[0] || !scans[1]) return [];
      const worst = p.surfaces?.worst;
      const [a, b] = scans.map((s) => s!.atM);
      const at = worst?.atM ?? ([0, 1, 2].map((k) => (a[k] + b[k]) / 2) as Vector3);
      const upright = worst && Math.hypot(worst.normal[0], worst.normal[1]) > Math.abs(worst.normal[2]);
      const along = upright ? worst.normal : [b[0] - a[0], b[1] - a[1], 0];
      const [from, to] = [at, [at[0] + along[0], at[1] + along[1], at[2]] as Vector3].map(inGrid);
      return [
        {
          a: p.a,
          b: p.b,
          easting_m: from[0],
          northing_m: from[1],
          height_m: from[2],
          bearing_rad: Math.atan2(to[0] - from[0], to[1] - from[1]),
          half_m: HALF_M,
          thick_m: THICK_M,
          off_m: worst?.offM ?? null,
          first: [],
          second: [],
          seen: [0, 0] as [number, number],
        },
      ];
    };
    this.all = found.pairs.flatMap(of).slice(0, MOST_SECTIONS);
  }

  /** Takes points of a scan that lie in any slice; of too many, every second, fourth, … is kept. */
  take(scan: string, { easting, northing, height }: PlacedBatch): void {
    for (const s of this.all) {
      if (s.a !== scan && s.b !== scan) continue;
      const side = s.a === scan ? 0 : 1;
      const out = side ? s.second : s.first;
      const [sin, cos] = [Math.sin(s.bearing_rad), Math.cos(s.bearing_rad)];
      for (let i = 0; i < easting.length; i++) {
        const [e, n] = [easting[i] - s.easting_m, northing[i] - s.northing_m];
        const across = e * cos - n * sin;
        if (across > THICK_M / 2 || across < -THICK_M / 2) continue;
        const along = e * sin + n * cos;
        if (along > HALF_M || along < -HALF_M) continue;
        const step = 1 << Math.floor(out.length / (2 * MOST_POINTS));
        if (s.seen[side]++ % step) continue;
        out.push(Math.round(1e4 * along) / 1e4, Math.round(1e4 * height[i]) / 1e4);
      }
    }
  }

  /** Sections that show both scans. */
  done(): SectionFile {
    const both = this.all.filter((s) => s.first.length && s.second.length);
    return { sections: both.map(({ seen: _, ...s }) => s) };
  }
}
