import { type RegisterFigures } from '@longheron/contract/kinds/parts/register';
import { type MapShape } from '../../../map/shapes';

/** Pairs of scans that differ by more are drawn as such, metres. */
const APART_M = 0.005;
const SOUND = '#0e5e66';
const WRONG = '#a8402e';

const widthOf = ({ points, pieces }: RegisterFigures['pairs'][number]) =>
  pieces && points === pieces ? Math.min(5, 1 + Math.sqrt(pieces) / 15) : Math.min(5, 0.5 + points / 2);

/** Stands with the way each looks, and what joins them, for the map. */
export function networkShapes(f: RegisterFigures, hovered: string | null): MapShape[] {
  const at = new Map(f.scans.map((s): [string, [number, number]] => [s.name, [s.x_m, s.y_m]]));
  const lines = f.pairs.flatMap((p): MapShape[] => {
    if (!at.has(p.a) || !at.has(p.b)) return [];
    const chosen = hovered === p.a || hovered === p.b;
    return [
      {
        kind: 'line',
        points: [at.get(p.a)!, at.get(p.b)!],
        colour: p.rms_m > APART_M ? WRONG : chosen ? '#c97a00' : SOUND,
        widthPx: widthOf(p),
      },
    ];
  });
  const targets = f.targets.map((t): MapShape => ({
    kind: 'point',
    points: [[t.x_m, t.y_m]],
    colour: t.control ? '#15262c' : '#7a4b8c',
    label: t.name,
  }));
  const stands = f.scans.map((s): MapShape => ({
    kind: 'point',
    points: [at.get(s.name)!],
    colour: SOUND,
    label: s.name,
  }));
  // names that come first stay where there is little room
  return [...lines, ...stands, ...targets];
}

/** One sentence on placed scans. */
export function verdict(f: RegisterFigures): { words: string; state: 'ok' | 'warn' } {
  if (f.unplaced?.length)
    return {
      words: `${f.unplaced.length} of ${f.unplaced.length + f.scans.length} scans are not placed`,
      state: 'warn',
    };
  if (f.rejected.length)
    return {
      words:
        f.rejected.length === 1 ? 'one error found and left out' : `${f.rejected.length} errors found and left out`,
      state: 'warn',
    };
  if (f.local) return { words: 'in the frame of the first scan: no places on the Earth', state: 'warn' };
  if (f.sigma0 === null || f.redundancy <= 0) return { words: 'nothing to spare: nothing is checked', state: 'warn' };
  return { words: 'residuals as their deviations allow', state: f.sigma0 < 1.5 ? 'ok' : 'warn' };
}
