import { SESSION_KINDS, type SessionKind } from '@longheron/site/sessions';
import { judgeSession, type SessionFigures } from './sessions';

type Line = (what: string, value: string, target: string, good: boolean) => void;

const SEEDS = 5;
/** Kinds under an open sky, where nearly all epochs must be fixed. */
const OPEN: SessionKind[] = ['open', 'gps', 'galileo', 'south', 'north', 'older', 'jumps'];

/** Sessions drawn at random all over the world: another one each time, or those of a seed. */
export function drawnSessions(line: Line, seed = Math.floor(Math.random() * 1e6)): void {
  console.log(`Drawn sessions, ${SEEDS} of each kind, seed ${seed} …`);
  for (const kind of SESSION_KINDS) {
    const all = Array.from({ length: SEEDS }, (_, k) => judgeSession(kind, seed + k));
    const sum = (of: (f: SessionFigures) => number) => all.reduce((s, f) => s + of(f), 0);
    const share = sum((f) => f.fixed) / sum((f) => f.epochs);
    const least = Math.min(...all.map((f) => f.fixed / f.epochs));
    const percent = (v: number) => `${(100 * v).toFixed(1)} %`;
    const wrong = sum((f) => f.wrong);
    line(`Session ${kind}: wrong integers`, `${wrong} of ${sum((f) => f.fixed)}`, 'none', wrong === 0);
    if (OPEN.includes(kind))
      line(`Session ${kind}: fixed (least ${percent(least)})`, percent(share), '>= 97 %', share >= 0.97);
    if (kind === 'oneband') {
      const float = Math.sqrt(sum((f) => f.floatM ** 2) / SEEDS);
      line(`Session ${kind}: float after 5 minutes`, `${float.toFixed(3)} m RMS`, '<= 0.3 m', float <= 0.3);
      const beyond = sum((f) => f.beyond);
      line(`Session ${kind}: errors over five deviations`, String(beyond), 'none', beyond === 0);
    }
    if (kind === 'long') {
      const late = sum((f) => f.lateFixed) / SEEDS;
      const rms = (of: (f: SessionFigures) => number) =>
        Math.sqrt(sum((f) => of(f) ** 2 * f.fixed) / sum((f) => f.fixed));
      const [plan, height] = [rms((f) => f.planM), rms((f) => f.heightM)];
      line('Session long (28 km): fixed after 15 minutes', percent(late), '>= 80 %', late >= 0.8);
      line('Session long: plan RMS', `${(1000 * plan).toFixed(1)} mm`, '<= 30 mm', plan <= 0.03);
      line('Session long: height RMS', `${(1000 * height).toFixed(1)} mm`, '<= 60 mm', height <= 0.06);
    }
    if (kind === 'rough') {
      const float = Math.sqrt(sum((f) => f.floatM ** 2) / SEEDS);
      line('Session rough (28 km): what is not fixed', `${float.toFixed(3)} m RMS`, '<= 0.15 m', float <= 0.15);
    }
    const ratio = (of: (f: SessionFigures) => [number, number]) =>
      Math.sqrt(sum((f) => of(f)[0]) / sum((f) => of(f)[1]));
    const stated = ratio((f) => f.fixedShare);
    line(
      `Session ${kind}: error over stated deviation`,
      stated.toFixed(2),
      '0.7 to 1.4',
      stated >= 0.7 && stated <= 1.4,
    );
  }
}
