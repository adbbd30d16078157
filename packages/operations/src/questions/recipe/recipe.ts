import {
  applyEdits,
  groundGrid,
  RunBuilder,
  type CloudEdit,
  type EditAct,
  type GroundGrid,
  type RecipeStep,
  type Runs,
  type Selection,
} from '@longheron/core/cloud';
import { part, tick, type Watch } from '@longheron/core/shared';
import { classifyPoints } from '../../classify/classify';
import { columnsOf, readPoints, type EditableCloud } from '../../shared/stored/cloud';
import { findRows } from '../find/find';
import { selectRows, type SelectionCount } from '../../shared/stored/select';

/** Settings of a classification as {@link classifyPoints} takes them. */
export type ClassifyHow = Parameters<typeof classifyPoints>[2];

/** An act that a step came to. */
export interface RecipeAct {
  step: number;
  act: EditAct;
  runs: Runs;
  counts: SelectionCount;
}

/** What became of a step: its acts hold these points together. */
export interface RecipeOutcome {
  points: number;
  note: string;
}

/**
 * Does the steps of a recipe to a stored cloud, each on what the ones before left. The cloud itself is not changed: what
 * comes back are the acts. A step that meets no point does nothing.
 * @param classifyHow settings of each step of kind classify. @throws Problem when a step cannot be done.
 */
export async function runRecipe(
  cloud: EditableCloud,
  steps: readonly RecipeStep[],
  classifyHow: (step: Extract<RecipeStep, { kind: 'classify' }>) => ClassifyHow,
  watch?: Watch,
): Promise<{ acts: RecipeAct[]; outcomes: RecipeOutcome[] }> {
  const acts: RecipeAct[] = [];
  const outcomes: RecipeOutcome[] = [];
  const edits: CloudEdit[] = [...cloud.edits];
  for (const [i, step] of steps.entries()) {
    const now: EditableCloud = { ...cloud, edits };
    const inside = part(watch, i / steps.length, (i + 1) / steps.length);
    const { made, note } =
      step.kind === 'classify'
        ? { made: await classifyStep(now, classifyHow(step), inside), note: '' }
        : await actStep(now, step, inside);
    let points = 0;
    for (const { act, runs, counts } of made) {
      if (runs.count === 0) continue;
      acts.push({ step: i, act, runs, counts });
      edits.push({ act, runs });
      points += runs.count;
    }
    outcomes.push({ points, note });
  }
  return { acts, outcomes };
}

type Made = Omit<RecipeAct, 'step'>[];

async function actStep(
  cloud: EditableCloud,
  { selection, act }: Extract<RecipeStep, { kind: 'act' }>,
  watch?: Watch,
): Promise<{ made: Made; note: string }> {
  const { finds, aboveM } = selection;
  const rows: Runs[] = [];
  const notes: string[] = [];
  for (const [k, { finder, settings }] of finds.entries()) {
    const found = await findRows(
      cloud,
      finder,
      settings,
      undefined,
      part(watch, (0.7 * k) / finds.length, (0.7 * (k + 1)) / finds.length),
    );
    rows.push(found.runs);
    if (found.note) notes.push(found.note);
  }
  let ground: GroundGrid | undefined;
  if (aboveM) {
    tick(watch, 0.7, 'Laying the ground');
    const { set, classes, skip } = await readPoints(cloud);
    ground = groundGrid(set, classes, skip);
    // no height above a ground that is not there: such a step meets nothing, and says why
    if (!ground) return { made: [], note: 'The cloud has no ground points.' };
  }
  const whole: Selection = {
    regions: finds.map(({ mode, finder }, k) => ({ mode, shape: { kind: 'rows', object: String(k), name: finder } })),
    inverted: selection.inverted,
    filter: {
      ...selection.filter,
      ...(ground && aboveM
        ? {
            above: {
              object: 'ground',
              cellM: ground.cellM,
              minX: ground.minX,
              minY: ground.minY,
              columns: ground.columns,
              rows: ground.rows,
              rangeM: aboveM,
            },
          }
        : {}),
    },
  };
  const { runs, counts } = await selectRows(cloud, whole, part(watch, 0.75, 1), {
    rows: (object) => rows[Number(object)],
    ground: () => ground!.heightM,
  });
  return { made: [{ act, runs, counts }], note: notes.join(' ') };
}

/** A classification as acts: the points that came to each class, and the strays as rejected. */
async function classifyStep(cloud: EditableCloud, how: ClassifyHow, watch?: Watch): Promise<Made> {
  tick(watch, 0, 'Reading the cloud');
  const { set, classes } = await readPoints(cloud);
  const { flags } = await columnsOf(cloud);
  const withheld = flags.map((f) => f & 1);
  const found = classifyPoints(set, { classification: classes, withheld }, how, part(watch, 0.1, 0.95));
  const to = new Map<number, RunBuilder>();
  const rejected = new RunBuilder();
  for (let i = 0; i < classes.length; i++) {
    const c = found.classification[i];
    if (c !== classes[i]) {
      let rows = to.get(c);
      if (!rows) to.set(c, (rows = new RunBuilder()));
      rows.add(i);
    }
    if (found.withheld[i] && !withheld[i]) rejected.add(i);
  }
  const before = { classes: classes.slice(), flags };
  const made: Made = [];
  const add = (act: EditAct, runs: Runs) => {
    made.push({ act, runs, counts: countRows(runs, before.classes, before.flags) });
    applyEdits([{ act, runs }], 0, before.classes, before.flags);
  };
  for (const [c, rows] of [...to].sort(([a], [b]) => a - b)) add({ kind: 'class', to: c }, rows.finish());
  add({ kind: 'reject' }, rejected.finish());
  return made;
}

function countRows(runs: Runs, classes: Uint8Array, flags: Uint8Array): SelectionCount {
  const by = new Float64Array(256);
  let rejected = 0;
  for (let r = 0; r < runs.first.length; r++)
    for (let i = runs.first[r]; i < runs.first[r] + runs.length[r]; i++) {
      by[classes[i]]++;
      rejected += flags[i] & 1;
    }
  const byClass = Object.fromEntries([...by].flatMap((n, c) => (n ? [[String(c), n]] : [])));
  return { count: runs.count, rejected, byClass };
}
