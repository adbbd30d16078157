import { type LengthUnit, METRES_PER, UNIT_NAME } from '../frames/units';
import { median } from '../numeric/statistics';
import { type Notice } from '../shared';
import { type Mark } from './marks';

interface Pair {
  mark: Mark;
  known: Mark;
}

/** US survey foot over international foot, less one. */
const FOOT_KINDS = METRES_PER.usSurveyFoot / METRES_PER.foot - 1;
/** Feet of two kinds show themselves by this much at least, and are told from other mistakes within the second, metres. */
const [MIN_KINDS_M, KINDS_WITHIN_M] = [0.3, 0.15];
/** Distances of a local list are those of the known marks within this share. */
const LOCAL_WITHIN = 0.01;
const FAR_M = 5000;

function pairsOf(marks: Mark[], known: readonly Mark[]): Pair[] {
  const plain = (m: Mark) => m.name.trim().toUpperCase();
  const byName = new Map(known.map((m) => [plain(m), m]));
  return marks.flatMap((mark) => {
    const twin = byName.get(plain(mark));
    return twin ? [{ mark, known: twin }] : [];
  });
}

/** Share by which coordinates of the marks are longer than those of the known ones. */
const stretch = (pairs: Pair[]) =>
  median(
    pairs.map(
      ({ mark, known }) => Math.hypot(mark.eastingM, mark.northingM) / Math.hypot(known.eastingM, known.northingM),
    ),
  );

/**
 * What is wrong with a list as a whole, by marks of it that are known under the same name: feet of the other kind, feet
 * read as metres, or coordinates of a local system; undefined where nothing of that shows. It stands for what would
 * otherwise be said of each of its marks.
 */
export function suspectList(marks: Mark[], known: readonly Mark[], file: string): Notice | undefined {
  const pairs = pairsOf(marks, known);
  if (pairs.length === 0) return undefined;
  return kindsOfFoot(pairs, file) ?? feetAsMetres(pairs, file) ?? localList(marks, pairs, file);
}

function kindsOfFoot(pairs: Pair[], file: string): Notice | undefined {
  for (const share of [FOOT_KINDS, -FOOT_KINDS]) {
    const off = ({ mark, known }: Pair, k: 'eastingM' | 'northingM') => mark[k] - known[k] * (1 + share);
    const all = pairs.every((p) => Math.hypot(off(p, 'eastingM'), off(p, 'northingM')) < KINDS_WITHIN_M);
    const byM = median(
      pairs.map(({ mark, known }) => Math.hypot(mark.eastingM - known.eastingM, mark.northingM - known.northingM)),
    );
    if (!all || byM < MIN_KINDS_M) continue;
    return {
      code: 'marks-foot-kind',
      severity: 'error',
      file,
      text: `Marks of this list lie ${byM.toFixed(2)} m from where they are known, as between the US survey foot and the international foot.`,
      effect: `Everything that rests on them would be ${byM.toFixed(2)} m off.`,
      remedy: 'Give the list its kind of foot: by the names of its columns (_ft, _ftus), or when columns are chosen.',
    };
  }
  return undefined;
}

function feetAsMetres(pairs: Pair[], file: string): Notice | undefined {
  const k = stretch(pairs);
  const feet = 1 / METRES_PER.foot;
  const [longer, shorter] = [Math.abs(k / feet - 1) < 1e-4, Math.abs(k * feet - 1) < 1e-4];
  if (!longer && !shorter) return undefined;
  return {
    code: 'marks-feet',
    severity: 'error',
    file,
    text: longer
      ? 'The coordinates of this list are those of known marks in feet, read as metres.'
      : 'The coordinates of this list are those of known marks in metres, read as feet.',
    effect: 'Its marks lie far from the survey.',
    remedy: 'Choose its unit: by the names of its columns (_ft, _ftus, _m), or when columns are chosen.',
  };
}

function localList(marks: Mark[], pairs: Pair[], file: string): Notice | undefined {
  if (pairs.length < 2) return undefined;
  const apart = ({ mark, known }: Pair) => Math.hypot(mark.eastingM - known.eastingM, mark.northingM - known.northingM);
  if (!pairs.every((p) => apart(p) > FAR_M)) return undefined;
  const [first, ...others] = pairs;
  const length = (a: Mark, b: Mark) => Math.hypot(a.eastingM - b.eastingM, a.northingM - b.northingM);
  const alike = others.every((p) => {
    const there = length(first.known, p.known);
    return there > 1 && Math.abs(length(first.mark, p.mark) / there - 1) < LOCAL_WITHIN;
  });
  if (!alike) return undefined;
  return {
    code: 'marks-local',
    severity: 'warning',
    file,
    text: `The ${marks.length} marks of this list lie ${(apart(first) / 1000).toFixed(0)} km from the survey, but as far from each other as the ${pairs.length} that are known by the same names: they seem to be in a local system.`,
    effect: 'As they are they stand for nothing in the system of the project.',
    remedy: 'Fit the local system to them in Gather, under Systems.',
  };
}

/**
 * A list in one kind of foot for a system that counts in the other; undefined where they go together.
 * @param metresPerUnit of the system.
 */
export function suspectFoot(marks: Mark[], unit: LengthUnit, metresPerUnit: number, file: string): Notice | undefined {
  const system = (['foot', 'usSurveyFoot'] as const).find((u) => Math.abs(metresPerUnit / METRES_PER[u] - 1) < 1e-7);
  if (!system || unit === 'metre' || unit === system) return undefined;
  const farthest = marks.reduce((m, k) => Math.max(m, Math.hypot(k.eastingM, k.northingM)), 0);
  return {
    code: 'marks-foot-kind',
    severity: 'error',
    file,
    text: `The list is in ${UNIT_NAME[unit]}; its system counts in ${UNIT_NAME[system]}: ${(FOOT_KINDS * farthest).toFixed(2)} m apart at these coordinates.`,
    effect: 'Were the list meant in the foot of its system, its marks would be off by that much.',
    remedy: 'Make sure which foot it is in; give it by the names of its columns (_ft, _ftus).',
  };
}
