import { type Mark } from './marks';
import { suspectList } from './suspectList';
import { median, normalisedMad } from '../numeric';
import { type Notice } from '../shared';

/** Marks already known, against which new ones are compared. */
export interface MarkContext {
  marks?: Mark[];
  /** Extent of the data so far: min E, min N, max E, max N, metres. */
  extent?: [number, number, number, number];
  /** Length of the unit of the project's system, metres. */
  metresPerUnit?: number;
  /** Geoid undulation at the site, to notice ellipsoidal heights. */
  undulationM?: number;
}

/** Heights besides its own against which that of a mark is held. */
const MIN_HEIGHTS = 5;

/** Findings on marks: exchanged coordinates, heights in feet, ellipsoidal heights, far outliers, doubles. */
export function suspectMarks(marks: Mark[], file: string, context: MarkContext = {}): Notice[] {
  const out: Notice[] = [];
  const others = [...(context.marks ?? []), ...marks];
  const extent = context.extent ?? extentOf(others);
  const margin = 5000;
  const inside = (e: number, n: number) =>
    !!extent && e > extent[0] - margin && e < extent[2] + margin && n > extent[1] - margin && n < extent[3] + margin;
  const notice = (
    mark: Mark,
    code: string,
    severity: Notice['severity'],
    text: string,
    effect: string,
    remedy: string,
  ) => out.push({ code, severity, file, place: `mark ${mark.name}`, text, effect, remedy });
  const codes = unknownCodes(marks);
  if (codes)
    out.push({
      code: 'mark-role-code',
      severity: 'warning',
      file,
      place: 'column of roles',
      text: `The roles are codes that say nothing here: ${codes}.`,
      effect: 'These marks have the role given to all that state none.',
      remedy: 'Give roles by code, below the list of marks.',
    });
  const whole = suspectList(marks, context.marks ?? [], file);
  if (whole) return [...out, whole];
  const near = neighbours(others);
  const heights = others.filter((m) => inside(m.eastingM, m.northingM)).map((m) => m.heightM);
  const middle = heights.length ? median(heights) : 0;
  const spread = heights.length ? Math.max(3, 8 * normalisedMad(heights)) : 0;
  for (const mark of marks) {
    if (!inside(mark.eastingM, mark.northingM)) {
      if (inside(mark.northingM, mark.eastingM) || (!extent && looksExchanged(mark)))
        notice(
          mark,
          'mark-exchanged',
          'error',
          `Easting and northing of mark ${mark.name} seem to be exchanged: ${mark.eastingM.toFixed(2)}, ${mark.northingM.toFixed(2)}.`,
          'Left as it is, the mark lies thousands of kilometres away.',
          'Exchange them, or leave the mark out.',
        );
      else if (extent)
        notice(
          mark,
          'mark-far',
          'warning',
          `Mark ${mark.name} lies more than ${margin / 1000} km from the rest.`,
          'It stretches the extent of the project.',
          'Check its coordinates, or set its role to unused.',
        );
      else if (looksExchanged(mark))
        notice(
          mark,
          'mark-exchanged',
          'error',
          `Easting and northing of mark ${mark.name} seem to be exchanged.`,
          'Left as it is, the mark lies far away.',
          'Exchange them, or leave the mark out.',
        );
      continue;
    }
    const { twin, rival } = near(mark);
    if (rival && !mark.leftOutReason)
      notice(
        mark,
        'mark-two-roles',
        'error',
        `Mark ${mark.name} is there to ${mark.role} and, as ${rival.name}, to ${rival.role} at the same place.`,
        'What was adjusted to a mark cannot be proven by it.',
        'Give both the same role, or leave one out.',
      );
    if (twin) {
      const feet = [0.3048, 1200 / 3937].some(
        (f) => Math.abs(mark.heightM * f - twin.heightM) < Math.max(0.1, Math.abs(twin.heightM) * 0.01),
      );
      if (feet && Math.abs(mark.heightM - twin.heightM) > 0.3) {
        notice(
          mark,
          'mark-feet',
          'error',
          `The height of mark ${mark.name}, ${mark.heightM.toFixed(3)} m, is that of the same mark in feet (${twin.heightM.toFixed(3)} m).`,
          `The mark would be ${(mark.heightM - twin.heightM).toFixed(2)} m too high.`,
          'Convert it from feet, or leave the mark out.',
        );
        continue;
      }
      if (Math.abs(mark.heightM - twin.heightM) > 0.05 || twin.name === mark.name)
        notice(
          mark,
          'mark-double',
          'warning',
          `Mark ${mark.name} is there already${Math.abs(mark.heightM - twin.heightM) > 0.05 ? `, ${Math.abs(mark.heightM - twin.heightM).toFixed(3)} m off in height` : ''}.`,
          'The same place would count twice.',
          'Leave one of them out.',
        );
    }
    if (heights.length > MIN_HEIGHTS) {
      const off = mark.heightM - middle;
      if (Math.abs(off) > spread) {
        if (context.undulationM !== undefined && Math.abs(off - context.undulationM) < spread)
          notice(
            mark,
            'mark-ellipsoidal',
            'error',
            `The height of mark ${mark.name} is about ${context.undulationM.toFixed(1)} m above the others: it looks ellipsoidal.`,
            'Its residual would be the geoid undulation.',
            'Reduce it by the geoid, or leave the mark out.',
          );
        else if (Math.abs(mark.heightM * 0.3048 - middle) < spread / 2)
          notice(
            mark,
            'mark-feet',
            'error',
            `The height of mark ${mark.name}, ${mark.heightM.toFixed(3)} m, stands out; as feet it would fit.`,
            'The mark would be far too high.',
            'Convert it from feet, or leave the mark out.',
          );
        else
          notice(
            mark,
            'mark-height',
            'warning',
            `The height of mark ${mark.name} differs from the others by ${off.toFixed(1)} m.`,
            'Its residual will stand out.',
            'Check it against its record.',
          );
      }
    }
  }
  return out;
}

/** Codes in place of roles, with how many marks have each. */
function unknownCodes(marks: Mark[]): string {
  const counts = new Map<string, number>();
  for (const m of marks) if (m.code) counts.set(m.code, (counts.get(m.code) ?? 0) + 1);
  return [...counts].map(([code, n]) => `${code} (${n})`).join(', ');
}

function looksExchanged(mark: Mark): boolean {
  return mark.eastingM > 1.2e6 && mark.northingM < 1e6 && mark.northingM > 1e5;
}

/** Extent of marks, leaving out those far from the median place. */
function extentOf(marks: Mark[]): [number, number, number, number] | undefined {
  if (marks.length < 3) return undefined;
  const e = median(marks.map((m) => m.eastingM)),
    n = median(marks.map((m) => m.northingM));
  const near = marks.filter((m) => Math.hypot(m.eastingM - e, m.northingM - n) < 50000);
  if (near.length < 2) return undefined;
  return [
    Math.min(...near.map((m) => m.eastingM)),
    Math.min(...near.map((m) => m.northingM)),
    Math.max(...near.map((m) => m.eastingM)),
    Math.max(...near.map((m) => m.northingM)),
  ];
}

/** How near two marks are the same place, and how near one place has two roles, metres. */
const TWIN_M = 0.5;
const RIVAL_M = 0.1;

/**
 * Of each mark the first other one of its name or place, and the first with the opposite role at its place: by names and
 * squares of the ground, so that long lists take no longer than they are long.
 */
function neighbours(others: Mark[]): (mark: Mark) => { twin: Mark | undefined; rival: Mark | undefined } {
  const places = new Map<string, number[]>();
  const names = new Map<string, number[]>();
  const put = (map: Map<string, number[]>, key: string, k: number) => {
    const list = map.get(key);
    if (list) list.push(k);
    else map.set(key, [k]);
  };
  const square = (v: number) => Math.floor(v / TWIN_M);
  others.forEach((m, k) => {
    put(places, `${square(m.eastingM)} ${square(m.northingM)}`, k);
    put(names, m.name, k);
  });
  return (mark) => {
    const [e, n] = [square(mark.eastingM), square(mark.northingM)];
    let twin = Infinity;
    let rival = Infinity;
    for (const k of names.get(mark.name) ?? []) if (others[k] !== mark) twin = Math.min(twin, k);
    for (let i = -1; i <= 1; i++)
      for (let j = -1; j <= 1; j++)
        for (const k of places.get(`${e + i} ${n + j}`) ?? []) {
          const m = others[k];
          if (m === mark) continue;
          const apart = Math.hypot(m.eastingM - mark.eastingM, m.northingM - mark.northingM);
          if (apart < TWIN_M) twin = Math.min(twin, k);
          const opposed = [m.role, mark.role].sort().join() === 'check,control';
          if (apart < RIVAL_M && opposed && !m.leftOutReason) rival = Math.min(rival, k);
        }
    return { twin: others[twin], rival: others[rival] };
  };
}
