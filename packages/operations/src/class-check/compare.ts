import { readFile } from 'node:fs/promises';
import { LAS_CLASS, PolygonMask } from '@longheron/core/cloud';
import {
  confusion,
  matchClasses,
  type ClassCheck,
  type ClassedPlaces,
  type MatchedClasses,
} from '@longheron/core/accuracy';
import { part, Problem, tick, type Notice, type Watch } from '@longheron/core/shared';
import { columnsOf, positionsIn, type EditableCloud } from '../shared/stored/cloud';
import { streamPoints } from '../shared/stored/stream';

/** Places are compared to the millimetre, to which they are stored. */
const STEP_M = 0.001;

async function placesOf(cloud: EditableCloud, zero: readonly number[]): Promise<ClassedPlaces> {
  const [bytes, { classes, flags }] = await Promise.all([readFile(cloud.paths.position), columnsOf(cloud)]);
  const raw = positionsIn(bytes, classes.length);
  const by = cloud.origin.map((v, k) => (v - zero[k]) / STEP_M);
  const factor = cloud.scale / STEP_M;
  const xyz = Int32Array.from(raw, (v, i) => Math.round(v * factor + by[i % 3]));
  return { xyz, cls: classes, skip: flags.map((f) => f & 1) };
}

/** How a classification agrees with a reference that holds the same points, or some of them. */
export async function checkClasses(reference: EditableCloud, found: EditableCloud, watch?: Watch): Promise<ClassCheck> {
  tick(watch, 0, 'Reading the clouds');
  const [a, b] = [await placesOf(reference, reference.origin), await placesOf(found, reference.origin)];
  const m = matchClasses(a, b, part(watch, 0.2, 1));
  if (m.matched === 0)
    throw new Problem('The clouds have no point in common.', {
      code: 'classes-apart',
      remedy: 'Compare a cloud with another classification of its own points, or with a part that was cut out of it.',
    });
  return figuresOf(m, { reference: reference.count, found: found.count });
}

/** An area in which all points are of one class: its rings, flat lists in the project's plan. */
export interface SampleArea {
  cls: number;
  rings: number[][];
}

/**
 * How a classification agrees with areas whose class is known. Points in several areas of different classes decide
 * nothing; the cloud is streamed.
 * @throws Problem when no point lies in any.
 */
export async function checkSamples(areas: SampleArea[], found: EditableCloud, watch?: Watch): Promise<ClassCheck> {
  const [e0, n0] = found.origin;
  const within = areas.map(({ cls, rings }) => ({
    cls,
    masks: rings.map((r) => new PolygonMask(r.map((v, i) => v - (i % 2 ? n0 : e0)))),
  }));
  const m: MatchedClasses = { counts: new Float64Array(65536), matched: 0, without: 0, ambiguous: 0 };
  await streamPoints(
    found,
    (b) => {
      for (let i = 0; i < b.count; i++) {
        // noise is a class that may be wrong too; what a person has rejected does not count
        if (b.rejected[i]) continue;
        const [x, y] = [b.xyz[3 * i] * found.scale, b.xyz[3 * i + 1] * found.scale];
        let cls = -1;
        for (const a of within) {
          if (!a.masks.reduce((odd, mask) => odd !== mask.has(x, y), false)) continue;
          cls = cls === -1 || cls === a.cls ? a.cls : TWO;
        }
        if (cls === TWO) m.ambiguous++;
        else if (cls >= 0) {
          m.counts[256 * cls + b.classes[i]]++;
          m.matched++;
        }
      }
    },
    watch,
    'Counting in the areas',
  );
  if (m.matched === 0)
    throw new Problem('No point lies in the areas.', {
      code: 'classes-apart',
      remedy: 'Check that the areas lie on the cloud, in the system of the project.',
    });
  return figuresOf(m, { reference: m.matched + m.ambiguous, found: found.count });
}

const TWO = 256;

function figuresOf(m: MatchedClasses, points: ClassCheck['points']): ClassCheck {
  const classes = Array.from({ length: 256 }, (_, c) => c).filter((c) => {
    for (let k = 0; k < 256; k++) if (m.counts[256 * c + k] || m.counts[256 * k + c]) return true;
    return false;
  });
  const counts = classes.map((r) => classes.map((c) => m.counts[256 * r + c]));
  const { recall, precision, overall } = rates(counts, classes);
  const g = classes.indexOf(LAS_CLASS.ground);
  const sum = (list: number[]) => list.reduce((s, v) => s + v, 0);
  const groundAll = g < 0 ? 0 : sum(counts[g]);
  const asGround = g < 0 ? 0 : sum(counts.map((row) => row[g]));
  const right = g < 0 ? 0 : counts[g][g];
  const share = (n: number, of: number) => (g < 0 || of === 0 ? null : n / of);
  return {
    classes,
    counts,
    recall,
    precision,
    overall,
    typeI: share(groundAll - right, groundAll),
    typeII: share(asGround - right, m.matched - groundAll),
    total: share(groundAll + asGround - 2 * right, m.matched),
    matched: m.matched,
    without: m.without,
    ambiguous: m.ambiguous,
    points,
  };
}

/** Rates of a table that was counted already. */
function rates(counts: number[][], classes: number[]): Pick<ClassCheck, 'recall' | 'precision' | 'overall'> {
  const names = classes.map(String);
  const c = confusion(
    [],
    [],
    { reference: names, found: names },
    classes.map((_, i) => i),
    counts,
  );
  const plain = (v: number) => (Number.isFinite(v) ? v : null);
  return { recall: c.recall.map(plain), precision: c.precision.map(plain), overall: plain(c.overall) };
}

/** What speaks against a comparison, and what it finds. */
export function classNotices(c: ClassCheck): Notice[] {
  const out: Notice[] = [];
  const percent = (v: number) => `${(100 * v).toFixed(1)} %`;
  const share = c.matched / Math.max(1, c.matched + c.without + c.ambiguous);
  if (share < 0.5)
    out.push({
      code: 'classes-few',
      severity: 'warning',
      text: `Only ${percent(share)} of the points of the reference have a partner.`,
      effect: 'The rates hold for these alone.',
      remedy: 'Compare clouds of the same points: neither thinned nor moved.',
    });
  if (c.typeII !== null && c.typeII > 0.05)
    out.push({
      code: 'classes-ground',
      severity: 'warning',
      text: `${percent(c.typeII)} of what is no ground in the reference is called ground.`,
      effect: 'Terrain models lie too high there.',
      remedy: 'Look at these points in section; another terrain type, or the other method, may suit.',
    });
  return out;
}
